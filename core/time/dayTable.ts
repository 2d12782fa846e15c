import { Temporal } from 'temporal-polyfill'
import { QUARTER } from './quarter.js'
import { dayOf, startOfDay, type Calendar } from './range.js'

/** The local day of moments by quarters of an hour: what scans read to tell distinct days and weeks apart. */
export interface DayTable {
  /** start of the table's first quarter, epoch ms */
  origin: number
  /** by quarter since `origin`: days since the table's first */
  day: Uint16Array
  /** by day of the table: a number that is the same for days of one calendar week, and rises */
  week: Uint16Array
}

const known = new Map<string, DayTable>()

/** @returns a table that covers the moments from `from` up to, not including, `until`, epoch ms */
export function dayTable(from: number, until: number, { zone, firstDayOfWeek }: Calendar): DayTable {
  const first = dayOf(from, zone)
  const last = dayOf(Math.max(from, until), zone)
  const name = `${first.toString()} ${last.toString()} ${zone} ${firstDayOfWeek}`
  const had = known.get(name)
  if (had) return had
  const origin = startOfDay(first, zone)
  const quarters = Math.ceil((startOfDay(last.add({ days: 1 }), zone) - origin) / QUARTER)
  const day = new Uint16Array(quarters)
  const week: number[] = []
  const sinceMonday = (first.dayOfWeek - firstDayOfWeek + 7) % 7
  for (let at = first; Temporal.PlainDate.compare(at, last) <= 0; at = at.add({ days: 1 })) {
    const start = (startOfDay(at, zone) - origin) / QUARTER
    day.fill(week.length, start, (startOfDay(at.add({ days: 1 }), zone) - origin) / QUARTER)
    week.push(Math.floor((sinceMonday + week.length) / 7))
  }
  const table = { origin, day, week: Uint16Array.from(week) }
  if (known.size > 20) known.clear()
  known.set(name, table)
  return table
}
