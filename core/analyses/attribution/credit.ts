import type { Model, OwnModel } from './question.js'

/**
 * What is added up of each value that touches have. All plain models are arithmetic on these, so that another model asks
 * nothing anew.
 */
export const FIGURES = [
  /** worth of conversions whose only touch it is */
  'alone',
  /** of two touches, the first and the last */
  'first2',
  'last2',
  /** of three and more: the first, each in the middle its even share of them, the last */
  'first3',
  'middle3',
  'last3',
  'linear',
  'decay',
  /** the last that is not direct; where all are, the last */
  'other',
  /** every conversion that has such a touch, whole */
  'any',
  /** touches: the only one, the first, one in the middle, the last */
  'onlyTouches',
  'firstTouches',
  'middleTouches',
  'lastTouches',
  /** conversions, and people, that have such a touch */
  'conversions',
  'people',
] as const
/** So many of the last ones are plain counts; those before are worth what the conversion is, in parts. */
export const COUNTED = 6
export type Figure = (typeof FIGURES)[number]
export type Credit = Record<Figure, number>

/** Weights of the first touch, all in the middle, and the last, as parts of 1. */
type Weights = readonly [first: number, middle: number, last: number]

export const BY_POSITION: Partial<Record<Model & string, Weights>> = {
  '40-20-40': [0.4, 0.2, 0.4],
  '20-20-60': [0.2, 0.2, 0.6],
  '60-20-20': [0.6, 0.2, 0.2],
}

export function weightsOf(model: Model): Weights | null {
  if (typeof model === 'string') return BY_POSITION[model] ?? null
  return ofOwn(model)
}

function ofOwn({ own: [first, middle, last] }: OwnModel): Weights {
  return [first / 100, middle / 100, last / 100]
}

/**
 * The credit of a value by a model (how numbers are counted, 15), in conversions or in what they are worth; null for
 * those that are worked out from all paths at once.
 */
export function creditOf(credit: Credit, model: Model): number | null {
  const { alone, first2, last2, first3, middle3, last3 } = credit
  switch (model) {
    case 'first':
      return alone + first2 + first3
    case 'last':
      return alone + last2 + last3
    case 'last other':
      return credit.other
    case 'linear':
      return credit.linear
    case 'decay':
      return credit.decay
    case 'participation':
      return credit.any
    case 'removal':
    case 'shapley':
      return null
    default: {
      const [first, middle, last] = weightsOf(model)!
      // Of two touches there is none in the middle: its part goes to both ends as they weigh.
      const [start, end] = ends(first, last)
      return alone + start * first2 + end * last2 + first * first3 + middle * middle3 + last * last3
    }
  }
}

/** How two touches share a conversion between them. */
export function ends(first: number, last: number): [number, number] {
  const both = first + last
  return both > 0 ? [first / both, last / both] : [0.5, 0.5]
}

/** How a model shares one conversion among touches, oldest to newest; participation by value is not told of touches. */
export function sharesOf(
  model: Model,
  ages: readonly number[],
  direct: readonly boolean[],
  halfLifeMs: number,
): number[] {
  const n = ages.length
  const at = (place: number) => ages.map((_, i) => (i === place ? 1 : 0))
  switch (model) {
    case 'first':
      return at(0)
    case 'last':
      return at(n - 1)
    case 'last other': {
      const last = direct.lastIndexOf(false)
      return at(last < 0 ? n - 1 : last)
    }
    case 'decay': {
      const weights = ages.map((age) => 2 ** ((ages[n - 1] - age) / halfLifeMs))
      const sum = weights.reduce((a, b) => a + b, 0)
      return weights.map((weight) => weight / sum)
    }
    case 'participation':
      return ages.map(() => 1)
    case 'linear':
    case 'removal':
    case 'shapley':
      return ages.map(() => 1 / n)
    default: {
      const [first, middle, last] = weightsOf(model)!
      if (n === 1) return [1]
      if (n === 2) return ends(first, last)
      return ages.map((_, i) => (i === 0 ? first : i === n - 1 ? last : middle / (n - 2)))
    }
  }
}
