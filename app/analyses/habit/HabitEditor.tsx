import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import {
  habitPeriods,
  HABIT_UNITS,
  type HabitPeriod,
  type HabitQuestion,
} from '../../../core/analyses/habit/question.js'
import type { HabitResult } from '../../../core/analyses/habit/finish.js'
import { periodPhrase } from '../../../core/analyses/habit/words.js'
import { PeopleBreakdowns } from '../../editors/BreakdownsEditor.js'
import { NumberField } from '../../editors/NumberField.js'
import { OptionList } from '../../editors/OptionList.js'
import { StartEditor } from '../../editors/StartEditor.js'
import { UsageHint } from '../../editors/UsageHint.js'
import type { EditorProps } from '../view.js'

const NOTES: Record<HabitPeriod, string> = {
  day: 'For what is used many times a day.',
  week: 'For what is used on most days.',
  month: 'For what is used every few days.',
  '4 weeks': 'For what is used weekly.',
  '8 weeks': 'For what is used weekly, over a longer time.',
}

/** The editors of a habit's tokens. */
export function HabitEditor(props: EditorProps<HabitQuestion, HabitResult>) {
  const { token, question, edit, close } = props
  const { start, core, period } = question
  switch (token.replace(/ \d+$/, '')) {
    case 'period': {
      const set = (next: HabitPeriod) => {
        edit(inPeriod(question, next))
        close()
      }
      return (
        <div className="stack">
          <OptionList
            label="How many of what"
            options={habitPeriods.map((value) => ({
              ...{ key: value, value, note: NOTES[value], chosen: value === period },
              label: `${HABIT_UNITS[value].unit}s in ${periodPhrase(value)}`,
            }))}
            onChoose={set}
          />
          <UsageHint
            asked={{ start, range: question.range, ...(question.among ? { among: question.among } : {}) }}
            use={({ suggested }) => {
              if (!suggested) return null
              const next: HabitPeriod = suggested.days <= 3 ? 'week' : suggested.days <= 12 ? 'month' : '8 weeks'
              return { label: `Use ${HABIT_UNITS[next].unit}s in ${periodPhrase(next)}`, choose: () => set(next) }
            }}
          />
        </div>
      )
    }
    case 'core':
      return (
        <CoreEditor
          value={core}
          period={period}
          onChange={(next, how) => edit(withCore(question, next), how)}
          close={close}
        />
      )
    case 'breakdown':
      return <PeopleBreakdowns {...props} />
    default:
      return <StartEditor {...props} />
  }
}

function withCore({ core: _before, ...rest }: HabitQuestion, core: HabitQuestion['core']): HabitQuestion {
  return core ? { ...rest, core } : rest
}

/** In another period: what it cannot hold is let go. */
function inPeriod(question: HabitQuestion, period: HabitPeriod): HabitQuestion {
  const { most } = HABIT_UNITS[period]
  const { days, ...show } = question.show
  const next = { ...question, period, show: days !== undefined && days <= most ? { ...show, days } : show }
  return question.core && question.core.days > most ? withCore(next, undefined) : next
}

/** A threshold with a name: "core: 12 days or more". */
function CoreEditor(props: {
  value: HabitQuestion['core']
  period: HabitPeriod
  onChange: (core: HabitQuestion['core'], how: 'choose' | 'type') => void
  close: () => void
}) {
  const { value, period, onChange, close } = props
  const { unit, most } = HABIT_UNITS[period]
  const [name, setName] = useState(value?.name ?? 'Core')
  const [days, setDays] = useState(value?.days ?? Math.min(most, period === 'month' ? 12 : 3))
  const change = (nextName: string, nextDays: number) => {
    setName(nextName)
    setDays(nextDays)
    if (value && nextName.trim()) onChange({ name: nextName.trim(), days: nextDays }, 'type')
  }
  return (
    <div className="stack">
      <p className="hint">So many {unit}s or more have a name of their own, in the chart and in what it says.</p>
      <TextField
        label="Name"
        value={name}
        autoFocus
        error={!name.trim()}
        helperText={name.trim() ? undefined : 'a name'}
        onChange={(event) => change(event.target.value, days)}
        slotProps={{ htmlInput: { maxLength: 40 } }}
      />
      <fieldset>
        <legend>From</legend>
        <NumberField
          label={`From how many ${unit}s`}
          value={days}
          min={1}
          max={most}
          whole
          onChange={(n) => change(name, n)}
        />
        <span>
          {unit}s in {periodPhrase(period)} on
        </span>
      </fieldset>
      <div className="row">
        {value ? (
          <Button
            color="error"
            onClick={() => {
              onChange(undefined, 'choose')
              close()
            }}
          >
            Remove
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={!name.trim()}
            onClick={() => {
              onChange({ name: name.trim(), days }, 'choose')
              close()
            }}
          >
            Use it
          </Button>
        )}
      </div>
    </div>
  )
}
