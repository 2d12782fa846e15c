import Button from '@mui/material/Button'
import { useEffect, useState } from 'react'
import type { GapsResult } from '../../core/analyses/gaps/finish.js'
import type { GapsQuestion } from '../../core/analyses/gaps/question.js'
import { countOf, formatNumber } from '../../core/words/format.js'

/** How often people naturally come, where an interval is chosen: their gaps, and what those suggest. */
export function UsageHint(props: {
  /** what is done, by whom, over what time */
  asked: Pick<GapsQuestion, 'start' | 'range' | 'among'>
  /** says what is suggested, and takes it */
  use?: (result: GapsResult) => { label: string; choose: () => void } | null
}) {
  const { asked, use } = props
  const [result, setResult] = useState<GapsResult | null>(null)
  const [waiting, setWaiting] = useState(true)
  const { start, range, among } = asked
  const text = JSON.stringify({ kind: 'gaps', start, range, ...(among ? { among } : {}), show: { form: 'gaps' } })
  useEffect(() => {
    const gone = new AbortController()
    setWaiting(true)
    fetch(`/ask/usage?${new URLSearchParams({ q: text }).toString()}`, { signal: gone.signal })
      .then((response) => response.json() as Promise<GapsResult | null>)
      .then((found) => {
        setResult(found)
        setWaiting(false)
      })
      .catch(() => {
        // Another question is on its way, or the server is not there: then there is no help, and the choice stands.
      })
    return () => gone.abort()
  }, [text])
  if (!result) return <p className="hint">{waiting ? 'Looking how often people come …' : ''}</p>
  if (result.eighty === null) return <p className="hint">Nobody came twice in this time: there are no gaps to go by.</p>
  const most = Math.max(...result.bins.map(({ gaps }) => gaps))
  const suggestion = use?.(result)
  return (
    <div className="usage-hint">
      <p className="hint">
        80 % of returns happen within <strong>{countOf(result.eighty, 'day', 'days')}</strong>, half within{' '}
        {countOf(result.median!, 'day', 'days')}; a typical person comes back after{' '}
        {countOf(result.medianOfMedians!, 'day', 'days')}.
      </p>
      <div className="usage-bars" aria-hidden="true">
        {result.bins.map(({ least, most: end, gaps }) => (
          <i
            key={least}
            title={`${least}${end === null ? ' or more' : end === least ? '' : ` to ${end}`} days: ${formatNumber(gaps)}`}
            className={end !== null && end <= result.eighty! ? 'within' : ''}
            style={{ height: `${Math.max(2, (gaps / most) * 34).toFixed(1)}px` }}
          />
        ))}
      </div>
      {suggestion && (
        <Button size="small" variant="outlined" onClick={suggestion.choose}>
          {suggestion.label}
        </Button>
      )}
    </div>
  )
}
