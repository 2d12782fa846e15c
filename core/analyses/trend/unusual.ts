import { Temporal } from 'temporal-polyfill'
import jStat from 'jstat'
import type { Bucket } from '../../time/buckets.js'
import type { Unit } from '../../time/range.js'
import { mean } from '../../stats/quantile.js'
import type { TrendQuestion } from './question.js'

/** So many of the same weekdays before are looked at, and at least so many of them must have a figure. */
export const WEEKS_BEFORE = 8
const LEAST_BEFORE = 6
/** Of a hundred usual points, about one lies outside by chance. */
const CHANCE = 0.01

export interface UnusualPoint {
  bucket: number
  value: number
  /** what the weeks before let expect */
  low: number
  high: number
  /** two-sided, of this point by itself */
  p: number
}

/**
 * Days and weeks whose figure lies outside what the same weekdays of the eight weeks before let expect: the 99 %
 * prediction interval from their mean and standard deviation (t distribution). Counts vary at least as chance makes
 * them, by the square root of their mean. Open and cut buckets are never unusual. Only days and weeks are looked at.
 */
export function unusualPoints(
  values: readonly (number | null)[],
  buckets: readonly Bucket[],
  every: Unit,
  isCount: boolean,
): UnusualPoint[] {
  if (every !== 'day' && every !== 'week') return []
  const byDay = new Map(buckets.map(({ key, open, cut }, index) => [key, open || cut ? null : values[index]]))
  return buckets.flatMap(({ key, open, cut }, bucket) => {
    const value = values[bucket]
    if (open || cut || value === null) return []
    const day = Temporal.PlainDate.from(key)
    const before = Array.from({ length: WEEKS_BEFORE }, (_, k) =>
      byDay.get(day.subtract({ weeks: k + 1 }).toString()),
    ).filter((x) => x !== null && x !== undefined)
    const expected = before.length >= LEAST_BEFORE ? expect(before, isCount) : null
    if (!expected || (value >= expected.low && value <= expected.high)) return []
    const { low, high, pOf } = expected
    return [{ bucket, value, low, high, p: pOf(value) }]
  })
}

/** The unusual points of a line as it is shown: only numbers as they are, neither smoothed nor turned into something else. */
export function unusualIn(
  line: { unit: string; row: { values: readonly (number | null)[] } },
  buckets: readonly Bucket[],
  question: TrendQuestion,
): UnusualPoint[] {
  if (question.smooth || question.show.as !== 'number') return []
  return unusualPoints(line.row.values, buckets, question.every, line.unit === 'people' || line.unit === 'count')
}

function expect(before: readonly number[], isCount: boolean) {
  const n = before.length
  const middle = mean(before)!
  const variance = before.reduce((sum, x) => sum + (x - middle) ** 2, 0) / (n - 1)
  const spread = Math.sqrt(Math.max(variance, isCount ? middle : 0) * (1 + 1 / n))
  const reach = jStat.studentt.inv(1 - CHANCE / 2, n - 1) * spread
  return {
    low: isCount ? Math.max(0, middle - reach) : middle - reach,
    high: middle + reach,
    pOf: (value: number) =>
      spread > 0 ? 2 * jStat.studentt.cdf(-Math.abs(value - middle) / spread, n - 1) : value === middle ? 1 : 0,
  }
}
