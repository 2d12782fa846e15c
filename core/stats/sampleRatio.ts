import jStat from 'jstat'

/** A split under this p is broken: whoever is in a variant is not there by chance alone. */
export const BROKEN = 0.001

/** People of each variant, and the weights they were to be shared by, while these held. */
export interface Stretch {
  people: readonly number[]
  weights: readonly number[]
}

export interface SampleRatio {
  chiSquare: number
  freedom: number
  p: number
  broken: boolean
}

/**
 * Pearson's χ² of people against the planned weights; stretches with weights of their own are each tested by themselves
 * and summed.
 * @returns null where nobody is there, or only one variant has weight
 */
export function sampleRatio(stretches: readonly Stretch[]): SampleRatio | null {
  let chiSquare = 0
  let freedom = 0
  for (const { people, weights } of stretches) {
    const all = people.reduce((a, b) => a + b, 0)
    const sum = weights.reduce((a, b) => a + b, 0)
    const shared = weights.filter((weight) => weight > 0).length
    if (all === 0 || shared < 2) continue
    freedom += shared - 1
    people.forEach((seen, i) => {
      const expected = (all * weights[i]) / sum
      // Somebody where nobody was to be: no split by these weights gives that.
      if (expected === 0) chiSquare += seen > 0 ? Infinity : 0
      else chiSquare += (seen - expected) ** 2 / expected
    })
  }
  if (freedom === 0) return null
  const p = chiSquare === Infinity ? 0 : 1 - jStat.chisquare.cdf(chiSquare, freedom)
  return { chiSquare, freedom, p, broken: p < BROKEN }
}
