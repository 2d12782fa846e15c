import type { Range } from '../../core/time/range.js'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { Temporal } from 'temporal-polyfill'
import { units, type Unit } from '../../core/time/range.js'
import { useWorkspace } from '../page/workspace.js'
import { DayFields } from './DayFields.js'
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
      <fieldset>
        <legend>Or from a day</legend>
        <DayFields
          open
          from={'from' in value ? value.from : ''}
          to={'from' in value ? (value.to ?? '') : ''}
          today={today.toString()}
          onChange={(from, to) => onChange(to === '' ? { from } : { from, to }, 'type')}
        />
        <span className="hint">no last day: up to now</span>
      </fieldset>
    </div>
  )
}
