import { useState } from 'react'
import type { TippingResult } from '../../../core/analyses/tipping/finish.js'
import {
  MOST_DAYS,
  MOST_OPENED,
  MOST_PERIOD,
  MOST_TIMES,
  tippingUnits,
  type OpenedEvent,
  type Outcome,
  type TippingQuestion,
} from '../../../core/analyses/tipping/question.js'
import { openedWords, outcomeWords } from '../../../core/analyses/tipping/words.js'
import { eventWords } from '../../../core/words/words.js'
import { Chips } from '../../editors/Chips.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { put, unlessEmpty } from '../../editors/put.js'
import { filtered, StartEditor } from '../../editors/StartEditor.js'
import { useWorkspace } from '../../page/workspace.js'
import { Segmented } from '../../ui/Segmented.js'
import type { EditorProps } from '../view.js'

type Props = EditorProps<TippingQuestion, TippingResult>

/** The editors of the tokens of a tipping point. */
export function TippingEditor(props: Props) {
  const { token, question, edit, close } = props
  switch (token) {
    case 'goal':
      return (
        <EventPicker
          value={question.goal.event}
          onChoose={(event) => {
            edit({ ...question, goal: 'activity' in event ? { event } : { ...question.goal, event } })
            close()
          }}
        />
      )
    case 'where goal':
      return (
        <FilterEditor
          events={[question.goal.event]}
          value={question.goal.where}
          onChange={(where, how) => edit({ ...question, goal: filtered(question.goal, where) }, how)}
        />
      )
    case 'days':
      return (
        <div className="stack">
          <p className="hint">What they do in so many days of 24 hours after the start is looked at.</p>
          <div className="row">
            <NumberField
              label="Days"
              value={question.days}
              min={1}
              max={MOST_DAYS}
              whole
              autoFocus
              onChange={(days) => edit({ ...question, days }, 'type')}
            />
            <span>days</span>
          </div>
        </div>
      )
    case 'outcome':
      return <OutcomeEditor {...props} />
    case 'leftOut':
      return <LeftOutEditor {...props} />
    case 'open':
      return <ValuesEditor {...props} />
    case 'count':
      return (
        <div className="stack">
          <Segmented
            label="What is counted"
            value={question.count ?? 'times'}
            options={[
              { value: 'times', label: 'How often' },
              { value: 'days', label: 'On how many days' },
            ]}
            onChange={(value) => edit(put(question, 'count', value === 'days' ? 'days' : undefined))}
          />
          <p className="hint">Days are local ones: what is done ten times on one day counts once.</p>
        </div>
      )
    default:
      return <StartEditor {...props} />
  }
}

/** What may follow: back in a period, or from it on; or done within days after the first days. */
function OutcomeEditor({ question, edit }: Props) {
  const { outcome } = question
  const set = (next: Outcome, how?: 'type') => edit({ ...question, outcome: next }, how)
  const isPeriod = 'unit' in outcome
  return (
    <div className="stack">
      <Segmented
        label="What may follow"
        value={isPeriod ? (outcome.from ? 'from' : 'in') : 'within'}
        options={[
          { value: 'in', label: 'In a period' },
          { value: 'from', label: 'From one on' },
          { value: 'within', label: 'Within days' },
        ]}
        onChange={(value) => {
          if (value === 'within') return set({ days: 30 })
          const { from: _from, ...rest } = isPeriod ? outcome : { unit: 'week' as const, period: 4, from: undefined }
          set(value === 'from' ? { ...rest, from: true } : rest)
        }}
      />
      {isPeriod ? (
        <>
          <div className="row">
            <Segmented
              label="Unit"
              value={outcome.unit}
              options={tippingUnits.map((unit) => ({ value: unit, label: unit }))}
              onChange={(unit) => set({ ...outcome, unit })}
            />
            <NumberField
              label="Period"
              value={outcome.period}
              min={1}
              max={MOST_PERIOD}
              whole
              onChange={(period) => set({ ...outcome, period }, 'type')}
            />
          </div>
          <Segmented
            label="Counted"
            value={outcome.by ?? 'calendar'}
            options={[
              { value: 'calendar', label: 'By the calendar' },
              { value: 'clock', label: 'From the very moment' },
            ]}
            onChange={(by) => {
              const { by: _by, ...rest } = outcome
              set(by === 'clock' ? { ...rest, by } : rest)
            }}
          />
        </>
      ) : (
        <div className="row">
          <NumberField
            label="Times at least"
            value={outcome.times ?? 1}
            min={1}
            max={MOST_TIMES}
            whole
            onChange={(times) => set({ days: outcome.days, ...(times > 1 ? { times } : {}) }, 'type')}
          />
          <span>times or more, within</span>
          <NumberField
            label="Days thereafter"
            value={outcome.days}
            min={1}
            max={366}
            whole
            onChange={(days) => set({ ...outcome, days }, 'type')}
          />
          <span>days after the first {question.days}</span>
        </div>
      )}
      <p className="hint">
        Who did it {outcomeWords(outcome)} is set against who did not. For whom that is not over yet is not counted.
      </p>
    </div>
  )
}

/** Events that are looked at by their values as well. */
function ValuesEditor({ question, edit, close }: Props) {
  const { words } = useWorkspace()
  const { open = [] } = question
  const [event, setEvent] = useState<string | null>(null)
  const [as, setAs] = useState<'each' | 'different'>('each')
  const set = (next: OpenedEvent[]) => edit(put(question, 'open', unlessEmpty(next)))
  const choice = event === null ? null : { names: [event] }
  return (
    <div className="stack">
      <Segmented
        label="Of its values"
        value={as}
        options={[
          { value: 'each', label: 'Each by itself' },
          { value: 'different', label: 'How many different' },
        ]}
        onChange={setAs}
      />
      <Chips
        items={open.map((each, index) => ({ key: String(index), label: openedWords(each, words) }))}
        verb="Close"
        onRemove={(index) => set(open.toSpliced(index, 1))}
      />
      {open.length >= MOST_OPENED ? (
        <p className="hint">{MOST_OPENED} at most: close one to choose another.</p>
      ) : choice ? (
        <>
          <p className="hint">By which of the values of {eventWords(choice, words)}?</p>
          <PropertyPicker
            events={[choice]}
            value={null}
            only="event"
            onChoose={({ property }) => {
              if (property.of !== 'event') return
              set([...open, { event: choice, by: property, ...(as === 'different' ? { as } : {}) }])
              close()
            }}
          />
        </>
      ) : (
        <EventPicker value={null} activity={false} onChoose={(found) => 'names' in found && setEvent(found.names[0])} />
      )}
    </div>
  )
}

function LeftOutEditor({ question, result, edit }: Props) {
  const { words } = useWorkspace()
  const { leftOut = [] } = question
  const name = (event: string) => eventWords({ names: [event] }, words)
  const set = (next: string[]) => edit(put(question, 'leftOut', unlessEmpty(next)))
  const others = (result?.behaviours ?? []).filter(({ event, by }) => by === undefined && !leftOut.includes(event))
  return (
    <div className="stack">
      <p className="hint">What is known to say nothing is not looked at.</p>
      <Chips
        items={leftOut.map((event) => ({ key: event, label: name(event) }))}
        verb="Bring back"
        onRemove={(index) => set(leftOut.toSpliced(index, 1))}
      />
      <OptionList
        label="Leave out"
        search="Search"
        options={others.map(({ event }) => ({ key: event, value: event, label: name(event), chosen: false }))}
        onChoose={(event) => set([...leftOut, event])}
      />
    </div>
  )
}
