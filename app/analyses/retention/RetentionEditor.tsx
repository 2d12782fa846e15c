import Button from '@mui/material/Button'
import { useState } from 'react'
import type { RetentionResult } from '../../../core/analyses/retention/finish.js'
import {
  backOf,
  cumulates,
  isOfProperty,
  MOST_PERIODS,
  retentionUnits,
  type RetentionMeasure,
  type RetentionQuestion,
} from '../../../core/analyses/retention/question.js'
import { whenWords } from '../../../core/analyses/retention/sentence.js'
import { eventWords } from '../../../core/words/words.js'
import { BreakdownsEditor } from '../../editors/BreakdownsEditor.js'
import { EventPicker } from '../../editors/EventPicker.js'
import { FilterEditor } from '../../editors/FilterEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { PropertyPicker } from '../../editors/PropertyPicker.js'
import { filtered, StartEditor } from '../../editors/StartEditor.js'
import { useWorkspace } from '../../page/workspace.js'
import type { EditorProps } from '../view.js'
import { BracketsEditor } from './BracketsEditor.js'
import { put } from '../../editors/put.js'
import { withMeasure } from './changes.js'

const MEASURES: { value: RetentionMeasure; label: string; note: string }[] = [
  { value: 'share', label: 'share of people', note: 'Of those who started, how many came back.' },
  { value: 'people', label: 'people', note: 'How many came back.' },
  { value: 'events', label: 'times', note: 'How often they did it.' },
  { value: 'events per person', label: 'times per returning person', note: 'How often each who came back did it.' },
  { value: 'sum', label: 'sum of a property', note: 'Money, time, distance: what they brought in each period.' },
  {
    value: 'per person',
    label: 'sum per person who started',
    note: 'Also over those who did not come back; added up, the lifetime value.',
  },
]

/** The editors of a retention's tokens. */
export function RetentionEditor(props: EditorProps<RetentionQuestion, RetentionResult>) {
  const { token, question, result, edit, close } = props
  const { words } = useWorkspace()
  const choose = (next: RetentionQuestion) => {
    edit(next)
    close()
  }
  const back = backOf(question)
  switch (token.replace(/ \d+$/, '')) {
    case 'first':
      return (
        <OptionList
          label="Which start"
          options={[
            {
              ...{ key: 'first', label: 'first', value: undefined, chosen: !question.first },
              note: 'Each person’s first in the time asked about, whatever came before.',
            },
            {
              ...{ key: 'ever', label: 'first ever', value: true as const, chosen: question.first === true },
              note: 'Only new people: those whose very first lies in the time asked about.',
            },
          ]}
          onChoose={(first) => choose(put(question, 'first', first))}
        />
      )
    case 'back':
      return <BackEditor {...props} />
    case 'where back':
      return (
        <FilterEditor
          events={[back.event]}
          value={question.back?.where}
          onChange={(where, how) =>
            // Without a filter of its own, doing the start again is just that.
            edit(where || question.back ? { ...question, back: filtered({ event: back.event }, where) } : question, how)
          }
        />
      )
    case 'every':
      return (
        <OptionList
          label="People who started in the same"
          options={retentionUnits.map((unit) => ({
            key: unit,
            label: unit,
            value: unit,
            chosen: unit === question.every,
          }))}
          onChoose={(every) => choose({ ...question, every })}
        />
      )
    case 'measure':
      return (
        <div className="stack">
          <OptionList
            label="What stands in a cell"
            options={MEASURES.map(({ value, label, note }) => ({
              ...{ key: value, label, note, value },
              chosen: value === (question.measure ?? 'share'),
            }))}
            onChoose={(measure) => {
              const next = withMeasure(question, measure)
              // What is summed is chosen next: here, where the measure is.
              if (isOfProperty(measure) && !next.of) edit(next)
              else choose(next)
            }}
          />
          {isOfProperty(question.measure) && !question.of && (
            <PropertyPicker
              events={[back.event]}
              value={null}
              kind="number"
              onChoose={({ property }) => choose({ ...question, of: property })}
            />
          )}
        </div>
      )
    case 'of':
      return (
        <PropertyPicker
          events={[back.event]}
          value={question.of ?? null}
          kind="number"
          onChoose={({ property }) => choose({ ...question, of: property })}
        />
      )
    case 'when':
    case 'onward':
      return <WhenEditor question={question} result={result} edit={edit} close={close} token={token} />
    case 'brackets':
      return (
        <BracketsEditor
          value={question.brackets}
          onChange={(brackets, how) => edit(put(question, 'brackets', brackets), how)}
          close={close}
        />
      )
    case 'by':
      return (
        <OptionList
          label="Periods are counted"
          options={[
            {
              ...{ key: 'calendar', label: 'by the calendar', value: undefined, chosen: !question.by },
              note: 'Calendar periods after the one of the start: Mondays, first days of months.',
            },
            {
              ...{
                key: 'clock',
                label: 'from the very moment',
                value: 'clock' as const,
                chosen: question.by === 'clock',
              },
              note: 'Spans of 60 minutes, 24 hours, 7 × 24 hours or 30 × 24 hours after each person’s own start.',
            },
          ]}
          onChoose={(by) => choose(put(question, 'by', by))}
        />
      )
    case 'breakdown':
      return (
        <div className="stack">
          <p className="hint">
            A property of the event is read at the start: at {eventWords(question.start.event, words)}.
          </p>
          <BreakdownsEditor
            token={token}
            events={[question.start.event]}
            value={question.breakdowns}
            found={(result?.groups ?? []).map(({ key }) => key)}
            onChange={(breakdowns, how) => edit(put(question, 'breakdowns', breakdowns), how)}
            onDone={close}
          />
        </div>
      )
    default:
      return <StartEditor {...props} />
  }
}

/** What counts as coming back: the start again, or something else. */
function BackEditor({ question, edit, close }: EditorProps<RetentionQuestion>) {
  const { words } = useWorkspace()
  return (
    <div className="stack">
      {question.back && (
        <Button
          variant="outlined"
          onClick={() => {
            edit(put(question, 'back', undefined))
            close()
          }}
        >
          The same again: {eventWords(question.start.event, words)}
        </Button>
      )}
      <EventPicker
        value={question.back?.event ?? null}
        onChoose={(event) => {
          edit({ ...question, back: { ...question.back, event } })
          close()
        }}
      />
    </div>
  )
}

/** In the period or from it on, up to which one, and added up or not. */
function WhenEditor({ question, result, edit, close }: EditorProps<RetentionQuestion, RetentionResult>) {
  const [last] = useState(question.upTo ?? (result && !question.brackets ? result.periods.length - 1 : 12))
  const { every, brackets, cumulated, count } = question
  const unit = brackets ? 'span' : every
  const set = (next: RetentionQuestion) => {
    edit(next)
    close()
  }
  return (
    <div className="stack">
      <OptionList
        label="When they count"
        options={[
          {
            ...{ key: 'in', label: `in each ${unit}`, value: 'in', chosen: !count && !cumulated },
            note: 'They came back in the very period.',
          },
          {
            ...{ key: 'from', label: `in it or later`, value: 'from', chosen: count === 'from' },
            note: 'They came back in the period or at any time after it, up to now: not gone yet.',
          },
          ...(cumulates(question.measure)
            ? [
                {
                  ...{ key: 'by', label: `by the end of it`, value: 'by', chosen: cumulated === true },
                  note: 'Added up from the start on.',
                },
              ]
            : []),
        ]}
        onChoose={(value) => {
          const { count: _count, cumulated: _cumulated, ...plain } = question
          set({ ...plain, ...(value === 'from' ? { count: 'from' } : value === 'by' ? { cumulated: true } : {}) })
        }}
      />
      {!brackets && (
        <fieldset>
          <legend>Up to {every}</legend>
          <NumberField
            label={`Up to which ${every}`}
            value={question.upTo ?? last}
            min={1}
            max={MOST_PERIODS}
            whole
            onChange={(upTo) => edit({ ...question, upTo }, 'type')}
          />
          {question.upTo !== undefined && (
            <Button size="small" onClick={() => edit(put(question, 'upTo', undefined))}>
              As many as there are cohorts
            </Button>
          )}
        </fieldset>
      )}
      {brackets && (
        <BracketsEditor
          value={brackets}
          onChange={(next, how) => edit(put(question, 'brackets', next), how)}
          close={close}
        />
      )}
      <p className="hint">Now: {whenWords(question)}.</p>
    </div>
  )
}
