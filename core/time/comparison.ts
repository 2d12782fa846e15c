import { Temporal } from 'temporal-polyfill'
import { bucketsOf, type Bucket } from './buckets.js'
import {
  addUnits,
  dayOf,
  spanOf,
  startOfDay,
  startOfHour,
  startOfUnit,
  type Calendar,
  type Range,
  type Span,
  type Unit,
} from './range.js'

/** What a result stands beside: the time just before, the same dates earlier, or an own time. */
export type Comparison = { to: ComparedTo } | { from: string; to: string }
export const COMPARED_TO = ['before', 'week', 'month', 'year'] as const
export type ComparedTo = (typeof COMPARED_TO)[number]

/** Days are like the same weekday, hours like the same hour: comparing a Saturday with a Monday says nothing. */
const PERIOD: Record<Unit, number> = { hour: 24, day: 7, week: 1, month: 1, quarter: 1, year: 1 }

/**
 * Which buckets a change over the range is told from: the last whole one, and the earliest whole one of its kind.
 * @returns indices; null where there are no two to compare
 */
export function comparedBuckets(buckets: readonly Bucket[], every: Unit): { first: number; last: number } | null {
  const whole = buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))
  const last = whole.at(-1)
  const first = whole.find((index) => (last! - index) % PERIOD[every] === 0)
  return last === undefined || first === undefined || first === last ? null : { first, last }
}

export interface Period {
  span: Span
  buckets: Bucket[]
}

/**
 * The period that a range stands beside (how numbers are counted, 5). *Just before*: `last N units` goes back by N
 * units, its end at now too; a range of whole buckets by as many buckets; any other by as many days. Else the same
 * dates earlier: a date that does not exist becomes the month's last day.
 */
export function beforePeriod(range: Range, compare: Comparison, every: Unit, now: number, calendar: Calendar): Period {
  const span = spanOf(range, now, calendar)
  if (!('to' in compare) || 'from' in compare) {
    const own = spanOf({ from: compare.from, to: compare.to }, now, calendar)
    return { span: own, buckets: bucketsOf(own, every, now, calendar) }
  }
  if (compare.to === 'before' && 'last' in range && range.unit === 'hour') {
    const back = range.last * 3_600_000
    const from = span.from - back
    const until = span.until - back
    const days = {
      firstDay: dayOf(from, calendar.zone).toString(),
      lastDay: dayOf(until - 1, calendar.zone).toString(),
    }
    return periodOf({ from, until, ...days }, every, until - 1, calendar)
  }
  const shift = shiftOf(range, compare.to, every, span, calendar)
  const firstDay = shift(Temporal.PlainDate.from(span.firstDay))
  const moved = (ms: number) => {
    const local = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(calendar.zone)
    return shift(local.toPlainDate()).toPlainDateTime(local.toPlainTime()).toZonedDateTime(calendar.zone)
      .epochMilliseconds
  }
  // The last hours begin at one of the day's, and so do those beside them.
  const byHours = 'last' in range && range.unit === 'hour'
  const from = byHours ? startOfHour(moved(span.from), calendar.zone) : startOfDay(firstDay, calendar.zone)
  // A range that runs on ends at the same time of day earlier, so that open parts are equally long; one with a last day of
  // its own takes whole days there.
  const runsOn = span.until === now + 1 && span.end === undefined
  const then = moved(now)
  const lastDay = shift(Temporal.PlainDate.from(span.lastDay))
  const until = runsOn ? then + 1 : startOfDay(lastDay.add({ days: 1 }), calendar.zone)
  const shifted = { from, until, firstDay: firstDay.toString(), lastDay: lastDay.toString() }
  return periodOf(shifted, every, runsOn ? then : now, calendar)
}

function periodOf(span: Span, every: Unit, now: number, calendar: Calendar): Period {
  return { span, buckets: bucketsOf(span, every, now, calendar) }
}

function shiftOf(
  range: Range,
  to: ComparedTo,
  every: Unit,
  span: Span,
  calendar: Calendar,
): (day: Temporal.PlainDate) => Temporal.PlainDate {
  if (to === 'week') return (day) => day.subtract({ days: 7 })
  if (to === 'month') return (day) => day.subtract({ months: 1 })
  if (to === 'year') return (day) => day.subtract({ years: 1 })
  if ('last' in range) return (day) => addUnits(day, -range.last, range.unit)
  const first = Temporal.PlainDate.from(span.firstDay)
  // Of days that have not begun there is nothing to stand beside.
  const after = Temporal.PlainDate.from(span.lastDay).add({ days: 1 })
  if (
    every !== 'hour' &&
    startOfUnit(first, every, calendar).equals(first) &&
    startOfUnit(after, every, calendar).equals(after)
  ) {
    let units = 0
    for (let day = first; Temporal.PlainDate.compare(day, after) < 0; day = addUnits(day, 1, every)) units++
    return (day) => {
      // The day after the last one goes back by whole units; days inside keep their distance from the range's start.
      const moved = addUnits(first, -units, every)
      return day.equals(first) ? moved : addUnits(day.add({ days: 1 }), -units, every).subtract({ days: 1 })
    }
  }
  const days = first.until(after).days
  return (day) => day.subtract({ days })
}
