import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { breakdownSchema, pickSchema, type Breakdown, type EventChoice, type Filter } from '../../questions/parts.js'
import { rangeSchema, units, type Range, type Unit } from '../../time/range.js'
import { amongSchema, type PeopleRef } from '../people.js'

export const trendMeasures = ['people', 'events', 'events per person'] as const
export type TrendMeasure = (typeof trendMeasures)[number]
export const trendForms = ['lines', 'stacked', 'bars', 'figure'] as const
export type TrendForm = (typeof trendForms)[number]

export interface TrendSeries {
  event: EventChoice
  where?: Filter | undefined
  measure: TrendMeasure
}

/** "How many people did X each week over …, for each …?" */
export interface TrendQuestion {
  kind: 'trend'
  series: TrendSeries[]
  every: Unit
  range: Range
  /** at most one so far */
  breakdowns?: Breakdown[] | undefined
  among?: PeopleRef | undefined
  /** how the result is drawn; changes no number */
  show: { form: TrendForm; as: 'number' | 'share' }
}

export const trendSchema: z.ZodType<TrendQuestion> = z.strictObject({
  kind: z.literal('trend'),
  series: z.array(pickSchema.extend({ measure: z.enum(trendMeasures) })).length(1, 'exactly one series'),
  every: z.enum(units),
  range: rangeSchema,
  breakdowns: z.array(breakdownSchema).max(1, 'one breakdown at most').optional(),
  among: amongSchema.optional(),
  show: z
    .strictObject({ form: z.enum(trendForms), as: z.enum(['number', 'share']) })
    .default({ form: 'lines', as: 'number' }),
})

export function usualTrend(event: string): TrendQuestion {
  return {
    kind: 'trend',
    series: [{ event: { names: [event] }, measure: 'people' }],
    every: 'week',
    range: { last: 12, unit: 'week' },
    show: { form: 'lines', as: 'number' },
  }
}

export function parseTrend(input: unknown): { question: TrendQuestion; faults: Fault[] } {
  return parseLeniently(trendSchema, input, usualTrend('…'))
}
