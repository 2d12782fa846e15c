import type { FunnelResult, RepeatsResult } from '../../../core/analyses/funnel/finish.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import { hasMark } from '../../../core/questions/marks.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { countOf } from '../../../core/words/format.js'
import type { BodyProps } from '../view.js'
import { ShareRow } from './ShareRow.js'

/** How often each step's event was done before people went on. */
export function FunnelRepeats(
  props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { repeats: RepeatsResult[] },
) {
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
                ` · ${mean.toFixed(1)} times on average, of ${countOf(people, result.counts === 'people' ? 'person' : 'attempt', result.counts)}`}
            </span>
          </h3>
          {people === 0 && <p className="soft">Nobody went on from here.</p>}
          <ul className="share-rows">
            {bars.map((bar) => {
              const mark: FunnelMark = { kind: 'repeats', step, times: bar.times, ...(bar.more ? { more: true } : {}) }
              return (
                <ShareRow
                  key={bar.times}
                  name={bar.times === 1 ? 'once' : `${bar.times} times${bar.more ? ' or more' : ''}`}
                  part={bar.people}
                  whole={people}
                  chosen={hasMark(selected, mark)}
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
