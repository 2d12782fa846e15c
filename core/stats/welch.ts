import jStat from 'jstat'

/** Two-sided p of Welch's t-test; null where it cannot be tested. */
export function welch(a: Float64Array, b: Float64Array): number | null {
  if (a.length < 2 || b.length < 2) return null
  const [x, y] = [spread(a), spread(b)]
  const error = x.variance / a.length + y.variance / b.length
  if (!(error > 0)) return null
  const t = Math.abs(x.mean - y.mean) / Math.sqrt(error)
  const freedom =
    error ** 2 / ((x.variance / a.length) ** 2 / (a.length - 1) + (y.variance / b.length) ** 2 / (b.length - 1))
  return 2 * (1 - jStat.studentt.cdf(t, freedom))
}

function spread(values: Float64Array): { mean: number; variance: number } {
  let sum = 0
  for (const value of values) sum += value
  const mean = sum / values.length
  let squares = 0
  for (const value of values) squares += (value - mean) ** 2
  return { mean, variance: squares / (values.length - 1) }
}
