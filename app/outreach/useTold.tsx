import Snackbar from '@mui/material/Snackbar'
import { useEffect, useState, type ReactNode } from 'react'
import { useFetcher } from 'react-router'
import type { Acted } from './act.server.js'

/** Sends what a press means to the page's own action, and tells what came of it. */
export function useTold(): {
  send: (form: Record<string, string>) => void
  busy: boolean
  acted: Acted | undefined
  told: ReactNode
} {
  const fetcher = useFetcher<Acted>()
  const [told, setTold] = useState<string | null>(null)
  const { data, state } = fetcher
  useEffect(() => {
    if (!data || state !== 'idle') return
    if ('problem' in data) setTold(data.problem)
    else if ('done' in data) setTold(data.done)
  }, [data, state])
  return {
    send: (form) => void fetcher.submit(form, { method: 'post' }),
    busy: state !== 'idle',
    acted: data,
    told: <Snackbar open={told !== null} autoHideDuration={7000} onClose={() => setTold(null)} message={told} />,
  }
}
