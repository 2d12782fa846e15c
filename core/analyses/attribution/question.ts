import type { EventPick, PropertyRef, ValueKey } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Range } from '../../time/range.js'
import type { Among } from '../people.js'

/** How the credit of a conversion is shared among the touches before it. */
export const plainModels = [
  'first',
  'last',
  'last other',
  'linear',
  'decay',
  '40-20-40',
  '20-20-60',
  '60-20-20',
  'participation',
  'removal',
  'shapley',
] as const
export type PlainModel = (typeof plainModels)[number]
/** Own weights of the first touch, all in the middle, and the last, in percent: they add up to 100. */
export interface OwnModel {
  own: [first: number, middle: number, last: number]
}
export type Model = PlainModel | OwnModel

/** Worked out from all paths at once, of all conversions together: those of people who did not convert count too. */
export const isOfAll = (model: Model): model is 'removal' | 'shapley' => model === 'removal' || model === 'shapley'

export const attributionForms = ['table', 'touches', 'early'] as const
export type AttributionForm = (typeof attributionForms)[number]
export const attributionUnits = ['day', 'week', 'month'] as const
export type AttributionUnit = (typeof attributionUnits)[number]

/** What touches are told apart by: a property of theirs, or which event they are. */
export type TouchBy = PropertyRef | { of: 'event name' }

export interface LookBack {
  count: number
  unit: 'day' | 'session'
}

/** "What brought people to Pass bought, by Channel?" */
export interface AttributionQuestion {
  kind: 'attribution'
  /** the conversions, told of side by side */
  goals: EventPick[]
  range: Range
  by: TouchBy
  lookBack: LookBack
  models: Model[]
  /** what a conversion counts: 1, or the number that it carries; of people the first of each. Left out: 1 */
  worth?: 'people' | { sum: PropertyRef } | undefined
  /** told over time; left out: of all the time together */
  every?: AttributionUnit | undefined
  /** only the first conversion ever of each person */
  first?: true | undefined
  /** only such events are touches; left out: all that carry what they are told apart by */
  touches?: EventPick | undefined
  /** touches of these values are none */
  leftOut?: ValueKey[] | undefined
  /** what counts as direct */
  direct?: ValueKey[] | undefined
  /** of time decay: after so many days a touch weighs half; left out: 7 */
  halfLife?: number | undefined
  /** beside what was paid for each value */
  costs?: true | undefined
  /** by what is known of the person, read at the conversion */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: {
    form: AttributionForm
    /** left out: as numbers */
    as?: 'share' | undefined
    /** the model that rows are ordered by, and the one told over time: its place; left out: the first */
    lead?: number | undefined
  }
}

export const MOST_GOALS = 3
export const MOST_MODELS = 6
/** So many values are told apart; the others are everything else. */
export const MOST_VALUES = 50
export const USUAL_HALF_LIFE = 7

export function usualAttribution(event = ''): AttributionQuestion {
  return {
    kind: 'attribution',
    goals: [{ event: { names: [event] } }],
    range: { last: 90, unit: 'day' },
    by: { of: 'source' },
    lookBack: { count: 30, unit: 'day' },
    models: ['last', 'first', 'linear'],
    show: { form: 'table' },
  }
}

/** The model that rows are ordered by. */
export function leadOf({ models, show }: Pick<AttributionQuestion, 'models' | 'show'>): Model {
  return models[show.lead ?? 0] ?? models[0]
}

export const modelId = (model: Model): string => (typeof model === 'string' ? model : `own ${model.own.join('-')}`)

/** Upper ends of the times from the first touch, ms; what is longer comes after. */
export const AGES: readonly number[] = [1, 24, 72, 168, 336, 720].map((hours) => hours * 3_600_000)

/** The range that a time lies in, by its place. */
export function ageAt(ms: number): number {
  const at = AGES.findIndex((end) => ms <= end)
  return at < 0 ? AGES.length : at
}

/** So many touches of a conversion are told apart; of more it is as many and more. */
export const MOST_TOLD = 10
