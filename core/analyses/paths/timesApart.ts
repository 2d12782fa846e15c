import { rankedValues } from '../../stats/select.js'
import { welch, type Spread } from '../../stats/welch.js'

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
 * Compares the times of some ways with those of all others, time after time.
 * @param times ms, of every way, in no order
 * @returns asked with the bits of each way and which of them says that it is one of some: null where all are, or none
 */
export function timesApart(times: Float64Array): (own: ArrayLike<number>, bit?: number) => TimesApart | null {
  const whole = times.length
  const middle = whole > 0 ? logOf(rankedValues(times.slice(), (whole - 1) / 2)) : 0
  // In whole parts, which add up to the same in any order: people are read in whatever order threads come to them.
  const logs = times.map((ms) => Math.round((logOf(ms) - middle) * PARTS))
  const squares = logs.map((log) => Math.round(log ** 2 / PARTS))
  const all = { sum: total(logs), squares: total(squares) }
  const split = [new Float64Array(whole), new Float64Array(whole)]
  return (own, bit = 0) => {
    let count = 0
    const sums = { sum: 0, squares: 0 }
    for (let at = 0; at < whole; at++) {
      if (((own[at] >>> bit) & 1) === 0) split[0][at - count] = times[at]
      else {
        split[1][count++] = times[at]
        sums.sum += logs[at]
        sums.squares += squares[at]
      }
    }
    const others = whole - count
    if (count === 0 || others === 0) return null
    return {
      ...{ count, others },
      median: rankedValues(split[1].subarray(0, count), (count - 1) / 2),
      othersMedian: rankedValues(split[0].subarray(0, others), (others - 1) / 2),
      p: welch(spread(count, sums), spread(others, { sum: all.sum - sums.sum, squares: all.squares - sums.squares })),
    }
  }
}

/** A logarithm is told to so many parts of one. */
const PARTS = 2 ** 20
/** Times of less than a second are as one. */
const logOf = (ms: number) => Math.log(Math.max(1, ms / 1000))

function total(values: Float64Array): number {
  let sum = 0
  for (const value of values) sum += value
  return sum
}

function spread(count: number, { sum, squares }: { sum: number; squares: number }): Spread {
  const mean = sum / count / PARTS
  return { count, mean, variance: Math.max(0, squares / PARTS - count * mean ** 2) / (count - 1) }
}
