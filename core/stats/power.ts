import jStat from 'jstat'

/** The chance with which an effect is to be seen, and the chance at which nothing is taken for something. */
export const POWER = 0.8
export const ALPHA = 0.05

const quantile = (p: number) => jStat.normal.inv(p, 0, 1)

/**
 * People needed in the control to tell two shares apart, two-sided (method of two independent proportions, no
 * continuity correction; z unrounded).
 * @param r the other group's people for each of the control's
 * @param alpha two-sided
 * @returns a whole number; Infinity where the shares are equal
 */
export function sharesNeed(p1: number, p2: number, r = 1, alpha = ALPHA, power = POWER): number {
  return Math.ceil(needed(p1, p2, r, quantile(1 - alpha / 2), quantile(power)))
}

function needed(p1: number, p2: number, r: number, zAlpha: number, zPower: number): number {
  if (p1 === p2) return Infinity
  const p = (p1 + r * p2) / (1 + r)
  const spread = zAlpha * Math.sqrt((1 + 1 / r) * p * (1 - p))
  const own = zPower * Math.sqrt(p1 * (1 - p1) + (p2 * (1 - p2)) / r)
  return (spread + own) ** 2 / (p2 - p1) ** 2
}

/** People needed in each of two groups to tell two means apart. @param deviation of one person @param effect its size */
export function meansNeed(deviation: number, effect: number, alpha = ALPHA, power = POWER): number {
  return Math.ceil((2 * (quantile(1 - alpha / 2) + quantile(power)) ** 2 * deviation ** 2) / effect ** 2)
}

/**
 * The smallest gain of a share that so many people can show, by the same formula turned round.
 * @returns in points of 1; null where even all of the others could not show it
 */
export function smallestGain(p1: number, control: number, other: number, alpha = ALPHA, power = POWER): number | null {
  if (!(control > 0 && other > 0 && p1 < 1)) return null
  const [zAlpha, zPower] = [quantile(1 - alpha / 2), quantile(power)]
  const r = other / control
  const enough = (gain: number) => needed(p1, p1 + gain, r, zAlpha, zPower) <= control
  if (!enough(1 - p1)) return null
  let [low, high] = [0, 1 - p1]
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (middle > 0 && enough(middle)) high = middle
    else low = middle
  }
  return high
}
