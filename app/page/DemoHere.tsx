import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import LinearProgress from '@mui/material/LinearProgress'
import { useEffect, useState } from 'react'
import { useFetcher, useRevalidator } from 'react-router'
import { formatNumber } from '../../core/words/format.js'
import type { DemoState } from '../../server/doors/demo.js'

/** Says that what is seen is made up, for as long as the demo is in a workspace of somebody's own; and takes it out. */
export function DemoHere({ state }: { state: DemoState }) {
  const { revalidate } = useRevalidator()
  const fetcher = useFetcher()
  const [asking, setAsking] = useState(false)
  const moving = state.at === 'coming' || state.at === 'going'
  useEffect(() => {
    if (!moving) return
    const timer = setInterval(() => void revalidate(), 700)
    return () => clearInterval(timer)
  }, [moving, revalidate])
  return (
    <section className="sheet pad stack demo-here" aria-live="polite">
      {state.at === 'coming' && (
        <>
          <p>
            {state.of === null
              ? 'Making up the demo …'
              : `Bringing in the demo: ${formatNumber(state.events)} of ${formatNumber(state.of)} events.`}
          </p>
          <LinearProgress
            aria-label="The demo is brought in"
            {...(state.of === null
              ? {}
              : { variant: 'determinate' as const, value: Math.min(100, (100 * state.events) / state.of) })}
          />
        </>
      )}
      {state.at === 'going' && (
        <>
          <p>Taking the demo out …</p>
          <LinearProgress aria-label="The demo is taken out" />
        </>
      )}
      {state.at === 'here' && (
        <div className="row wrap between">
          <p>
            <b>The demo is in this workspace.</b> What you see of Saltmarsh Bikes is made up: riders, rides, studies,
            dashboards.
          </p>
          <Button size="small" variant="outlined" onClick={() => setAsking(true)}>
            Take the demo out
          </Button>
        </div>
      )}
      {state.problem && <p className="caution">{state.problem}</p>}
      <Dialog open={asking} onClose={() => setAsking(false)} aria-labelledby="demo-out-title">
        <DialogTitle id="demo-out-title">Take the demo out?</DialogTitle>
        <DialogContent>
          <p>
            Its people and events go, with its studies, dashboards, segments, notes and descriptions, also where you
            have changed them. Events that came otherwise stay, and so does what you saved yourself; where that asks
            about the demo, it has nothing to count any more. The demo can be brought in again while the workspace is
            empty.
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Leave it in</Button>
          <Button
            variant="contained"
            color="error"
            onClick={() => {
              setAsking(false)
              void fetcher.submit({ do: 'take out' }, { method: 'post', action: '/ask/demo' })
            }}
          >
            Take it out
          </Button>
        </DialogActions>
      </Dialog>
    </section>
  )
}
