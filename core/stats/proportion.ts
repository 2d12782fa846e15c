import jStat from 'jstat'

/** The z of a two-sided 95 % interval. */
export const Z95 = 1.959964

export interface Interval {
  low: number
  high: number
}

/**
 * 95 % Wilson score interval of a proportion.
 * @returns null for an empty denominator
 */
export function wilson(part: number, whole: number, z = Z95): Interval | null {
  if (!(whole > 0)) return null
  const p = part / whole
  const z2 = (z * z) / whole
  const middle = p + z2 / 2
  const half = z * Math.sqrt((p * (1 - p)) / whole + z2 / (4 * whole))
  return { low: Math.max(0, (middle - half) / (1 + z2)), high: Math.min(1, (middle + half) / (1 + z2)) }
}

/**
 * Two-sided two-proportion z-test with the pooled variance.
 * @returns z (positive when the first rate is higher) and p; null where a group is empty or nothing varies
 */
export function twoProportions(
  a: { part: number; whole: number },
  b: { part: number; whole: number },
): { z: number; p: number } | null {
  if (!(a.whole > 0 && b.whole > 0)) return null
  const pooled = (a.part + b.part) / (a.whole + b.whole)
  const variance = pooled * (1 - pooled) * (1 / a.whole + 1 / b.whole)
  if (!(variance > 0)) return null
  const z = (a.part / a.whole - b.part / b.whole) / Math.sqrt(variance)
  return { z, p: twoSidedP(z) }
}

/** Two-sided p-value of a standard normal z. */
export function twoSidedP(z: number): number {
  return jStat.erfc(Math.abs(z) / Math.SQRT2)
}

/** p-values adjusted by Benjamini–Hochberg, in the order given. */
export function benjaminiHochberg(ps: readonly number[]): number[] {
  const order = ps.map((_, i) => i).sort((a, b) => ps[b] - ps[a])
  const adjusted = new Array<number>(ps.length)
  let least = 1
  order.forEach((index, fromLargest) => {
    least = Math.min(least, (ps[index] * ps.length) / (ps.length - fromLargest))
    adjusted[index] = least
  })
  return adjusted
}

/** p-values adjusted by Holm, in the order given: the chance that any of them errs is kept. */
export function holm(ps: readonly number[]): number[] {
  const order = ps.map((_, i) => i).sort((a, b) => ps[a] - ps[b])
  const adjusted = new Array<number>(ps.length)
  let most = 0
  order.forEach((index, place) => {
    most = Math.max(most, Math.min(1, ps[index] * (ps.length - place)))
    adjusted[index] = most
  })
  return adjusted
}
