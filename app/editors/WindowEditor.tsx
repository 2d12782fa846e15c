import type { TimeLimit } from '../../core/questions/limits.js'
import { windowUnits } from '../../core/questions/vocabulary.js'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { NumberField } from './NumberField.js'

/** How long an attempt may take, from its first step. */
export function WindowEditor(props: {
  value: TimeLimit
  legend?: string
  onChange: (window: TimeLimit, how: 'choose' | 'type') => void
}) {
  const { value, legend = 'From the first step to the last, at most', onChange } = props
  return (
    <div className="stack">
      <fieldset>
        <legend>{legend}</legend>
        <NumberField
          label="How many"
          value={value.count}
          min={1}
          max={1000}
          whole
          autoFocus
          onChange={(count) => onChange({ ...value, count }, 'type')}
        />
        <Select
          value={value.unit}
          aria-label="Unit of time"
          onChange={(event) => onChange({ ...value, unit: event.target.value as TimeLimit['unit'] }, 'choose')}
        >
          {windowUnits.map((unit) => (
            <MenuItem key={unit} value={unit}>
              {unit}s
            </MenuItem>
          ))}
        </Select>
      </fieldset>
      <p className="hint">A day is 24 hours, whatever the calendar does; exactly on the limit still counts.</p>
    </div>
  )
}
