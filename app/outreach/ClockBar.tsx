import Button from '@mui/material/Button'
import { useEffect } from 'react'
import { useRevalidator } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import type { ClockState } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'
import { Segmented } from '../ui/Segmented.js'
import { useTold } from './useTold.js'

const LOOK_MS = 1000
const SPEEDS = [
  { value: '0', label: 'Stands' },
  { value: '60', label: 'A minute a second' },
  { value: '3600', label: 'An hour a second' },
  { value: '14400', label: 'Four hours a second' },
]

/** The clock of a workspace that is read as of its last event: it can be run, so that messages have their time. */
export function ClockBar({ state }: { state: ClockState }) {
  const { zone, thisYear } = useWorkspace()
  const { send, busy, told } = useTold()
  const { revalidate } = useRevalidator()
  const runs = (state.speed ?? 0) > 0
  useEffect(() => {
    if (!runs) return
    const timer = setInterval(() => void revalidate(), LOOK_MS)
    return () => clearInterval(timer)
  }, [runs, revalidate])
  return (
    <section className="sheet pad clock-bar" aria-label="The clock">
      <span>
        It is <strong>{formatMoment(state.now, zone, thisYear)}</strong> here
      </span>
      <Segmented
        label="How fast the clock goes"
        value={String(state.speed ?? 0)}
        options={SPEEDS}
        onChange={(speed) => send({ intent: 'run', speed })}
      />
      <span className="hint">
        Messages go by this clock. While it runs, riders go on riding and simulated people answer what they are sent.
      </span>
      <Button size="small" disabled={busy} onClick={() => send({ intent: 'wipe' })}>
        Take out what simulated people did
      </Button>
      {told}
    </section>
  )
}
