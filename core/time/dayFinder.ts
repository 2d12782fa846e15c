import { dayOf, startOfDay } from './range.js'

const DAY = 86_400_000
/** Days known at once; dates that are spread over more are found again. */
const MOST_KNOWN = 100_000

interface LocalDay {
  start: number
  end: number
}

/** By zone, then by day of UTC: the local days that any moment asked for lies in. At most three overlap a day of UTC. */
const known = new Map<string, Map<number, LocalDay[]>>()

/**
 * Finds the first moment of the local day that a moment lies in. Dates in data may lie anywhere in the calendar, so each
 * day is worked out when a date in it turns up: the work follows the days there are, not the span between them.
 */
export function dayFinder(zone: string): (ms: number) => number {
  let days = known.get(zone)
  if (!days) known.set(zone, (days = new Map()))
  const ofZone = days
  let last: LocalDay = { start: 0, end: 0 }
  return (ms) => {
    if (ms >= last.start && ms < last.end) return last.start
    const utc = Math.floor(ms / DAY)
    const near = ofZone.get(utc)
    const found = near?.find(({ start, end }) => ms >= start && ms < end)
    if (found) return (last = found).start
    const day = dayOf(ms, zone)
    last = { start: startOfDay(day, zone), end: startOfDay(day.add({ days: 1 }), zone) }
    if (ofZone.size >= MOST_KNOWN) ofZone.clear()
    if (near && ofZone.has(utc)) near.push(last)
    else ofZone.set(utc, [last])
    return last.start
  }
}
