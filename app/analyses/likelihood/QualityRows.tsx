import type { LikelihoodMark } from '../../../core/analyses/likelihood/marks.js'
import type { KeptModel, Tenth, Told } from '../../../core/analyses/likelihood/model.js'
import { cutsOf } from '../../../core/analyses/likelihood/question.js'
import { slicesOf } from '../../../core/analyses/likelihood/slices.js'
import { chanceWords, partWords } from '../../../core/analyses/likelihood/words.js'
import { capital, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { groupWords, propertyWords } from '../../../core/words/words.js'
import { FigureTable } from '../../ui/FigureTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import type { Props } from './props.js'

const nameOf = (place: number) =>
  place === 0 ? 'The likeliest tenth' : place === 9 ? 'The least likely tenth' : `Tenth ${place + 1}`

/** What happened in each tenth, with its interval, and what had been foretold. */
export function TenthBars({ tenths, people }: { tenths: readonly Tenth[]; people: number }) {
  const most = Math.max(0.01, ...tenths.map(({ happened, foretold }) => Math.max(happened?.high ?? 0, foretold)))
  const at = (share: number) => `${(share / most) * 100}%`
  return (
    <figure className="tenths">
      <figcaption>
        What part did it, by tenths of {formatNumber(people)} people it was not trained on; the notch is what had been
        foretold
      </figcaption>
      {tenths.map(({ people: own, did, foretold, happened }, place) => (
        <div
          key={place}
          className="tenth"
          title={
            own === 0
              ? undefined
              : `${formatNumber(did)} of ${formatNumber(own)}, ${chanceWords(did / own)}${happened ? ` (95 %: ${chanceWords(happened.low)} to ${chanceWords(happened.high)})` : ''}; foretold: ${chanceWords(foretold)}`
          }
        >
          <span className="tenth-name">{nameOf(place)}</span>
          <span className="tenth-bar" aria-hidden="true">
            {own > 0 && happened && (
              <>
                <i style={{ width: at(did / own) }} />
                <b style={{ left: at(happened.low), width: at(happened.high - happened.low) }} />
                <u style={{ left: at(foretold) }} />
              </>
            )}
          </span>
          <span className="number">{own > 0 ? chanceWords(did / own) : MISSING}</span>
        </div>
      ))}
    </figure>
  )
}

export function TenthRows({ tenths }: { tenths: readonly Tenth[] }) {
  return (
    <FigureTable
      heads={[
        'Tenth',
        'people',
        'did it',
        'rate',
        '95 %',
        'foretold',
        { text: 'lift', title: 'Its rate divided by that of all' },
      ]}
      selects={false}
    >
      {tenths.map(({ people, did, foretold, happened, lift }, place) => (
        <tr key={place}>
          <th scope="row">{nameOf(place)}</th>
          <td className="number">{formatNumber(people)}</td>
          <td className="number">{formatNumber(did)}</td>
          <td className="number">{people > 0 ? chanceWords(did / people) : MISSING}</td>
          <td className="number no-wrap">
            {happened ? `${chanceWords(happened.low)} to ${chanceWords(happened.high)}` : MISSING}
          </td>
          <td className="number">{people > 0 ? chanceWords(foretold) : MISSING}</td>
          <td className="number">{lift === null ? MISSING : `${lift.toFixed(1)} ×`}</td>
        </tr>
      ))}
    </FigureTable>
  )
}

/** How good it is among people of each large group. */
export function GroupRows({ groups, all, words }: Props & { groups: Told['groups']; all: Told }) {
  if (groups.length === 0) return null
  const row = (name: string, { people, did, auc }: Pick<Told, 'people' | 'did' | 'auc'>) => (
    <tr key={name}>
      <th scope="row">{name}</th>
      <td className="number">{formatNumber(people)}</td>
      <td className="number">{formatNumber(did)}</td>
      <td className="number">{auc ? formatPercent(auc.value, 0) : MISSING}</td>
      <td className="number no-wrap">
        {auc ? `${formatPercent(auc.low, 0)} to ${formatPercent(auc.high, 0)}` : MISSING}
      </td>
    </tr>
  )
  return (
    <FigureTable heads={['Among', 'people', 'did it', 'pairs in order', '95 %']} selects={false}>
      {row('Everybody', all)}
      {groups.map((group) =>
        row(
          `${propertyWords({ of: 'person', name: group.property }, words)}: ${groupWords({ value: group.value })}`,
          group,
        ),
      )}
    </FigureTable>
  )
}

/** The parts that cuts make of everybody. */
export function SliceRows(props: Props & { scored: NonNullable<Props['result']['scored']>; model: KeptModel }) {
  const { question, scored, model, selected, onSelect } = props
  return (
    <FigureTable
      heads={[
        'Part',
        'people',
        { text: 'expected', title: 'How many of them are expected to do it: their likelihoods added up' },
        { text: 'each at least', title: 'The least likely one’s likelihood' },
        {
          text: 'held last time',
          title: 'Of all who did it among those the model was told of, what part stood in this part',
        },
      ]}
      selects={onSelect !== undefined}
    >
      {slicesOf(scored, model, cutsOf(question)).map(({ from, to, people, expected, lowest, caught }, i) => {
        const mark: LikelihoodMark = { kind: 'likely', from, to }
        return (
          <tr key={from}>
            <th scope="row">{capital(partWords({ from, to }))}</th>
            <PeopleCell {...{ selected, onSelect }} first={i === 0} mark={people > 0 ? mark : null}>
              {formatNumber(people)}
            </PeopleCell>
            <td className="number">{formatNumber(Math.round(expected * 10) / 10)}</td>
            <td className="number">{chanceWords(lowest)}</td>
            <td className="number">{caught === null ? MISSING : formatPercent(caught, 0)}</td>
          </tr>
        )
      })}
    </FigureTable>
  )
}
