import { quantile } from '../../stats/quantile.js'
import { welch } from '../../stats/welch.js'

/** How long the ways over an event took, beside those that do not go over it; times in ms. */
export interface TimesApart {
  count: number
  others: number
  median: number
  othersMedian: number
  /** of Welch's t-test on the logarithms of the times, which are far from even; null where nothing varies */
  p: number | null
}

/**
 * @param own times of the ways over the event, ascending
 * @param all those of all ways, ascending
 * @returns null where all ways go over it, or none does
 */
export function timesApart(own: Float64Array, all: Float64Array): TimesApart | null {
  const others = without(all, own)
  if (own.length === 0 || others.length === 0) return null
  return {
    ...{ count: own.length, others: others.length },
    ...{ median: quantile(own, 0.5)!, othersMedian: quantile(others, 0.5)! },
    p: welch(own.map(logOf), others.map(logOf)),
  }
}

/** Times of less than a second are as one. */
const logOf = (ms: number) => Math.log(Math.max(1, ms / 1000))

/** Two ascending lists, the second a part of the first: what is left of the first. */
function without(all: Float64Array, part: Float64Array): Float64Array {
  const left = new Float64Array(all.length - part.length)
  let n = 0
  let at = 0
  for (const value of all)
    if (at < part.length && part[at] === value) at++
    else left[n++] = value
  return left
}
