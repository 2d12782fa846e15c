import jStat from 'jstat'
import type { Interval } from './proportion.js'

/** Of some numbers: how many, their mean, and their variance, by n − 1. */
export interface Spread {
  count: number
  mean: number
  variance: number
}

/** Two-sided p of Welch's t-test; null where it cannot be tested. */
export function welch(a: Spread, b: Spread): number | null {
  return meansDiffer(a, b)?.p ?? null
}

/** A difference of two figures, with what chance allows. */
export interface Differing {
  /** a − b */
  difference: number
  /** of the difference, unpooled */
  variance: number
  /** 95 % */
  interval: Interval
  p: number
}

/** Two means by Welch's t-test, the interval by its own degrees of freedom; null where it cannot be tested. */
export function meansDiffer(a: Spread, b: Spread): Differing | null {
  if (a.count < 2 || b.count < 2) return null
  const [x, y] = [a.variance / a.count, b.variance / b.count]
  const variance = x + y
  if (!(variance > 0)) return null
  const difference = a.mean - b.mean
  const freedom = variance ** 2 / (x ** 2 / (a.count - 1) + y ** 2 / (b.count - 1))
  const half = jStat.studentt.inv(0.975, freedom) * Math.sqrt(variance)
  return {
    ...{ difference, variance, interval: { low: difference - half, high: difference + half } },
    p: 2 * (1 - jStat.studentt.cdf(Math.abs(difference) / Math.sqrt(variance), freedom)),
  }
}
