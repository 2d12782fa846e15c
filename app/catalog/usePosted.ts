import { useEffect, useState } from 'react'

/**
 * What the server answers to something that is being typed, asked a moment after it last changed; the last answer stays
 * until the next, and is waited for where the server is not there.
 */
export function usePosted<T>(address: string, asked: unknown, afterMs: number): { reply: T | null; waiting: boolean } {
  const [reply, setReply] = useState<T | null>(null)
  const [waiting, setWaiting] = useState(true)
  const body = JSON.stringify(asked)
  useEffect(() => {
    const gone = new AbortController()
    setWaiting(true)
    const timer = setTimeout(() => {
      fetch(address, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body,
        signal: gone.signal,
      })
        .then((response) => response.json() as Promise<T>)
        .then((answer) => {
          setReply(answer)
          setWaiting(false)
        })
        .catch(() => {
          // Either a newer one is on its way, or the server is not there: the page says so by staying dimmed.
        })
    }, afterMs)
    return () => {
      clearTimeout(timer)
      gone.abort()
    }
  }, [address, body, afterMs])
  return { reply, waiting }
}
