import jStat from 'jstat'

/** Of some numbers: how many, their mean, and their variance, by n − 1. */
export interface Spread {
  count: number
  mean: number
  variance: number
}

/** Two-sided p of Welch's t-test; null where it cannot be tested. */
export function welch(a: Spread, b: Spread): number | null {
  if (a.count < 2 || b.count < 2) return null
  const [x, y] = [a.variance / a.count, b.variance / b.count]
  const error = x + y
  if (!(error > 0)) return null
  const t = Math.abs(a.mean - b.mean) / Math.sqrt(error)
  const freedom = error ** 2 / (x ** 2 / (a.count - 1) + y ** 2 / (b.count - 1))
  return 2 * (1 - jStat.studentt.cdf(t, freedom))
}
