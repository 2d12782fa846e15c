import { Temporal } from 'temporal-polyfill'
import type { PropertyRef } from '../questions/parts.js'
import type { Span } from '../time/range.js'

/** What was paid for one value of a touch property, on a day or over seven days from one on. */
export interface CostRow {
  /** local day, as `2026-10-08` */
  day: string
  days: 1 | 7
  value: string
  /** in the workspace's currency, 0 or more */
  amount: number
}

/** What costs are told apart by: what touches are. */
export type CostsBy = PropertyRef | { of: 'event name' }

export const costsKey = (by: CostsBy): string => JSON.stringify('name' in by ? [by.of, by.name] : [by.of])

/** So many rows a table of costs holds at most. */
export const MOST_COSTS = 50_000

/** Costs of a time, by value. */
export interface CostsIn {
  /** by value */
  amounts: ReadonlyMap<string, number>
  total: number
  /** local days of the time for which no value has a row, in runs, oldest first; both ends included */
  missing: { from: string; to: string; days: number }[]
  /** rows of seven days of which only a part lies in the time: they count by their days in it */
  parts: number
  days: number
}

/**
 * Adds up what was paid in a time, whole local days. Of a row of seven days that reach over its edge each day counts a
 * seventh.
 */
export function costsIn(rows: readonly CostRow[], { firstDay, lastDay }: Pick<Span, 'firstDay' | 'lastDay'>): CostsIn {
  const first = dayNumber(firstDay)
  const last = dayNumber(lastDay)
  const days = Math.max(0, last - first + 1)
  const isCovered = new Uint8Array(days)
  const amounts = new Map<string, number>()
  let [total, parts] = [0, 0]
  for (const row of rows) {
    const from = dayNumber(row.day)
    const [begin, end] = [Math.max(from, first), Math.min(from + row.days - 1, last)]
    if (begin > end) continue
    if (end - begin + 1 < row.days) parts++
    const amount = (row.amount * (end - begin + 1)) / row.days
    amounts.set(row.value, (amounts.get(row.value) ?? 0) + amount)
    total += amount
    isCovered.fill(1, begin - first, end - first + 1)
  }
  const missing: CostsIn['missing'] = []
  for (let at = 0; at < days; at++) {
    if (isCovered[at] === 1) continue
    const from = at
    while (at + 1 < days && isCovered[at + 1] === 0) at++
    missing.push({ from: dayText(first + from), to: dayText(first + at), days: at - from + 1 })
  }
  return { amounts, total, missing, parts, days }
}

const EPOCH = Temporal.PlainDate.from('1970-01-01')
const DAY_MS = 86_400_000

/** Days since 1970 of a local day: of calendar days no clock changes. */
export const dayNumber = (day: string): number => Date.parse(`${day}T00:00:00Z`) / DAY_MS
export const dayText = (number: number): string => EPOCH.add({ days: number }).toString()

/** The last day of a row. */
export const lastDayOf = ({ day, days }: Pick<CostRow, 'day' | 'days'>): string => dayText(dayNumber(day) + days - 1)

/** The days that rows reach over, both included; null where there is none. */
export function periodOf(rows: readonly CostRow[]): { from: string; to: string } | null {
  let [from, to] = ['', '']
  for (const row of rows) {
    const last = lastDayOf(row)
    if (from === '' || row.day < from) from = row.day
    if (last > to) to = last
  }
  return from === '' ? null : { from, to }
}

/** `1234.5`, `1,234.50` or `1234,5`, also with a currency's sign before or after it; null where it is none of them. */
export function readAmount(text: string): number | null {
  const bare = text.trim().replace(/^(-?)\p{Sc}\s?|\s?\p{Sc}$/gu, '$1')
  const plain = /^-?\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(bare)
    ? bare.replaceAll(',', '')
    : bare.replace(/,(?=\d+$)/, '.')
  return /^-?\d+(?:\.\d+)?$/.test(plain) ? Number(plain) : null
}
