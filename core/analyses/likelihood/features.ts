import type { CodedValue } from '../../log/dictionary.js'

/** One thing that is known of people before. */
export type FeatureOf =
  /** logarithm of 1 + how often */
  | { of: 'count'; event: string }
  /** days since the last one; `back` where there is none */
  | { of: 'last'; event: string }
  /** logarithm of 1 + local days on which it was done */
  | { of: 'days'; event: string }
  /** logarithm of 1 + days since first seen */
  | { of: 'seen' }
  /** 1 = has this value, or has it in a list */
  | { of: 'value'; property: string; value: string | boolean }
  /** 1 = has no value */
  | { of: 'none'; property: string }
  | { of: 'number'; property: string }

export type Feature = FeatureOf & {
  /** what those have of whom nothing is known; all numbers are told from it on */
  usual: number
  /** of the people trained on, from `usual` on */
  mean: number
  /** by n; 1 where it is a yes or no */
  deviation: number
}

/** A feature that a model looks at, in the order of its columns. */
export type Weighed = Feature & { weight: number }

/** Where the features of people are found, with names as codes; can be sent to a thread. */
export interface FeaturePlaces {
  /** by place of a behaviour: the columns of its count, its last and its days, −1 = none */
  behaviours: Int32Array
  /** the column of days since first seen, −1 = none */
  seen: number
  properties: PropertyPlaces[]
  size: number
}

export interface PropertyPlaces {
  code: number
  /** by code of a value, 0 = none: its column, −1 = none */
  ofCode: Int32Array
  /** by code of a list: the columns of its elements */
  ofList: ReadonlyMap<number, readonly number[]>
  number: number
  /** what its numbers are told from */
  usual: number
}

/** Which of the features are meant, told apart from others. */
export function featureKey(feature: FeatureOf): string {
  switch (feature.of) {
    case 'count':
    case 'last':
    case 'days':
      return JSON.stringify([feature.of, feature.event])
    case 'value':
      return JSON.stringify([feature.of, feature.property, feature.value])
    case 'none':
    case 'number':
      return JSON.stringify([feature.of, feature.property])
    case 'seen':
      return 'seen'
  }
}

/** The values that a coded value stands for: each element of a list. */
export function elementsOf(value: CodedValue | null | undefined): readonly (string | boolean)[] {
  if (value === null || value === undefined) return []
  return typeof value === 'string' || typeof value === 'boolean' ? [value] : [...new Set(value)]
}

/** The event or the profile property that a feature is told by; null = neither. */
export const featureName = (feature: FeatureOf): { event: string } | { property: string } | null =>
  'event' in feature ? { event: feature.event } : 'property' in feature ? { property: feature.property } : null
