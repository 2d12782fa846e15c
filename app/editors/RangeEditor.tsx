import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Temporal } from 'temporal-polyfill'
import { localDay, units, type Range, type Unit } from '../../core/time/range.js'
import { useWorkspace } from '../workspace.js'
import { NumberField } from './NumberField.js'

const PRESETS: { label: string; range: Range }[] = [
  { label: '7 days', range: { last: 7, unit: 'day' } },
  { label: '30 days', range: { last: 30, unit: 'day' } },
  { label: '12 weeks', range: { last: 12, unit: 'week' } },
  { label: '26 weeks', range: { last: 26, unit: 'week' } },
  { label: '12 months', range: { last: 12, unit: 'month' } },
]

/** Which time: the last units up to now, since a day, or between two days. */
export function RangeEditor({
  value,
  onChange,
}: {
  value: Range
  onChange: (range: Range, how: 'choose' | 'type') => void
}) {
  const { status, zone } = useWorkspace()
  const today = Temporal.Instant.fromEpochMilliseconds(status.now).toZonedDateTimeISO(zone).toPlainDate()
  const months = [1, 2, 3].map((back) => today.with({ day: 1 }).subtract({ months: back }))
  const same = (range: Range) => JSON.stringify(range) === JSON.stringify(value)
  const last = 'last' in value ? value : { last: 12, unit: 'week' as Unit }
  return (
    <div className="range-editor">
      <div className="chips">
        {PRESETS.map(({ label, range }) => (
          <Button
            key={label}
            variant={same(range) ? 'contained' : 'outlined'}
            onClick={() => onChange(range, 'choose')}
          >
            {label}
          </Button>
        ))}
        {months.map((month) => {
          const range = { from: month.toString(), to: month.with({ day: month.daysInMonth }).toString() }
          const name = month.toLocaleString('en-GB', { month: 'long' })
          return (
            <Button
              key={name}
              variant={same(range) ? 'contained' : 'outlined'}
              onClick={() => onChange(range, 'choose')}
            >
              {name}
            </Button>
          )
        })}
      </div>
      <fieldset>
        <legend>The last</legend>
        <NumberField
          label="How many units back"
          value={last.last}
          min={1}
          max={1000}
          whole
          onChange={(n) => onChange({ last: n, unit: last.unit }, 'type')}
        />
        <Select
          value={last.unit}
          aria-label="Unit of time"
          onChange={(event) => onChange({ last: last.last, unit: event.target.value as Unit }, 'choose')}
        >
          {units.map((unit) => (
            <MenuItem key={unit} value={unit}>
              {unit}s
            </MenuItem>
          ))}
        </Select>
        <span className="hint">this one, up to now, and the whole ones before it</span>
      </fieldset>
      <Days value={value} today={today.toString()} onChange={onChange} />
    </div>
  )
}

function Days(props: { value: Range; today: string; onChange: (range: Range, how: 'choose' | 'type') => void }) {
  const { value, today, onChange } = props
  const [from, setFrom] = useState('from' in value ? value.from : '')
  const [to, setTo] = useState('from' in value ? (value.to ?? '') : '')
  const backwards = from !== '' && to !== '' && to < from
  const apply = (first: string, last: string) => {
    if (!localDay.safeParse(first).success || (last !== '' && !localDay.safeParse(last).success)) return
    if (last !== '' && last < first) return
    onChange(last === '' ? { from: first } : { from: first, to: last }, 'type')
  }
  return (
    <fieldset>
      <legend>Or from a day</legend>
      <TextField
        type="date"
        value={from}
        slotProps={{ htmlInput: { 'aria-label': 'First day', max: today } }}
        onChange={(event) => {
          setFrom(event.target.value)
          apply(event.target.value, to)
        }}
      />
      <span>to</span>
      <TextField
        type="date"
        value={to}
        error={backwards}
        helperText={backwards ? 'Before the first day' : undefined}
        slotProps={{ htmlInput: { 'aria-label': 'Last day; empty means up to now' } }}
        onChange={(event) => {
          setTo(event.target.value)
          apply(from, event.target.value)
        }}
      />
      <span className="hint">no last day: up to now</span>
    </fieldset>
  )
}
