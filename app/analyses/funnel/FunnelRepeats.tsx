import type { FunnelResult, RepeatsResult } from '../../../core/analyses/funnel/finish.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import type { Mark } from '../../../core/questions/parts.js'
import { countOf, formatNumber, formatPercent } from '../../../core/words/format.js'
import type { BodyProps } from '../view.js'

/** How often each step's event was done before people went on. */
export function FunnelRepeats(props: BodyProps<FunnelQuestion, FunnelResult> & { repeats: RepeatsResult[] }) {
  const { question, result, words, selected, onSelect, repeats } = props
  return (
    <div className="funnel-form repeats">
      {repeats.map(({ step, people, bars, mean }) => (
        <section key={step}>
          <h3>
            {stepName(question, step, words)}{' '}
            <span className="soft">
              before going on
              {mean !== null &&
                ` · ${mean.toFixed(1)} times on the average, of ${countOf(people, result.counts === 'people' ? 'person' : 'attempt', result.counts)}`}
            </span>
          </h3>
          {people === 0 && <p className="soft">Nobody went on from here.</p>}
          <ul className="share-rows">
            {bars.map((bar) => {
              const mark: Mark = { kind: 'repeats', step, times: bar.times, ...(bar.more ? { more: true } : {}) }
              return (
                <ShareRow
                  key={bar.times}
                  name={bar.times === 1 ? 'once' : `${bar.times} times${bar.more ? ' or more' : ''}`}
                  part={bar.people}
                  whole={people}
                  chosen={selected.some((other) => JSON.stringify(other) === JSON.stringify(mark))}
                  onPress={onSelect && bar.people > 0 ? (add) => onSelect(mark, add) : undefined}
                />
              )
            })}
          </ul>
        </section>
      ))}
    </div>
  )
}

/** A name, a bar, a number of people that can be pressed, and its share. */
export function ShareRow(props: {
  name: React.ReactNode
  note?: React.ReactNode
  part: number
  whole: number
  chosen: boolean
  onPress?: ((add: boolean) => void) | undefined
}) {
  const { name, note, part, whole, chosen, onPress } = props
  const share = whole > 0 ? part / whole : null
  return (
    <li className="share-row">
      <span className="share-name">
        {name}
        {note && <span className="soft">{note}</span>}
      </span>
      <span className="share-bar">
        <span className="bar" style={{ width: `${(share ?? 0) * 100}%` }} />
      </span>
      {onPress ? (
        <button
          type="button"
          className="figure-button"
          aria-pressed={chosen}
          onClick={(event) => onPress(event.shiftKey || event.ctrlKey || event.metaKey)}
        >
          {formatNumber(part)}
        </button>
      ) : (
        <span className="figure-button">{formatNumber(part)}</span>
      )}
      <span className="number soft">{formatPercent(share)}</span>
    </li>
  )
}
