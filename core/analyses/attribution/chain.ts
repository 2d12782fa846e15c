import { DRAWS, drawWeights } from './draws.js'

/**
 * Removal effects in a chain of the first order, as E. Anderl, I. Becker, F. von Wangenheim and J. Schumann describe it
 * (Mapping the customer journey, 2016): what part of conversions would be lost if every way over a value led nowhere.
 *
 * With the start and the values as passing states, N = (I − Q)⁻¹ tells how often each is come by. A way that comes by a
 * value at all is lost with it, so the effect is the chance to come by it, times the chance to convert from there, over
 * the chance to convert from the start. One inverse serves all values.
 * @param steps how often each step was taken, by (from × (values + 3) + to): the start, each value, converted, not
 * @returns by value, 0 to 1
 */
export function removalEffects(steps: ArrayLike<number>, values: number): Float64Array {
  const states = values + 3
  const passing = values + 1
  const converted = states - 2
  const effects = new Float64Array(values)
  const wide = 2 * passing
  const table = new Float64Array(passing * wide)
  const toConverted = new Float64Array(passing)
  for (let from = 0; from < passing; from++) {
    let total = 0
    for (let to = 0; to < states; to++) total += steps[from * states + to]
    table[from * wide + from] = 1
    table[from * wide + passing + from] = 1
    if (total === 0) continue
    for (let to = 0; to < passing; to++) table[from * wide + to] -= steps[from * states + to] / total
    toConverted[from] = steps[from * states + converted] / total
  }
  // Gauss and Jordan, with the largest of a column as pivot.
  for (let column = 0; column < passing; column++) {
    let pivot = column
    for (let row = column + 1; row < passing; row++)
      if (Math.abs(table[row * wide + column]) > Math.abs(table[pivot * wide + column])) pivot = row
    const top = table[pivot * wide + column]
    if (top === 0) return effects
    for (let at = 0; at < wide; at++) {
      const value = table[pivot * wide + at] / top
      table[pivot * wide + at] = table[column * wide + at]
      table[column * wide + at] = value
    }
    for (let row = 0; row < passing; row++) {
      const factor = table[row * wide + column]
      if (row === column || factor === 0) continue
      for (let at = column; at < wide; at++) table[row * wide + at] -= factor * table[column * wide + at]
    }
  }
  const visits = (from: number, to: number) => table[from * wide + passing + to]
  const converts = (from: number) => {
    let chance = 0
    for (let to = 0; to < passing; to++) chance += visits(from, to) * toConverted[to]
    return chance
  }
  const fromStart = converts(0)
  if (!(fromStart > 0)) return effects
  for (let value = 0; value < values; value++) {
    const state = value + 1
    const reached = visits(0, state) / visits(state, state)
    effects[value] = Math.min(1, Math.max(0, (reached * converts(state)) / fromStart))
  }
  return effects
}

/** Parts of a whole as numbers stand to each other; nothing where all are 0. */
export function scaled(parts: ArrayLike<number>, whole: number): Float64Array {
  let sum = 0
  for (let i = 0; i < parts.length; i++) sum += parts[i]
  return Float64Array.from(parts, (part) => (sum > 0 ? (part / sum) * whole : 0))
}

/** The sum of numbers by group, each as often as the weights say; in four sums, since one waits for the one before. */
function weighed(taken: Float64Array, weights: Float64Array): number {
  let a = 0
  let b = 0
  let c = 0
  let d = 0
  for (let group = 0; group < taken.length; group += 4) {
    a += taken[group] * weights[group]
    b += taken[group + 1] * weights[group + 1]
    c += taken[group + 2] * weights[group + 2]
    d += taken[group + 3] * weights[group + 3]
  }
  return a + b + c + d
}

/**
 * The middle 95 of 100 draws of people, by value.
 * @param groups how often each step was taken, by group of people
 */
export function drawnIntervals(
  groups: ReadonlyMap<number, Float64Array>,
  values: number,
  whole: number,
): { low: number; high: number }[] {
  const weights = drawWeights()
  const drawn = Array.from({ length: DRAWS }, () => new Float64Array((values + 3) ** 2))
  for (const [step, taken] of groups)
    for (let draw = 0; draw < DRAWS; draw++) drawn[draw][step] = weighed(taken, weights[draw])
  const each = drawn.map((steps) => scaled(removalEffects(steps, values), whole))
  const edge = Math.floor(DRAWS * 0.025)
  return Array.from({ length: values }, (_, value) => {
    const own = Float64Array.from(each, (shares) => shares[value]).sort()
    return { low: own[edge], high: own[DRAWS - 1 - edge] }
  })
}
