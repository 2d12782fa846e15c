import jStat from 'jstat'
import { Temporal } from 'temporal-polyfill'
import { mean } from './quantile.js'

/** A rhythm is told of under this p-value. */
const RHYTHM = 0.01
/** The highest weekday is higher than the lowest by at least this share. */
const LEAST_APART = 0.1
const LEAST_DAYS = 28

/** The weekdays that are highest and lowest, 0 = Monday, with their means. */
export interface WeekRhythm {
  most: number
  least: number
  means: number[]
}

/**
 * Of days over at least four whole weeks: the weekday with the highest mean and the one with the lowest, where a one-way
 * analysis of variance over the weekdays says that they differ; else null.
 * @param under the p-value it has to be under
 * @param days whole ones, `2026-10-05`, each with its figure; null = a gap
 */
export function weekRhythm(days: readonly { day: string; value: number | null }[], under = RHYTHM): WeekRhythm | null {
  if (days.length < LEAST_DAYS) return null
  const byWeekday: number[][] = Array.from({ length: 7 }, () => [])
  for (const { day, value } of days)
    if (value !== null) byWeekday[Temporal.PlainDate.from(day).dayOfWeek - 1].push(value)
  const all = byWeekday.flat()
  if (byWeekday.some((values) => values.length < 3) || all.length === 0) return null
  const middle = mean(all)!
  const means = byWeekday.map((values) => mean(values)!)
  const between = byWeekday.reduce((sum, { length }, i) => sum + length * (means[i] - middle) ** 2, 0) / 6
  const within =
    byWeekday.reduce((sum, values, i) => sum + values.reduce((s, x) => s + (x - means[i]) ** 2, 0), 0) /
    (all.length - 7)
  if (!(within > 0) || 1 - jStat.centralF.cdf(between / within, 6, all.length - 7) >= under) return null
  const [most, least] = [means.indexOf(Math.max(...means)), means.indexOf(Math.min(...means))]
  return means[least] >= 0 && means[most] >= means[least] * (1 + LEAST_APART) ? { most, least, means } : null
}
