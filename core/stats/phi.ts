import { Z95 } from './proportion.js'

export interface Correlation {
  value: number
  low: number
  high: number
}

/**
 * Phi of a 2×2 table of people, with its 95 % interval by Fisher's z.
 * @param table how many have both, how many the first, how many the second, and how many there are
 * @returns null where everybody or nobody has the one or the other
 */
export function correlation(table: { both: number; first: number; second: number; all: number }): Correlation | null {
  const { both, first, second, all } = table
  const spread = first * (all - first) * second * (all - second)
  if (!(spread > 0)) return null
  const value = (both * all - first * second) / Math.sqrt(spread)
  // In whole numbers a table may be just past 1.
  const r = Math.max(-1, Math.min(1, value))
  if (Math.abs(r) === 1 || all <= 3) return { value: r, low: all <= 3 ? -1 : r, high: all <= 3 ? 1 : r }
  const half = Z95 / Math.sqrt(all - 3)
  return { value: r, low: Math.tanh(Math.atanh(r) - half), high: Math.tanh(Math.atanh(r) + half) }
}
