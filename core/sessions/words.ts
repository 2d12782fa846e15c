import { formatDuration, joinWords } from '../words/format.js'
import type { SessionCuts } from './settings.js'

/** How sessions are cut, in a sentence: `Sessions end after 30 minutes without an event, after app 5 minutes.` */
export function cutsWords({ timeoutMs, bySource, starts, ends, onSource }: SessionCuts): string {
  const own = (bySource ?? []).map(
    ({ source, timeoutMs: ms }) => `${source ?? 'events without a source'} ${formatDuration(ms)}`,
  )
  const parts = [
    `Sessions end after ${formatDuration(timeoutMs)} without an event${own.length > 0 ? `, after ${joinWords(own, 'and')}` : ''}`,
    ...(starts ? [`begin at ${joinWords(starts, 'or')}`] : []),
    ...(ends ? [`end with ${joinWords(ends, 'or')}`] : []),
    ...(onSource ? ['end at a change of source'] : []),
  ]
  return `${joinWords(parts, 'and')}.`
}
