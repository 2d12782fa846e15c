import Button from '@mui/material/Button'
import { useEffect, useState } from 'react'
import { useFetcher, useLocation, useNavigate } from 'react-router'
import { formatNumber } from '../../core/words/format.js'

/** true once something has been going on for a while */
export function useLasting(on: boolean, ms: number): boolean {
  const [lasting, setLasting] = useState(false)
  useEffect(() => {
    if (!on) return setLasting(false)
    const timer = setTimeout(() => setLasting(true), ms)
    return () => clearTimeout(timer)
  }, [on, ms])
  return on && lasting
}

interface Progress {
  done: number
  people: number
  /** about how long it takes in all */
  seconds: number
}

function progressWords(progress: Progress | null | undefined): string {
  if (!progress) return 'Still counting'
  const { done, people, seconds } = progress
  const cost = seconds > 5 ? ` · about ${formatNumber(Math.round(seconds))} s in all` : ''
  if (people === 0) return `Waiting for its turn${cost}`
  return `${formatNumber(done)} of ${formatNumber(people)} people scanned${cost}`
}

/** A thin bar when an answer takes its time; after two seconds, or at once where it will take long, how far it is, and a way to stop. */
export function Waiting({ busy, pending }: { busy: boolean; pending: string | null }) {
  const slow = useLasting(busy, 150)
  const early = useLasting(busy, 400)
  const long = useLasting(busy, 2000)
  const fetcher = useFetcher<Progress | null>({ key: 'progress' })
  const navigate = useNavigate()
  const location = useLocation()
  const { load } = fetcher
  useEffect(() => {
    if (!early || !pending) return
    const ask = () => void load(`/ask/progress?${new URLSearchParams({ q: pending }).toString()}`)
    ask()
    const timer = setInterval(ask, 700)
    return () => clearInterval(timer)
  }, [early, pending, load])
  if (!slow) return null
  const progress = fetcher.data
  // What takes its time says so at once; of what is soon done nothing needs to be said.
  const costly = early && (progress?.seconds ?? 0) > 5
  return (
    <div className="waiting" role="status">
      <div className="waiting-bar" />
      {(long || costly) && (
        <p>
          {progressWords(progress)}
          <Button
            onClick={() =>
              void navigate(
                { pathname: location.pathname, search: location.search },
                { replace: true, state: location.state as unknown },
              )
            }
          >
            Stop
          </Button>
        </p>
      )}
    </div>
  )
}
