import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { units, type Unit } from '../../core/time/range.js'
import type { TimeCondition } from '../../core/segments/rule.js'
import { DayField } from '../editors/FilterEditor.js'
import { NumberField } from '../editors/NumberField.js'
import { useToday } from './useToday.js'

type When = TimeCondition['when']

/** Before a day, after it, or in the last units up to the moment. */
export function WhenEditor({
  value,
  onChange,
}: {
  value: When
  onChange: (when: When, how: 'choose' | 'type') => void
}) {
  const today = useToday().toString()
  const kind = 'before' in value ? 'before' : 'after' in value ? 'after' : 'last'
  const day = 'before' in value ? value.before : 'after' in value ? value.after : today
  return (
    <div className="condition-line">
      <Select
        value={kind}
        aria-label="When"
        onChange={(change) => {
          const next = change.target.value
          onChange(
            next === 'before' ? { before: day } : next === 'after' ? { after: day } : { last: 14, unit: 'day' },
            'choose',
          )
        }}
      >
        <MenuItem value="last">in the last</MenuItem>
        <MenuItem value="before">before</MenuItem>
        <MenuItem value="after">after</MenuItem>
      </Select>
      {'last' in value ? (
        <span className="pair">
          <NumberField
            label="How many"
            value={value.last}
            min={1}
            max={1000}
            whole
            onChange={(last) => onChange({ ...value, last }, 'type')}
          />
          <Select
            value={value.unit}
            aria-label="Unit of time"
            onChange={(change) => onChange({ ...value, unit: change.target.value as Unit }, 'choose')}
          >
            {units.map((unit) => (
              <MenuItem key={unit} value={unit}>
                {unit}s
              </MenuItem>
            ))}
          </Select>
        </span>
      ) : (
        <DayField
          label="Day"
          value={day}
          onChange={(next) => onChange(kind === 'before' ? { before: next } : { after: next }, 'type')}
        />
      )}
    </div>
  )
}
