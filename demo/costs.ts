import { Temporal } from 'temporal-polyfill'
import type { CostRow } from '../core/costs/costs.js'
import { Random } from './random.js'

/** About what a week of each channel costs, in the workspace's currency: the newspaper weighs most. */
const WEEKLY: Readonly<Record<string, number>> = {
  'Harbour News': 420,
  'Other advertising': 260,
  Search: 310,
  Mailing: 45,
}
const FIRST = Temporal.PlainDate.from('2025-12-29')
const LAST = Temporal.PlainDate.from('2026-11-16')
const SEED = 77

/** What the city's bikes paid for advertising, by week and channel; the same on every machine. */
export function weeklyCosts(): CostRow[] {
  const random = new Random(SEED)
  const rows: CostRow[] = []
  for (let week = FIRST; Temporal.PlainDate.compare(week, LAST) <= 0; week = week.add({ weeks: 1 })) {
    // In the warm months more is spent.
    const season = week.month >= 4 && week.month <= 9 ? 1.25 : 0.85
    for (const [value, usual] of Object.entries(WEEKLY)) {
      const amount = Math.round(usual * season * random.between(0.9, 1.1) * 100) / 100
      rows.push({ day: week.toString(), days: 7, value, amount })
    }
  }
  return rows
}
