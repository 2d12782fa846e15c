import type { Weighed } from './features.js'
import type { KeptModel } from './model.js'

/** One chance in a hundred that two are told apart that are not. */
export const Z99 = 2.575829

/** The interval of ranks is a little narrow where few are told of: with 2.58 deviations 1.4 of 100 models of chance told. */
const CLEARLY = 3

/** Whether it is better than chance, clearly. */
export function isTelling({ told }: KeptModel): boolean {
  return told.auc !== null && told.auc.value - CLEARLY * Math.sqrt(told.auc.variance) > 0.5
}

/** What weighs most, for and against: by how much likelihoods differ over a standard deviation. */
export function heaviest({ features }: Pick<KeptModel, 'features'>): { feature: Weighed; pull: number }[] {
  return features
    .map((feature) => ({ feature, pull: pullOf(feature) }))
    .sort((a, b) => Math.abs(b.pull) - Math.abs(a.pull))
}

/** The weight over a standard deviation: of a yes or no, by how many have it. */
export function pullOf({ of, weight, mean }: Weighed): number {
  return of === 'value' || of === 'none' ? weight * Math.sqrt(mean * (1 - mean)) : weight
}
