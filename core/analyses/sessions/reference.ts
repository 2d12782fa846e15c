import type { SessionMeasure } from './question.js'

/** The slow and obvious reading of sessions, for tests: lists of events, one after another. */

interface ReferenceEvent {
  person: string
  event: string
  time: number
  source?: string | undefined
}

export interface ReferenceSession {
  person: string
  events: ReferenceEvent[]
  /** its place among the person's, from 1 */
  number: number
  open: boolean
}

/** @param timeoutMs a longer gap begins another one */
export function referenceSessions(
  events: readonly ReferenceEvent[],
  timeoutMs: number,
  now: number,
): ReferenceSession[] {
  const people = [...new Set(events.map(({ person }) => person))]
  return people.flatMap((person) => {
    const own = events.filter((event) => event.person === person && event.time <= now)
    own.sort((a, b) => a.time - b.time)
    const found: ReferenceEvent[][] = []
    for (const event of own) {
      const last = found.at(-1)?.at(-1)
      if (!last || event.time - last.time > timeoutMs) found.push([])
      found.at(-1)!.push(event)
    }
    return found.map((list, i) => ({
      person,
      events: list,
      number: i + 1,
      open: i === found.length - 1 && now - list.at(-1)!.time <= timeoutMs,
    }))
  })
}

export const lengthOf = ({ events }: ReferenceSession) => events.at(-1)!.time - events[0].time

export function referenceValue(list: readonly ReferenceSession[], measure: SessionMeasure): number | null {
  const people = new Set(list.map(({ person }) => person)).size
  const over = list.filter(({ open }) => !open).map(lengthOf)
  const sum = (values: number[]) => values.reduce((total, value) => total + value, 0)
  const of = (part: number, whole: number) => (whole > 0 ? part / whole : null)
  switch (measure) {
    case 'sessions':
      return list.length
    case 'per person':
      return of(list.length, people)
    case 'time per person':
      return of(sum(list.map(lengthOf)), people)
    case 'single':
      return of(list.filter(({ events }) => events.length === 1).length, list.length)
    case 'events':
      return of(sum(list.map(({ events }) => events.length)), list.length)
    case 'average length':
      return of(sum(over), over.length)
    case 'median length': {
      const sorted = over.sort((a, b) => a - b)
      const middle = (sorted.length - 1) / 2
      return sorted.length > 0 ? (sorted[Math.floor(middle)] + sorted[Math.ceil(middle)]) / 2 : null
    }
  }
}
