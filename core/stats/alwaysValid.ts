import { ALPHA } from './power.js'
import type { Interval } from './proportion.js'

/** What a look at a running experiment finds: a difference, and the variance of that difference. */
export interface Look {
  difference: number
  /** unpooled */
  variance: number
}

/** What holds whenever somebody looks, and however often. */
export interface AlwaysValid {
  /** the smallest of all looks so far, at most 1 */
  p: number
  /** what the intervals of all looks have in common; null where nothing is left */
  interval: Interval | null
  /** looks that said something */
  looks: number
}

/**
 * The evidence of one look against no difference: the likelihood ratio of a difference drawn from a normal distribution
 * around 0 with the deviation τ (mixture sequential probability ratio test).
 */
export function evidence({ difference, variance }: Look, tau: number): number {
  const both = variance + tau ** 2
  return Math.sqrt(variance / both) * Math.exp((tau ** 2 * difference ** 2) / (2 * variance * both))
}

/**
 * p and interval that are valid at every look, taken together over all looks up to the last.
 * @param looks in the order they were made; one without variance says nothing
 * @param tau the smallest effect worth having, in the unit of the difference
 * @returns null where tau is not over 0 or no look says anything
 */
export function alwaysValid(looks: readonly Look[], tau: number, alpha = ALPHA): AlwaysValid | null {
  if (!(tau > 0)) return null
  let p = 1
  let low = -Infinity
  let high = Infinity
  let said = 0
  for (const look of looks) {
    const { difference, variance } = look
    if (!(variance > 0)) continue
    said++
    p = Math.min(p, 1 / evidence(look, tau))
    const both = variance + tau ** 2
    const half = Math.sqrt(((variance * both) / tau ** 2) * (2 * Math.log(1 / alpha) + Math.log(both / variance)))
    low = Math.max(low, difference - half)
    high = Math.min(high, difference + half)
  }
  return said === 0 ? null : { p, interval: low <= high ? { low, high } : null, looks: said }
}
