import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import { useState } from 'react'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import type { BetweenResult } from '../../../core/analyses/funnel/lookResult.js'
import { MOST_STEPS, type FunnelQuestion, type FunnelStep } from '../../../core/analyses/funnel/question.js'
import { stepName } from '../../../core/analyses/funnel/sentence.js'
import { withSteps } from '../../../core/analyses/funnel/steps.js'
import { suggestedSteps } from '../../../core/analyses/funnel/suggest.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { countOf, formatPercent } from '../../../core/words/format.js'
import { eventWords } from '../../../core/words/words.js'
import type { BodyProps } from '../view.js'
import { ShareRow } from './ShareRow.js'

/** What people who got through did between, to make steps of; and whole sequences, to make a funnel of. */
export function FunnelBetween(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark> & { between: BetweenResult }) {
  const { question, words, edit, selected, onSelect, between } = props
  const [events, setEvents] = useState<readonly string[]>([])
  const [rows, setRows] = useState<readonly number[]>([])
  const { steps } = question
  const name = (event: string) => eventWords({ names: [event] }, words)
  const toggle = <T,>(list: readonly T[], item: T) =>
    list.includes(item) ? list.filter((other) => other !== item) : [...list, item]
  const isChosen = amongMarks(selected)
  // Of more than a funnel can hold, the goal stays.
  const use = (next: FunnelStep[]) =>
    edit?.(withSteps(question, next.length > MOST_STEPS ? [...next.slice(0, MOST_STEPS - 1), next.at(-1)!] : next))
  const [start, goal] = [stepName(question, 0, words), stepName(question, steps.length - 1, words)]
  if (between.people === 0)
    return (
      <p className="soft pad">
        Nobody got from {start} to {goal}, so nothing lies between.
      </p>
    )
  return (
    <div className="funnel-form two-columns">
      <section>
        <h3>
          Between {start} and {goal} <span className="soft">in the order they usually come</span>
        </h3>
        {between.events.length === 0 && <p className="soft">They did nothing else on the way.</p>}
        <ul className="share-rows checked">
          {between.events.map(({ event, people }) => (
            <ShareRow
              key={event}
              name={
                <label className="check-name">
                  {edit && (
                    <Checkbox
                      size="small"
                      checked={events.includes(event)}
                      onChange={() => setEvents(toggle(events, event))}
                    />
                  )}
                  {name(event)}
                </label>
              }
              part={people}
              whole={between.people}
              chosen={isChosen({ kind: 'way', events: [event], only: true })}
              onPress={onSelect && ((add) => onSelect({ kind: 'way', events: [event], only: true }, add))}
            />
          ))}
        </ul>
        {edit && between.events.length > 0 && (
          <Button
            variant="contained"
            disabled={events.length === 0}
            onClick={() => use(suggestedSteps(steps, between, events))}
          >
            {events.length > 1 ? `Take these ${events.length} as steps` : 'Take it as a step'}
          </Button>
        )}
      </section>
      <section>
        <h3>
          Commonest ways <span className="soft">of {countOf(between.people, 'person', 'people')} who got through</span>
        </h3>
        <ol className="ways">
          {between.sequences.slice(0, 12).map((sequence, i) => {
            const mark: FunnelMark = { kind: 'way', events: sequence.events }
            return (
              <li key={i}>
                <label className="check-name">
                  {edit && (
                    <Checkbox size="small" checked={rows.includes(i)} onChange={() => setRows(toggle(rows, i))} />
                  )}
                  <span>
                    {sequence.events.length === 0 ? <em>straight away</em> : sequence.events.map(name).join(' › ')}
                  </span>
                </label>
                <button
                  type="button"
                  className="figure-button"
                  disabled={!onSelect}
                  aria-pressed={isChosen(mark)}
                  onClick={(event) => onSelect?.(mark, event.shiftKey || event.ctrlKey || event.metaKey)}
                >
                  {formatPercent(sequence.people / between.people)}
                </button>
              </li>
            )
          })}
        </ol>
        {edit && (
          <Button
            variant="contained"
            disabled={rows.length === 0}
            onClick={() => use(fromSequences(steps, between, rows))}
          >
            Make a funnel of {rows.length > 1 ? `these ${rows.length} ways` : 'this way'}
          </Button>
        )}
        {edit && rows.length > 1 && <p className="hint">What is not in all of them becomes an optional step.</p>}
      </section>
    </div>
  )
}

/** Start and goal with all events of the chosen ways between; those not in all of them are optional. */
function fromSequences(steps: readonly FunnelStep[], between: BetweenResult, rows: readonly number[]): FunnelStep[] {
  const chosen = rows.map((row) => between.sequences[row].events)
  const ends = [steps[0], steps.at(-1)!]
  const names = [...new Set(chosen.flat())]
  const inAll = new Set(names.filter((event) => chosen.every((events) => events.includes(event))))
  return suggestedSteps(ends, between, names, (event) => !inAll.has(event), chosen[0])
}
