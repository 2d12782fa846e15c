import type { Credit } from '../../../core/analyses/attribution/credit.js'
import { formatPercent } from '../../../core/words/format.js'

import './attribution.css'

/** Where in a way a touch may stand, and the figure that counts it. */
export const ENDS = [
  ['begins', 'firstTouches'],
  ['carries', 'middleTouches'],
  ['closes', 'lastTouches'],
  ['alone', 'onlyTouches'],
] as const

export const touchesOf = (own: Credit) => own.firstTouches + own.middleTouches + own.lastTouches + own.onlyTouches

/** Of its touches, which begin a way, lie between, close it, or are alone. */
export function EndsStrip({ own }: { own: Credit }) {
  const all = touchesOf(own)
  if (all === 0) return null
  const said = ENDS.map(([name, figure]) => `${name} ${formatPercent(own[figure] / all, 0)}`).join(', ')
  return (
    <span className="ends-strip" role="img" aria-label={said} title={said}>
      {ENDS.map(([name, figure]) => (
        <i key={name} className={name} style={{ width: `${(own[figure] / all) * 100}%` }} />
      ))}
    </span>
  )
}

export function EndsKey() {
  return (
    <span className="ends-key">
      {ENDS.map(([name]) => (
        <span key={name}>
          <i className={name} />
          {name}
        </span>
      ))}
    </span>
  )
}
