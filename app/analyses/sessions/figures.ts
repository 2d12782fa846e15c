import type { SessionsRow } from '../../../core/analyses/sessions/finish.js'
import { valueOf, type SessionSums } from '../../../core/analyses/sessions/value.js'
import type { SessionsMark } from '../../../core/analyses/sessions/marks.js'
import type { SessionMeasure } from '../../../core/analyses/sessions/question.js'
import { MEASURE_UNIT, sayMeasure } from '../../../core/analyses/sessions/words.js'
import { countOf, formatChange, formatDuration, formatPoints, MISSING } from '../../../core/words/format.js'
import { groupWords } from '../../../core/words/words.js'

export const rowName = ({ key }: SessionsRow, rest: number): string =>
  key === null ? 'All sessions' : groupWords(key, rest)

export function markOf(row: SessionsRow, mark: Omit<SessionsMark, 'kind' | 'group'>): SessionsMark {
  return { kind: 'session', ...mark, ...(row.key ? { group: row.key } : {}) }
}

/** As charts and files take it: durations in seconds. */
export function chartValue(sums: SessionSums, measure: SessionMeasure): number | null {
  const value = valueOf(sums, measure)
  return value !== null && MEASURE_UNIT[measure] === 'duration' ? value / 1000 : value
}

/** Its change against an earlier time: of shares in points. */
export function changeWords(now: SessionSums, then: SessionSums, measure: SessionMeasure): string {
  const [own, other] = [valueOf(now, measure), valueOf(then, measure)]
  if (own === null || other === null) return MISSING
  if (MEASURE_UNIT[measure] === 'percent') return formatPoints(own - other)
  return other > 0 ? formatChange(own / other - 1) : MISSING
}

/** What a figure rests on: `46 m: 92 m of 4 sessions, over 2 people`. */
export function answersFor(sums: SessionSums, measure: SessionMeasure): string {
  const { sessions, people, ms, open } = sums
  const said = [
    `${formatDuration(ms)} in ${countOf(sessions, 'session', 'sessions')} of ${countOf(people, 'person', 'people')}`,
    ...(open > 0 ? [`${open} still going on`] : []),
  ]
  return `${sayMeasure(valueOf(sums, measure), measure)}: ${said.join(', ')}`
}
