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

/** A thin bar when an answer takes its time; after two seconds how far it is, and a way to stop. */
export function Waiting({ busy, pending }: { busy: boolean; pending: string | null }) {
  const slow = useLasting(busy, 150)
  const long = useLasting(busy, 2000)
  const fetcher = useFetcher<{ done: number; people: number } | null>({ key: 'progress' })
  const navigate = useNavigate()
  const location = useLocation()
  const { load } = fetcher
  useEffect(() => {
    if (!long || !pending) return
    const ask = () => void load(`/ask/progress?${new URLSearchParams({ q: pending }).toString()}`)
    ask()
    const timer = setInterval(ask, 700)
    return () => clearInterval(timer)
  }, [long, pending, load])
  if (!slow) return null
  const progress = fetcher.data
  return (
    <div className="waiting" role="status">
      <div className="waiting-bar" />
      {long && (
        <p>
          {progress
            ? `${formatNumber(progress.done)} of ${formatNumber(progress.people)} people scanned`
            : 'Still counting'}
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
