import { useEffect, useState } from 'react'
import type { PreviewReply } from '../routes/ask.preview.js'

const AFTER_MS = 250

/** What a definition would give, asked a moment after it last changed; the last answer stays until the next. */
export function usePreview(definition: unknown): { reply: PreviewReply | null; waiting: boolean } {
  const [reply, setReply] = useState<PreviewReply | null>(null)
  const [waiting, setWaiting] = useState(true)
  const text = JSON.stringify(definition)
  useEffect(() => {
    const gone = new AbortController()
    setWaiting(true)
    const timer = setTimeout(() => {
      fetch('/ask/preview', {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: text,
        signal: gone.signal,
      })
        .then((response) => response.json() as Promise<PreviewReply>)
        .then((answer) => {
          setReply(answer)
          setWaiting(false)
        })
        .catch(() => {
          // Either a newer one is on its way, or the server is not there: the page says so by staying dimmed.
        })
    }, AFTER_MS)
    return () => {
      clearTimeout(timer)
      gone.abort()
    }
  }, [text])
  return { reply, waiting }
}
