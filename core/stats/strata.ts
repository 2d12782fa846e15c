import { twoSidedP, Z95 } from './proportion.js'

/** People of one stratum: those who did something, and the others, each with those the outcome came for. */
export interface Stratum {
  did: { part: number; whole: number }
  others: { part: number; whole: number }
}

export interface WithinStrata {
  /** the difference of the two rates, put together over the strata */
  difference: number
  low: number
  high: number
  /** that in no stratum the outcome goes with having done it; null where nothing varies within any */
  p: number | null
}

/**
 * What is left of a difference of two proportions when only people of one stratum are compared with each other: the
 * Mantel–Haenszel risk difference with Sato's variance (Sato 1989), which holds for few large strata and for many small
 * ones, and the Cochran–Mantel–Haenszel test without continuity correction.
 * @param z of the interval; 1.959964 for 95 %
 * @returns null where no stratum has people on both sides
 */
export function withinStrata(strata: readonly Stratum[], z = Z95): WithinStrata | null {
  let [weight, weighted, ps, qs, off, spread] = [0, 0, 0, 0, 0, 0]
  for (const { did, others } of strata) {
    const [x, n, y, m] = [did.part, did.whole, others.part, others.whole]
    const all = n + m
    if (n === 0 || m === 0) continue
    weight += (n * m) / all
    weighted += (x * m - y * n) / all
    ps += (n * n * y - m * m * x + (n * m * (m - n)) / 2) / (all * all)
    qs += (x * (m - y) + y * (n - x)) / (2 * all)
    const came = x + y
    off += x - (n * came) / all
    if (all > 1) spread += (n * m * came * (all - came)) / (all * all * (all - 1))
  }
  if (weight === 0) return null
  const difference = weighted / weight
  const half = (z * Math.sqrt(Math.max(0, difference * ps + qs))) / weight
  return {
    difference,
    low: Math.max(-1, difference - half),
    high: Math.min(1, difference + half),
    p: spread > 0 ? twoSidedP(off / Math.sqrt(spread)) : null,
  }
}
