import { twoSidedP } from './proportion.js'

/**
 * Whether a series of figures rises or falls: the Mann–Kendall test, which asks of every pair whether the later one is
 * larger, with the variance corrected for ties.
 * @returns tau (Kendall's, −1 to 1) and the two-sided p-value; null for fewer than 8 figures, or where all are equal
 */
export function mannKendall(values: readonly number[]): { tau: number; p: number } | null {
  const n = values.length
  if (n < 8) return null
  let s = 0
  for (let i = 0; i < n; i++) for (let j = i + 1; j < n; j++) s += Math.sign(values[j] - values[i])
  const ties = new Map<number, number>()
  for (const value of values) ties.set(value, (ties.get(value) ?? 0) + 1)
  let variance = n * (n - 1) * (2 * n + 5)
  for (const t of ties.values()) variance -= t * (t - 1) * (2 * t + 5)
  variance /= 18
  if (!(variance > 0)) return null
  const z = s === 0 ? 0 : (s - Math.sign(s)) / Math.sqrt(variance)
  return { tau: s / ((n * (n - 1)) / 2), p: twoSidedP(z) }
}
