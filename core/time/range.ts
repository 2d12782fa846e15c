import type { SessionCuts } from '../sessions/settings.js'
import type { Steps } from '../steps.js'
import { Temporal } from 'temporal-polyfill'

export const units = ['hour', 'day', 'week', 'month', 'quarter', 'year'] as const
export type Unit = (typeof units)[number]

/**
 * Which time a question is about: the last N units (the current one and the N − 1 whole ones before it), from a day on,
 * or between two days, both included.
 */
export type Range = { last: number; unit: Unit } | { from: string; to?: string | undefined }

/** Whether a text is a local day that the calendar has, as `2026-10-08`. */
export function isLocalDay(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false
  try {
    return Temporal.PlainDate.from(text).toString() === text
  } catch {
    return false
  }
}

/** Whether a text names a time zone. */
export function isZone(text: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: text })
    return true
  } catch {
    return false
  }
}

/** The calendar of a workspace. */
export interface Calendar {
  /** IANA name */
  zone: string
  /** 1 = Monday … 7 = Sunday */
  firstDayOfWeek: number
  /** how people's time is cut into sessions; left out: after gaps of more than 30 minutes */
  sessions?: SessionCuts
}

/** About how many days a unit has. */
export const UNIT_DAYS: Readonly<Record<Unit, number>> = {
  ...{ hour: 1 / 24, day: 1, week: 7, month: 30.4, quarter: 91.3, year: 365.2 },
}

/** A range as moments. */
export interface Span {
  /** epoch ms, included */
  from: number
  /** epoch ms, not included; never later than a millisecond after now */
  until: number
  /** first and last local day, both included; the last is today's where the range runs on */
  firstDay: string
  lastDay: string
  /** the first moment after the days asked for, whether or not they are over; left out where the range runs on */
  end?: number
}

export function dayOf(ms: number, zone: string): Temporal.PlainDate {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate()
}

/** Starts of days asked for before: working one out anew costs more than scanning ten thousand events. */
const starts = new Map<string, number>()

/** First moment of a local day, epoch ms: not always midnight, where a clock change skips it. */
export function startOfDay(day: Temporal.PlainDate, zone: string): number {
  const key = `${day.toString()} ${zone}`
  let start = starts.get(key)
  if (start === undefined) {
    // Without a time of day, this is the first moment of the day that exists.
    start = day.toZonedDateTime(zone).epochMilliseconds
    if (starts.size > 50_000) starts.clear()
    starts.set(key, start)
  }
  return start
}

/**
 * Works out the starts of days ahead of the questions that will want them: those are many, and would all wait for it.
 * @param from epoch ms
 */
export function* knowDays(from: number, until: number, zone: string): Steps<void> {
  const last = dayOf(until, zone)
  for (let day = dayOf(from, zone), n = 0; Temporal.PlainDate.compare(day, last) <= 0; day = day.add({ days: 1 })) {
    startOfDay(day, zone)
    if (++n % 20 === 0) yield
  }
}

/** The first day of the week, month, quarter or year that a day lies in; the day itself for hours and days. */
export function startOfUnit(day: Temporal.PlainDate, unit: Unit, calendar: Calendar): Temporal.PlainDate {
  switch (unit) {
    case 'hour':
    case 'day':
      return day
    case 'week':
      return day.subtract({ days: (day.dayOfWeek - calendar.firstDayOfWeek + 7) % 7 })
    case 'month':
      return day.with({ day: 1 })
    case 'quarter':
      return day.with({ day: 1, month: Math.floor((day.month - 1) / 3) * 3 + 1 })
    case 'year':
      return day.with({ day: 1, month: 1 })
  }
}

/** `day` moved by n units; for hours, by nothing: hours are counted in real time. */
export function addUnits(day: Temporal.PlainDate, n: number, unit: Unit): Temporal.PlainDate {
  switch (unit) {
    case 'hour':
      return day
    case 'day':
      return day.add({ days: n })
    case 'week':
      return day.add({ weeks: n })
    case 'month':
      return day.add({ months: n })
    case 'quarter':
      return day.add({ months: 3 * n })
    case 'year':
      return day.add({ years: n })
  }
}

const HOUR = 3_600_000

/** The moments that a range covers, seen from `now` (epoch ms). It ends at now at the latest. */
export function spanOf(range: Range, now: number, calendar: Calendar): Span {
  const { zone } = calendar
  const today = dayOf(now, zone)
  if ('last' in range) {
    if (range.unit === 'hour') {
      let from = startOfHour(now, zone)
      for (let back = 1; back < range.last; back++) from = startOfHour(from - 1, zone)
      return { from, until: now + 1, firstDay: dayOf(from, zone).toString(), lastDay: today.toString() }
    }
    const first = addUnits(startOfUnit(today, range.unit, calendar), 1 - range.last, range.unit)
    return { from: startOfDay(first, zone), until: now + 1, firstDay: first.toString(), lastDay: today.toString() }
  }
  const first = Temporal.PlainDate.from(range.from)
  const last = range.to ? Temporal.PlainDate.from(range.to) : today
  const end = startOfDay(last.add({ days: 1 }), zone)
  const from = startOfDay(first, zone)
  return {
    from,
    until: Math.max(from, Math.min(end, now + 1)),
    firstDay: first.toString(),
    lastDay: (Temporal.PlainDate.compare(last, today) > 0 ? today : last).toString(),
    ...(range.to ? { end } : {}),
  }
}

/** The start of the hour that a moment lies in: real hours, counted from the first moment of the local day. */
export function startOfHour(ms: number, zone: string): number {
  const day = startOfDay(dayOf(ms, zone), zone)
  return day + Math.floor((ms - day) / HOUR) * HOUR
}

/** The end of an hour: that of a day which a clock change makes half an hour longer ends with half of one. */
export function endOfHour(start: number, zone: string): number {
  const next = startOfDay(dayOf(start, zone).add({ days: 1 }), zone)
  return Math.min(start + HOUR, next)
}
