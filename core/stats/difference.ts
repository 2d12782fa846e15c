import { wilson, type Interval } from './proportion.js'

/**
 * 95 % interval of the difference of two proportions, put together from their Wilson intervals (Newcombe's hybrid score
 * method): it stays inside −1 to 1 and holds for small counts as well.
 * @returns null where a group is empty
 */
export function differenceInterval(
  a: { part: number; whole: number },
  b: { part: number; whole: number },
): Interval | null {
  const [x, y] = [wilson(a.part, a.whole), wilson(b.part, b.whole)]
  if (!x || !y) return null
  const [p, q] = [a.part / a.whole, b.part / b.whole]
  const low = Math.sqrt((p - x.low) ** 2 + (y.high - q) ** 2)
  const high = Math.sqrt((x.high - p) ** 2 + (q - y.low) ** 2)
  return { low: p - q - low, high: p - q + high }
}
