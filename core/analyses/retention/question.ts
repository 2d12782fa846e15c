import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { pickSchema, propertySchema, type EventPick, type PropertyRef } from '../../questions/parts.js'
import { breakdownSchema, type Breakdown } from '../../questions/split.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

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
  /** one at most; read at the start */
  breakdowns?: Breakdown[] | undefined
  among?: Among | undefined
  show: RetentionShow
}

const dayNumber = z.int('a whole number of days').min(0, 'day 0 or later').max(1000, 'at most day 1,000')

export const retentionSchema: z.ZodType<RetentionQuestion> = z
  .strictObject({
    kind: z.literal('retention'),
    start: pickSchema,
    first: z.literal(true).optional(),
    back: pickSchema.optional(),
    every: z.enum(retentionUnits),
    range: rangeSchema,
    by: z.literal('clock').optional(),
    count: z.literal('from').optional(),
    brackets: z
      .array(
        z.tuple([dayNumber, dayNumber]).refine(([low, high]) => low <= high, 'a last day that is not before the first'),
      )
      .min(1, 'at least one span of days')
      .max(MOST_BRACKETS, `at most ${MOST_BRACKETS} spans of days`)
      .refine((list) => list.every(([low], i) => i === 0 || low > list[i - 1][1]), 'spans in order that do not overlap')
      .optional(),
    upTo: z.int().min(1, 'at least 1').max(MOST_PERIODS, `at most ${MOST_PERIODS}`).optional(),
    measure: z.enum(['people', 'events', 'events per person', 'sum', 'per person']).optional(),
    of: propertySchema.optional(),
    cumulated: z.literal(true).optional(),
    breakdowns: z.array(breakdownSchema).max(1, 'one breakdown at most').optional(),
    among: amongSchema.optional(),
    show: z
      .strictObject({
        form: z.enum(retentionForms),
        at: z.int().min(0).max(MOST_PERIODS).optional(),
        each: z.literal(true).optional(),
        turned: z.literal(true).optional(),
      })
      .default({ form: 'curve' }),
  })
  .superRefine(({ measure, cumulated, count }, context) => {
    const wrong = (message: string, ...path: string[]) => context.addIssue({ code: 'custom', message, path })
    if (cumulated && !cumulates(measure)) wrong('a measure that adds up: events or a sum', 'cumulated')
    if (cumulated && count) wrong('either added up so far or from the period on, not both', 'cumulated')
  })

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
    every: 'week',
    range: { last: 12, unit: 'week' },
    show: { form: 'curve' },
  }
}

export function parseRetention(input: unknown): { question: RetentionQuestion; faults: Fault[] } {
  return parseLeniently(retentionSchema, input, usualRetention('…'))
}

/** What counts as coming back. */
export function backOf({ start, back }: Pick<RetentionQuestion, 'start' | 'back'>): EventPick {
  return back ?? start
}
