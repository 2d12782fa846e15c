import { unit } from './unit.js'

/**
 * Which of several somebody goes to: the first in order whose cumulated weight ÷ sum is over the unit of `key:person`; the
 * last with weight takes what rounding leaves.
 * @returns its place
 */
export function assigned(key: string, person: string, weights: readonly number[]): number {
  return placeOf(unit(`${key}:${person}`), weights)
}

/** The same for a unit that is known. @param at in [0, 1) */
export function placeOf(at: number, weights: readonly number[]): number {
  const sum = weights.reduce((a, b) => a + b, 0)
  let cumulated = 0
  let last = 0
  for (let i = 0; i < weights.length; i++) {
    if (weights[i] > 0) last = i
    cumulated += weights[i]
    if (cumulated / sum > at) return i
  }
  return last
}
