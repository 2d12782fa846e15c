import type { Behaviour, TippingResult } from '../../../core/analyses/tipping/finish.js'
import type { TippingMark } from '../../../core/analyses/tipping/marks.js'
import { doneKey, doneOf, MOST_TIMES, type TippingQuestion } from '../../../core/analyses/tipping/question.js'
import { doneWords, oftenWords, outcomeWords, pWords } from '../../../core/analyses/tipping/words.js'
import { hasMark } from '../../../core/questions/marks.js'
import { SMALL } from '../../../core/stats/small.js'
import { wilson } from '../../../core/stats/proportion.js'
import { countOf, formatNumber, formatPercent, MISSING } from '../../../core/words/format.js'
import { eventWords } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { PeopleCell } from '../../ui/PeopleCell.js'
import { CloserLook } from './CloserLook.js'
import type { Props } from './props.js'

/** The behaviour that is opened: the one chosen, else the first that tells anything. */
export const openOf = ({ show }: TippingQuestion, { behaviours }: TippingResult): Behaviour | undefined =>
  behaviours.find((each) => doneKey(each) === show.open) ?? behaviours.find(({ trivial }) => !trivial)

/** One behaviour: what part the outcome came for by how often just, and people by count and outcome. */
export function OpenedBehaviour(props: Props) {
  const { question, result, words, selected, onSelect } = props
  const behaviour = openOf(question, result)
  if (!behaviour) return null
  const { exactly, counts, best } = behaviour
  const { times, people, came, lift, recall, rate, p } = counts[best ?? 0]
  const name = doneWords(behaviour, words)
  const often = (n: number) => oftenWords(n, question)
  const goal = eventWords(question.goal.event, words)
  const outcome = `${goal} ${outcomeWords(question.outcome)}`
  const mark = (more: Partial<TippingMark>): TippingMark => ({ kind: 'early', ...doneOf(behaviour), ...more })
  const others = { people: result.base - people, came: result.came - came }
  const cells = [
    { head: `${often(times)} or more`, of: { people, came }, which: { times } },
    { head: 'less often, or never', of: others, which: { times, not: true as const } },
  ]
  return (
    <div className="opened-behaviour" data-table="">
      <figure>
        <figcaption>
          <strong>{name}</strong>: what part did {outcome}, by how often just
        </figcaption>
        <div className="by-count">
          {exactly.map((each, n) => {
            if (each.people === 0) return null
            const part = each.came / each.people
            const between = wilson(each.came, each.people)!
            const own = mark({ exactly: n })
            const label = n === MOST_TIMES ? `${n}+` : String(n)
            const title = `${n === 0 ? 'Never' : `Just ${often(n)}${n === MOST_TIMES ? ' or more' : ''}`}: ${formatNumber(each.came)} of ${countOf(each.people, 'person', 'people')}, ${formatPercent(part)} (95 %: ${formatPercent(between.low, 0)} to ${formatPercent(between.high, 0)})`
            return (
              <button
                key={n}
                type="button"
                className={`count-bar${each.people < SMALL ? ' few' : ''}${n >= times ? ' reached' : ''}`}
                title={title}
                aria-pressed={hasMark(selected, own)}
                disabled={!onSelect}
                onClick={(press) => onSelect?.(own, press.shiftKey || press.ctrlKey || press.metaKey)}
              >
                <span className="bar-space" aria-hidden="true">
                  <i style={{ height: `${part * 100}%` }} />
                  <b style={{ bottom: `${between.low * 100}%`, height: `${(between.high - between.low) * 100}%` }} />
                </span>
                <span aria-hidden="true">{label}</span>
                <span className="sr-only">{title}</span>
              </button>
            )
          })}
        </div>
        <p className="hint">0 % to 100 %, with 95 % intervals. Paler: fewer than {SMALL} people.</p>
      </figure>
      <div>
        <table className="numbers two-by-two" role={onSelect ? 'grid' : undefined} onKeyDown={moveInTable}>
          <thead>
            <tr>
              <th scope="col">{name}</th>
              <th scope="col" className="number">
                {goal}
              </th>
              <th scope="col" className="number">
                not
              </th>
              <th scope="col" className="number">
                all
              </th>
            </tr>
          </thead>
          <tbody>
            {cells.map(({ head, of, which }, row) => (
              <tr key={head}>
                <th scope="row">{head}</th>
                <PeopleCell {...{ selected, onSelect }} mark={of.came > 0 ? mark({ ...which, outcome: 'came' }) : null}>
                  {formatNumber(of.came)}
                </PeopleCell>
                <PeopleCell
                  {...{ selected, onSelect }}
                  mark={of.people > of.came ? mark({ ...which, outcome: 'did not come' }) : null}
                >
                  {formatNumber(of.people - of.came)}
                </PeopleCell>
                <PeopleCell {...{ selected, onSelect }} first={row === 0} mark={of.people > 0 ? mark(which) : null}>
                  {formatNumber(of.people)}
                </PeopleCell>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="hint">
          Precision {formatPercent(rate, 0)} (of those who reached it), recall {formatPercent(recall, 0)} (of all it
          came for), lift {lift === null ? MISSING : lift.toFixed(2)}, p {p === null ? MISSING : pWords(p)} adjusted.
        </p>
      </div>
      <CloserLook {...props} behaviour={behaviour} />
    </div>
  )
}
