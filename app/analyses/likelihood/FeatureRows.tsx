import { useState } from 'react'
import { featureName } from '../../../core/analyses/likelihood/features.js'
import type { KeptModel } from '../../../core/analyses/likelihood/model.js'
import type { Kept } from '../../../core/analyses/likelihood/question.js'
import { heaviest } from '../../../core/analyses/likelihood/weights.js'
import { featureWords, speaksWords } from '../../../core/analyses/likelihood/words.js'
import { capital, countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import { propertyWords } from '../../../core/words/words.js'
import { FigureTable } from '../../ui/FigureTable.js'
import type { Props } from './props.js'

const SHOWN = 15

/** What weighs most, for and against. */
export function FeatureRows({ words, model }: Props & { model: KeptModel }) {
  const [all, setAll] = useState(false)
  const ranked = heaviest(model)
  const shown = all ? ranked : ranked.slice(0, SHOWN)
  const most = Math.max(1e-9, ...ranked.map(({ pull }) => Math.abs(pull)))
  return (
    <div className="features">
      <FigureTable
        heads={[
          'What it looks at',
          { text: 'speaks for or against', plain: true },
          {
            text: 'odds',
            title:
              'What a standard deviation more, or a yes, makes of the odds of doing it, where all else is the same',
          },
        ]}
        selects={false}
      >
        {shown.map(({ feature, pull }) => (
          <tr key={featureWords(feature, words)}>
            <th scope="row">{capital(featureWords(feature, words))}</th>
            <td>
              <span
                className="pull"
                title={`${speaksWords(feature, true, words)}: ${pull > 0 ? 'likelier' : 'less likely'}`}
              >
                <i
                  className={pull > 0 ? 'for' : 'against'}
                  style={{
                    width: `${(Math.abs(pull) / most) * 50}%`,
                    [pull > 0 ? 'left' : 'right']: '50%',
                  }}
                />
              </span>
            </td>
            <td className="number">× {Math.exp(feature.weight).toFixed(2)}</td>
          </tr>
        ))}
      </FigureTable>
      {ranked.length > SHOWN && (
        <button type="button" className="addition" onClick={() => setAll(!all)}>
          {all ? 'Only those that weigh most' : `Show all ${formatNumber(ranked.length)}`}
        </button>
      )}
      <p className="hint">
        Right: the more of it, the likelier; left: the less likely. Those that go together share their weight.
      </p>
    </div>
  )
}

/** What is not looked at, as it may know what came after, with the way to look at it all the same. */
export function LeftOut({ question, words, edit, model }: Props & { model: KeptModel }) {
  const { leaks, late } = model.out
  const keep = (kept: Kept) => edit?.({ ...question, keep: [...(question.keep ?? []), kept] })
  if (leaks.length + late.length === 0) return <p className="soft pad">Nothing had to be left out.</p>
  return (
    <ul className="left-out">
      {leaks.map(({ feature, auc }) => {
        const name = featureName(feature)
        return (
          <li key={featureWords(feature, words)}>
            <strong>{capital(featureWords(feature, words))}</strong> is left out: alone it puts {formatPercent(auc, 1)}{' '}
            of pairs in the right order, so that it may know what came after.{' '}
            {edit && name && (
              <button type="button" className="addition" onClick={() => keep(name)}>
                Look at it all the same
              </button>
            )}
          </li>
        )
      })}
      {late.map(({ property, people }) => (
        <li key={property}>
          <strong>{propertyWords({ of: 'person', name: property }, words)}</strong> of{' '}
          {countOf(people, 'person', 'people')} came after the cut-off without a time of its own.{' '}
          {edit && (
            <button type="button" className="addition" onClick={() => keep({ property })}>
              Look at it all the same
            </button>
          )}
        </li>
      ))}
    </ul>
  )
}
