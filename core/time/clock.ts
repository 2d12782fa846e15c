import { Temporal } from 'temporal-polyfill'
import { QUARTER } from './quarter.js'
import { dayOf, startOfDay } from './range.js'

/** Weekday and hour of moments by quarters of an hour, in a zone: what scans read in place of a calendar. */
export interface Clock {
  /** start of the table's first quarter, epoch ms */
  origin: number
  /** 0 = Monday … 6 = Sunday */
  weekday: Uint8Array
  /** 0 to 23 */
  hour: Uint8Array
}

const known = new Map<string, Clock>()

/** @returns a table that covers the moments from `from` up to, not including, `until`, epoch ms */
export function clockOf(from: number, until: number, zone: string): Clock {
  const first = dayOf(from, zone)
  const last = dayOf(Math.max(from, until), zone)
  const name = `${first.toString()} ${last.toString()} ${zone}`
  const had = known.get(name)
  if (had) return had
  const origin = startOfDay(first, zone)
  const end = startOfDay(last.add({ days: 1 }), zone)
  const quarters = Math.ceil((end - origin) / QUARTER)
  const weekday = new Uint8Array(quarters)
  const hour = new Uint8Array(quarters)
  for (let day = first; Temporal.PlainDate.compare(day, last) <= 0; day = day.add({ days: 1 })) {
    const start = startOfDay(day, zone)
    const next = startOfDay(day.add({ days: 1 }), zone)
    const plainDay = next - start === 24 * 4 * QUARTER
    for (let at = start; at < next; at += QUARTER) {
      const quarter = (at - origin) / QUARTER
      weekday[quarter] = day.dayOfWeek - 1
      // Only on the day of a clock change is the hour not the time since midnight.
      hour[quarter] = plainDay ? Math.floor((at - start) / (4 * QUARTER)) : localHour(at, zone)
    }
  }
  const clock = { origin, weekday, hour }
  if (known.size > 20) known.clear()
  known.set(name, clock)
  return clock
}

function localHour(ms: number, zone: string): number {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).hour
}
