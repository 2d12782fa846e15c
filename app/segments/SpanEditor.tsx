import Button from '@mui/material/Button'
import { useState } from 'react'
import type { Window } from '../../core/segments/rule.js'
import { DayField } from '../editors/FilterEditor.js'
import { EventPicker } from '../editors/EventPicker.js'
import { NumberField } from '../editors/NumberField.js'
import { useToday } from './useToday.js'

const PRESETS: { label: string; window: Window | undefined }[] = [
  { label: 'Ever', window: undefined },
  { label: '7 days', window: { last: 7 } },
  { label: '14 days', window: { last: 14 } },
  { label: '30 days', window: { last: 30 } },
  { label: '90 days', window: { last: 90 } },
  { label: 'Days 31 to 60 before', window: { before: [31, 60] } },
]

/** When it happened: ever, in the last days, some days before, between dates, or within days after something. */
export function SpanEditor(props: {
  value: Window | undefined
  onChange: (window: Window | undefined, how: 'choose' | 'type') => void
}) {
  const { value, onChange } = props
  const today = useToday()
  const [choosing, setChoosing] = useState(false)
  const is = (window: Window | undefined) => JSON.stringify(window) === JSON.stringify(value)
  const last = value && 'last' in value ? value.last : 30
  const [near, far] = value && 'before' in value ? value.before : [31, 60]
  const dates =
    value && 'from' in value ? value : { from: today.subtract({ days: 30 }).toString(), to: today.toString() }
  const after = value && 'after' in value ? value : null
  if (choosing)
    return (
      <EventPicker
        value={after && after.after !== 'first seen' ? after.after.event : null}
        onChoose={(event) => {
          onChange({ after: { event }, days: after?.days ?? 7 }, 'choose')
          setChoosing(false)
        }}
      />
    )
  return (
    <div className="stack">
      <div className="chips">
        {PRESETS.map(({ label, window }) => (
          <Button
            key={label}
            variant={is(window) ? 'contained' : 'outlined'}
            onClick={() => onChange(window, 'choose')}
          >
            {label}
          </Button>
        ))}
      </div>
      <fieldset>
        <legend>In the last</legend>
        <NumberField label="How many days" value={last} {...DAYS} onChange={(n) => onChange({ last: n }, 'type')} />
        <span>days</span>
        <span className="hint">local days; today is the first of them</span>
      </fieldset>
      <fieldset>
        <legend>Or some days before</legend>
        <span>days</span>
        <NumberField
          label="From day"
          value={near}
          {...DAYS}
          onChange={(n) => onChange({ before: [n, Math.max(n, far)] }, 'type')}
        />
        <span>to</span>
        <NumberField
          label="To day"
          value={far}
          {...DAYS}
          onChange={(n) => onChange({ before: [Math.min(near, n), n] }, 'type')}
        />
        <span className="hint">day 1 is today, so “the last 30 days” and “days 31 to 60 before” meet</span>
      </fieldset>
      <fieldset>
        <legend>Or between two days, both included</legend>
        <DayField
          label="First day"
          value={dates.from}
          onChange={(from) => onChange({ from, to: from > dates.to ? from : dates.to }, 'type')}
        />
        <span>to</span>
        <DayField
          label="Last day"
          value={dates.to}
          onChange={(to) => onChange({ from: to < dates.from ? to : dates.from, to }, 'type')}
        />
      </fieldset>
      <fieldset>
        <legend>Or soon after something</legend>
        <span>within</span>
        <NumberField
          label="Days after"
          value={after?.days ?? 7}
          {...DAYS}
          onChange={(days) => onChange({ after: after?.after ?? 'first seen', days }, 'type')}
        />
        <span>days after</span>
        <div className="chips">
          <Button
            variant={after?.after === 'first seen' ? 'contained' : 'outlined'}
            onClick={() => onChange({ after: 'first seen', days: after?.days ?? 7 }, 'choose')}
          >
            first seen
          </Button>
          <Button
            variant={after && after.after !== 'first seen' ? 'contained' : 'outlined'}
            onClick={() => setChoosing(true)}
          >
            first doing an event…
          </Button>
        </div>
        <span className="hint">a day is 24 hours here; exactly on the limit counts</span>
      </fieldset>
    </div>
  )
}

const DAYS = { min: 1, max: 3660, whole: true, width: 84 } as const
