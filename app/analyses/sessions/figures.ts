import type { SessionsRow } from '../../../core/analyses/sessions/finish.js'
import { valueOf, type SessionSums } from '../../../core/analyses/sessions/value.js'
import type { SessionsMark } from '../../../core/analyses/sessions/marks.js'
import type { SessionMeasure } from '../../../core/analyses/sessions/question.js'
import { MEASURE_UNIT, sayMeasure } from '../../../core/analyses/sessions/words.js'
import {
  countOf,
  formatChange,
  formatDuration,
  formatNumber,
  formatPoints,
  MISSING,
} from '../../../core/words/format.js'
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

/** How a figure comes about, in words. */
export function restsOn(sums: SessionSums, measure: SessionMeasure): string {
  const { sessions, people, ms, single, events, open } = sums
  const all = countOf(sessions, 'session', 'sessions')
  const who = countOf(people, 'person', 'people')
  const over = countOf(sessions - open, 'session that is over', 'sessions that are over')
  const going = open > 0 ? ` ${countOf(open, 'session is', 'sessions are')} still going on.` : ''
  switch (measure) {
    case 'sessions':
      return `${all} of ${who} began then.${going}`
    case 'per person':
      return `${all} began then, of ${who}.${going}`
    case 'time per person':
      return `The lengths of ${all} add up to ${formatDuration(ms)}, over ${who}.${going}`
    case 'single':
      return `${formatNumber(single)} of ${all} have one event only.${going}`
    case 'events':
      return `${formatNumber(events)} events in ${all}.${going}`
    case 'median length':
      return `Half of ${over} are shorter, half are longer; ${who} began them.${going}`
    case 'average length':
      return `The mean of ${over}; ${who} began them.${going}`
  }
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
