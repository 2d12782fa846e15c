import type { Range } from '../../time/range.js'
import { Temporal } from 'temporal-polyfill'
import { bucketsOf } from '../../time/buckets.js'
import { addUnits, dayOf, spanOf, startOfDay, type Calendar } from '../../time/range.js'
import type { GrowthInterval } from './question.js'

export interface Interval {
  /** first local day */
  key: string
  /** epoch ms; the end is not included */
  start: number
  end: number
  /** not over yet */
  open: boolean
}

/**
 * The intervals of a range, and the one before them. Those of n days are cut backwards from the end of the range, a
 * shorter first piece is dropped; calendar intervals are whole, also where the range cuts them (how numbers are
 * counted, 9).
 */
export function intervalsOf(
  interval: GrowthInterval,
  range: Range,
  now: number,
  calendar: Calendar,
): { before: Interval; intervals: Interval[] } | null {
  const { zone } = calendar
  const span = spanOf(range, now, calendar)
  if (span.until <= span.from) return null
  if ('unit' in interval) {
    const { unit } = interval
    const intervals = bucketsOf(span, unit, now, calendar).map(({ key, start, end }): Interval => ({
      key,
      start,
      end,
      open: end > now,
    }))
    const first = Temporal.PlainDate.from(intervals[0].key)
    return { before: between(addUnits(first, -1, unit), first, now, zone), intervals }
  }
  const { days } = interval
  const firstDay = Temporal.PlainDate.from(
    'last' in range && range.unit === 'hour' ? dayOf(span.from, zone).toString() : span.firstDay,
  )
  const intervals: Interval[] = []
  let end = Temporal.PlainDate.from(span.lastDay).add({ days: 1 })
  for (;;) {
    const start = end.subtract({ days })
    if (Temporal.PlainDate.compare(start, firstDay) < 0) break
    intervals.unshift(between(start, end, now, zone))
    end = start
  }
  return intervals.length === 0 ? null : { before: between(end.subtract({ days }), end, now, zone), intervals }
}

function between(first: Temporal.PlainDate, next: Temporal.PlainDate, now: number, zone: string): Interval {
  const [start, end] = [startOfDay(first, zone), startOfDay(next, zone)]
  return { key: first.toString(), start, end, open: end > now }
}
