import { quantile } from '../stats/quantile.js'

/** How many people a segment has, and what it has lately been between. */
export interface ExpectedSize {
  now: number
  /** 10th and 90th percentile of the sizes at the ends of the last whole local days; null where there is no such day yet */
  usual: { low: number; high: number } | null
  /** so many whole days were looked at */
  days: number
}

/** So many whole days are looked at. */
export const EXPECTED_DAYS = 28

/** @param sizes at the ends of whole local days, the newest last */
export function expectedSize(now: number, sizes: readonly number[]): ExpectedSize {
  const sorted = sizes.slice(-EXPECTED_DAYS).sort((a, b) => a - b)
  const [low, high] = [quantile(sorted, 0.1), quantile(sorted, 0.9)]
  return { now, usual: low === null || high === null ? null : { low, high }, days: sorted.length }
}
