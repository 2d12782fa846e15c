import type { TestEventLike } from '../reference.js'

/**
 * Events and distinct people by bucket and over the range, as the definition reads: each bucket looks at every event.
 * @param groupsOf the names of an event's groups; an event may be in several
 */
export function referenceTrend(
  events: readonly TestEventLike[],
  buckets: readonly { start: number; end: number }[],
  range: { from: number; until: number },
  matches: (event: TestEventLike) => boolean,
  groupsOf: (event: TestEventLike) => readonly string[],
): Map<string, { events: number[]; people: number[]; totalEvents: number; totalPeople: number }> {
  const inRange = events.filter((event) => event.time >= range.from && event.time < range.until && matches(event))
  const names = new Set(inRange.flatMap((event) => [...groupsOf(event)]))
  return new Map(
    [...names].map((name) => {
      const own = inRange.filter((event) => groupsOf(event).includes(name))
      const cells = buckets.map(({ start, end }) => own.filter(({ time }) => time >= start && time < end))
      const distinct = (list: readonly TestEventLike[]) => new Set(list.map(({ person }) => person)).size
      return [
        name,
        {
          events: cells.map((cell) => cell.length),
          people: cells.map(distinct),
          totalEvents: own.length,
          totalPeople: distinct(own),
        },
      ]
    }),
  )
}
