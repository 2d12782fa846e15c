import type { TestEventLike } from '../reference.js'

/** The slow and obvious reading of what early behaviour goes with, for tests: one person after another, over lists of events. */
export interface ReferenceTipping {
  start: string
  goal: string
  days: number
  span: { from: number; until: number; now: number }
  /** where the outcome's period begins and ends for a start (its end not included), both epoch ms */
  period: (start: number) => { from: number; until: number }
  /** whether that is over, for a start */
  isOver: (start: number) => boolean
  times?: number
}

const DAY = 86_400_000

/** By person who counts: whether the outcome came, and how often they did each thing early. */
export function referenceTipping(
  events: readonly TestEventLike[],
  { start, goal, days, span, period, isOver, times = 1 }: ReferenceTipping,
): Map<string, { came: boolean; counts: Map<string, number> }> {
  const found = new Map<string, { came: boolean; counts: Map<string, number> }>()
  for (const person of new Set(events.map((event) => event.person))) {
    const all = events
      .map((event, arrival) => ({ ...event, arrival }))
      .filter((event) => event.person === person && event.time <= span.now)
      .sort((a, b) => a.time - b.time || a.arrival - b.arrival)
    const first = all.findIndex(({ event }) => event === start)
    if (first < 0 || all[first].time < span.from || all[first].time >= span.until) continue
    const at = all[first].time
    if (!isOver(at)) continue
    const { from, until } = period(at)
    const later = all.slice(first + 1)
    const hits = later.filter(({ event, time }) => event === goal && time >= from && time < until)
    const counts = new Map<string, number>()
    for (const { event, time } of later)
      if (event !== start && event !== goal && time - at <= days * DAY && time < from)
        counts.set(event, (counts.get(event) ?? 0) + 1)
    found.set(person, { came: hits.length >= times, counts })
  }
  return found
}
