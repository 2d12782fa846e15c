import { Temporal } from 'temporal-polyfill'
import { QUARTER } from './quarter.js'
import {
  addUnits,
  endOfHour,
  startOfDay,
  startOfHour,
  startOfUnit,
  type Calendar,
  type Span,
  type Unit,
} from './range.js'

export interface Bucket {
  /** the calendar's start and end of the bucket, epoch ms; the end is not included */
  start: number
  end: number
  /** name of the bucket that stays the same when the range moves on: its local start, `2026-10-05` or `2026-10-05T13` with the offset for hours */
  key: string
  /** not over yet at the moment of the query */
  open: boolean
  /** the range cuts a part of it off */
  cut: boolean
  /** as it is drawn: nothing has arrived in it, or in the end of it; then it is as good as open */
  silent?: true
}

/** More buckets than this are refused: nobody can read them. */
export const MOST_BUCKETS = 2000

const HOUR = 3_600_000

/**
 * The calendar buckets of a range, cut in the workspace's zone (how numbers are counted, 1): a day may last 23 or 25
 * hours, an hour is a real hour, counted from the first moment of the local day. A bucket has ended when the first moment after it is at or before now.
 * @returns buckets in order; they meet without gaps. Empty when the range lies wholly in the future.
 */
export function bucketsOf(span: Span, unit: Unit, now: number, calendar: Calendar): Bucket[] {
  const buckets: Bucket[] = []
  if (span.until <= span.from) return buckets
  const add = (start: number, end: number, key: string) => {
    const open = end > now
    // A range that runs on to now does not cut its last bucket: that one is open.
    const cut = start < span.from || (end > span.until && !open)
    buckets.push({ start, end, key, open, cut })
  }
  if (unit === 'hour') {
    for (let start = startOfHour(span.from, calendar.zone), end; start < span.until; start = end) {
      end = endOfHour(start, calendar.zone)
      add(start, end, hourKey(start, calendar.zone))
    }
    return markCutByRange(buckets, span, now, calendar)
  }
  for (const { start, end, key } of edgesFrom(span, unit, calendar)) add(start, end, key)
  return markCutByRange(buckets, span, now, calendar)
}

interface Edges {
  start: number
  end: number
  key: string
}

/** Edges worked out before: the calendar's arithmetic costs more than most scans. */
const known = new Map<string, Edges[]>()

/** The calendar's days, weeks, months, quarters or years from the one that holds the span's start to the one that holds its end. */
function edgesFrom(span: Span, unit: Unit, { zone, firstDayOfWeek }: Calendar): Edges[] {
  const name = `${span.firstDay} ${unit} ${zone} ${firstDayOfWeek}`
  let edges = known.get(name)
  if (!edges) {
    if (known.size > 500) known.clear()
    known.set(name, (edges = []))
  }
  while ((edges.at(-1)?.end ?? -Infinity) < span.until) {
    const last = edges.at(-1)
    const day = last
      ? addUnits(Temporal.PlainDate.from(last.key), 1, unit)
      : startOfUnit(Temporal.PlainDate.from(span.firstDay), unit, { zone, firstDayOfWeek })
    edges.push({ start: startOfDay(day, zone), end: startOfDay(addUnits(day, 1, unit), zone), key: day.toString() })
  }
  return edges.slice(0, edges.findIndex(({ end }) => end >= span.until) + 1)
}

/** The last bucket of an absolute range may be open and cut at once: 1 to 20 of a month, asked on the 15th. */
function markCutByRange(buckets: Bucket[], span: Span, now: number, calendar: Calendar): Bucket[] {
  const last = buckets.at(-1)
  if (last && span.end !== undefined && last.end > span.end) last.cut = true
  if (last?.open && span.until <= now) {
    last.cut = true
    const rangeEnd = startOfDay(Temporal.PlainDate.from(span.lastDay).add({ days: 1 }), calendar.zone)
    if (rangeEnd <= now) last.open = false
  }
  return buckets
}

function hourKey(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms)
    .toZonedDateTimeISO(zone)
    .toString({ smallestUnit: 'minute', timeZoneName: 'never' })
}

/** How many buckets a span has, without making them. */
export function countBuckets(span: Span, unit: Unit): number {
  const lengths = {
    hour: HOUR,
    day: 24 * HOUR,
    week: 168 * HOUR,
    month: 28 * 24 * HOUR,
    quarter: 90 * 24 * HOUR,
    year: 365 * 24 * HOUR,
  }
  return Math.ceil((span.until - span.from) / lengths[unit])
}

/**
 * Finds the bucket of a moment in constant time, by a table over the quarters of the range.
 */
export interface Grid {
  /** epoch ms, included */
  from: number
  /** epoch ms, not included */
  until: number
  /** start of the table's first quarter */
  origin: number
  /** bucket by quarter of an hour since `origin` */
  bucketOfQuarter: Uint16Array
  buckets: number
}

export function gridOf(span: Pick<Span, 'from' | 'until'>, buckets: readonly Pick<Bucket, 'end'>[]): Grid {
  const origin = Math.floor(span.from / QUARTER) * QUARTER
  const quarters = Math.max(0, Math.ceil((span.until - origin) / QUARTER))
  const bucketOfQuarter = new Uint16Array(quarters)
  let bucket = 0
  for (let quarter = 0; quarter < quarters; quarter++) {
    const at = origin + quarter * QUARTER
    while (bucket + 1 < buckets.length && at >= buckets[bucket].end) bucket++
    bucketOfQuarter[quarter] = bucket
  }
  return { from: span.from, until: span.until, origin, bucketOfQuarter, buckets: buckets.length }
}

/** The bucket of a moment that lies in the grid's range. */
export function bucketAt(grid: Grid, ms: number): number {
  return grid.bucketOfQuarter[((ms - grid.origin) / QUARTER) | 0]
}
