/**
 * Percentile by linear interpolation between the closest ranks.
 * @param sorted ascending
 * @param q 0 to 1
 * @returns null for nothing
 */
export function quantile(sorted: ArrayLike<number>, q: number): number | null {
  if (sorted.length === 0) return null
  const rank = q * (sorted.length - 1)
  const low = Math.floor(rank)
  const high = Math.min(low + 1, sorted.length - 1)
  return sorted[low] + (rank - low) * (sorted[high] - sorted[low])
}

/** null for nothing */
export function mean(values: ArrayLike<number>): number | null {
  if (values.length === 0) return null
  let sum = 0
  for (let i = 0; i < values.length; i++) sum += values[i]
  return sum / values.length
}
