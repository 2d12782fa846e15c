import { twoSidedP, Z95, type Interval } from './proportion.js'
import { firstMore, firstNotLess } from './ranked.js'

/** How well a score tells two sorts of people apart: how often, of one of each, the one who did it has the higher score. */
export interface Auc extends Interval {
  value: number
  /** of the value, by DeLong */
  variance: number
}

interface Placed {
  value: number
  /** for each who did it: the share of those who did not with a lower score, ties half */
  ofDid: Float64Array
  /** for each who did not: the share of those who did with a higher one, ties half */
  ofNot: Float64Array
}

/** By midranks, in the order in which the two sorts come. */
function placed(scores: Float64Array, did: Uint8Array): Placed | null {
  const ranks = midranks(scores)
  const own = [midranks(scores.filter((_, i) => did[i] === 1)), midranks(scores.filter((_, i) => did[i] === 0))]
  const [n1, n0] = [own[0].length, own[1].length]
  if (n1 === 0 || n0 === 0) return null
  const ofDid = new Float64Array(n1)
  const ofNot = new Float64Array(n0)
  let [at1, at0, sum] = [0, 0, 0]
  for (let i = 0; i < scores.length; i++) {
    if (did[i] === 1) {
      sum += ofDid[at1] = (ranks[i] - own[0][at1]) / n0
      at1++
    } else {
      ofNot[at0] = 1 - (ranks[i] - own[1][at0]) / n1
      at0++
    }
  }
  return { value: sum / n1, ofDid, ofNot }
}

/** Ranks from 1; equal ones have the middle of theirs. */
function midranks(scores: Float64Array): Float64Array {
  const sorted = Float64Array.from(scores).sort()
  return scores.map((score) => (firstNotLess(sorted, score) + firstMore(sorted, score) + 1) / 2)
}

function covariance(a: Float64Array, b: Float64Array): number {
  const n = a.length
  if (n < 2) return 0
  let [meanA, meanB, sum] = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    meanA += a[i] / n
    meanB += b[i] / n
  }
  for (let i = 0; i < n; i++) sum += (a[i] - meanA) * (b[i] - meanB)
  return sum / (n - 1)
}

const shared = (a: Placed, b: Placed) =>
  covariance(a.ofDid, b.ofDid) / a.ofDid.length + covariance(a.ofNot, b.ofNot) / a.ofNot.length

function withInterval(own: Placed): Auc {
  const variance = shared(own, own)
  const half = Z95 * Math.sqrt(variance)
  return { value: own.value, variance, low: Math.max(0, own.value - half), high: Math.min(1, own.value + half) }
}

/**
 * The area under the curve by ranks, ties half, with DeLong's 95 % interval.
 * @param did 1 = did it
 * @returns null where all did it, or nobody
 */
export function auc(scores: Float64Array, did: Uint8Array): Auc | null {
  const own = placed(scores, did)
  return own && withInterval(own)
}

/** Two scores of the same people: each one's area, and their difference with its interval and p, by DeLong. */
export function compareAucs(
  a: Float64Array,
  b: Float64Array,
  did: Uint8Array,
): { a: Auc; b: Auc; difference: Interval & { value: number; p: number | null } } | null {
  const [one, other] = [placed(a, did), placed(b, did)]
  if (!one || !other) return null
  const variance = shared(one, one) + shared(other, other) - 2 * shared(one, other)
  const value = one.value - other.value
  const half = Z95 * Math.sqrt(Math.max(0, variance))
  const p = variance > 1e-15 ? twoSidedP(value / Math.sqrt(variance)) : null
  return {
    ...{ a: withInterval(one), b: withInterval(other) },
    difference: { value, low: value - half, high: value + half, p },
  }
}

/**
 * The area under the curve of a value that most people do not have.
 * @param values of those who have one, never 0; the others' is 0
 * @param did by value; `restDid` of the `rest` without one did it
 * @returns null where all did it, or nobody
 */
export function sparseAuc(values: Float64Array, did: Uint8Array, rest: number, restDid: number): number | null {
  const restNot = rest - restDid
  const lows = values.filter((_, i) => did[i] === 0).sort()
  const highs = values.filter((_, i) => did[i] === 1)
  const [yes, no] = [highs.length + restDid, lows.length + restNot]
  if (yes === 0 || no === 0) return null
  const below = firstNotLess(lows, 0)
  let won = restDid * (below + restNot / 2)
  for (const value of highs) won += (firstNotLess(lows, value) + firstMore(lows, value)) / 2 + (value > 0 ? restNot : 0)
  return won / (yes * no)
}
