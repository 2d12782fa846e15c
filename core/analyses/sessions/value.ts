import type { SessionMeasure } from './question.js'

/** What the sessions of a group come to, in a bucket or in all; times in ms. */
export interface SessionSums {
  sessions: number
  people: number
  /** still going on */
  open: number
  /** all lengths added up */
  ms: number
  single: number
  events: number
  /** of those that are over; null where none is */
  median: number | null
  average: number | null
}

/** A measure of some sessions; null where it says nothing. */
export function valueOf(
  { sessions, people, ms, single, events, median, average }: SessionSums,
  measure: SessionMeasure,
): number | null {
  const of = (part: number, whole: number) => (whole > 0 ? part / whole : null)
  switch (measure) {
    case 'sessions':
      return sessions
    case 'per person':
      return of(sessions, people)
    case 'time per person':
      return of(ms, people)
    case 'single':
      return of(single, sessions)
    case 'events':
      return of(events, sessions)
    case 'median length':
      return median
    case 'average length':
      return average
  }
}
