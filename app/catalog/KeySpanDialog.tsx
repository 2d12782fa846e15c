import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Temporal } from 'temporal-polyfill'
import type { ApiKey } from '../../server/store/access.js'
import { useWorkspace } from '../page/workspace.js'
import { TakeBackDialog } from './TakeBack.js'

const HOUR_MS = 3_600_000

/** Of what a key sent, that of a span of time is taken back: the hour before it was last used is offered first. */
export function KeySpanDialog({ apiKey, onClose }: { apiKey: ApiKey; onClose: () => void }) {
  const { zone } = useWorkspace()
  const lastMs = apiKey.usedMs ?? apiKey.createdMs
  const [from, setFrom] = useState(() => localOf(lastMs - HOUR_MS, zone))
  const [until, setUntil] = useState(() => localOf(Math.ceil((lastMs + 1) / 60_000) * 60_000, zone))
  const fromMs = msOf(from, zone)
  const untilMs = msOf(until, zone)
  const wrong =
    fromMs === null || untilMs === null ? 'Give both times.' : untilMs < fromMs ? 'It ends before it begins.' : null
  const fields = (
    <div className="row wrap">
      <TimeField label="Received from" value={from} onChange={setFrom} />
      <TimeField label="until" value={until} onChange={setUntil} />
      {wrong && <p className="caution">{wrong}</p>}
    </div>
  )
  return (
    <TakeBackDialog
      what={`what ${apiKey.name} sent`}
      choice={{ of: 'key', id: apiKey.id, fromMs: fromMs ?? 0, untilMs: untilMs ?? 0 }}
      above={fields}
      onClose={onClose}
    />
  )
}

function TimeField(props: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <TextField
      type="datetime-local"
      label={props.label}
      value={props.value}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { step: 60 } }}
      onChange={(event) => props.onChange(event.target.value)}
    />
  )
}

/** Minutes, in the workspace's zone. */
function localOf(ms: number, zone: string): string {
  const at = Temporal.Instant.fromEpochMilliseconds(Math.floor(ms)).toZonedDateTimeISO(zone)
  return at.toPlainDateTime().toString({ smallestUnit: 'minute' })
}

function msOf(local: string, zone: string): number | null {
  try {
    return Temporal.PlainDateTime.from(local).toZonedDateTime(zone).epochMilliseconds
  } catch {
    return null
  }
}
