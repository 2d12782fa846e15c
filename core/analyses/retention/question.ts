import type { Range } from '../../time/range.js'
import type { EventPick, PropertyRef } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Among } from '../people.js'

export const retentionUnits = ['hour', 'day', 'week', 'month'] as const
export type RetentionUnit = (typeof retentionUnits)[number]

export const retentionMeasures = ['share', 'people', 'events', 'events per person', 'sum', 'per person'] as const
/**
 * What stands in a cell: the share of the cohort that came back, how many that are, what they did, how often each of
 * them did it, the sum of a property, or that sum for each person of the cohort.
 */
export type RetentionMeasure = (typeof retentionMeasures)[number]

export const retentionForms = ['curve', 'cohorts', 'over time'] as const
export type RetentionForm = (typeof retentionForms)[number]

/** More periods than this are refused. */
export const MOST_PERIODS = 100
export const MOST_BRACKETS = 12

export interface RetentionShow {
  form: RetentionForm
  /** the period that is looked at by itself, by its place; left out: a usual one */
  at?: number | undefined
  /** of the curve: a line for each cohort */
  each?: true | undefined
  /** of the cohorts: periods as rows */
  turned?: true | undefined
}

/** "Of people whose first X fell in a week of …, what share did Y in each later week?" */
export interface RetentionQuestion {
  kind: 'retention'
  start: EventPick
  /** only people whose first start ever lies in the range; left out: each person's first in the range */
  first?: true | undefined
  /** what counts as coming back; left out: the start again */
  back?: EventPick | undefined
  every: RetentionUnit
  range: Range
  /** clock = counted from the very moment of the start; left out: by the calendar */
  by?: 'clock' | undefined
  /** from the period on; left out: in the period */
  count?: 'from' | undefined
  /** own spans of days after the start, both ends included, in place of periods */
  brackets?: [number, number][] | undefined
  /** the last period; left out: as many as there are cohorts */
  upTo?: number | undefined
  /** left out: the share */
  measure?: Exclude<RetentionMeasure, 'share'> | undefined
  /** of sum and per person */
  of?: PropertyRef | undefined
  /** of events, sum and per person: each period with all before it */
  cumulated?: true | undefined
  /** up to three; what is of an event is read at the start */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: RetentionShow
}

/** Whether a measure can be added up from period to period. */
export function cumulates(measure: RetentionMeasure | undefined): boolean {
  return measure === 'events' || measure === 'sum' || measure === 'per person'
}

/** Whether a measure is of a property. */
export function isOfProperty(measure: RetentionMeasure | undefined): boolean {
  return measure === 'sum' || measure === 'per person'
}

export function usualRetention(event: string): RetentionQuestion {
  return {
    kind: 'retention',
    start: { event: { names: [event] } },
    first: true,
    every: 'week',
    range: { last: 12, unit: 'week' },
    show: { form: 'curve' },
  }
}

/** What counts as coming back. */
export function backOf({ start, back }: Pick<RetentionQuestion, 'start' | 'back'>): EventPick {
  return back ?? start
}
