import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { pickSchema, type EventPick } from '../../questions/parts.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

/** What a person is in an interval (how numbers are counted, 9); whoever has not done it yet is none of them. */
export const growthStates = ['new', 'retained', 'revived', 'lapsed', 'idle'] as const
export type GrowthState = (typeof growthStates)[number]

export const growthForms = ['states', 'shares', 'one', 'net', 'quick', 'kept', 'flows'] as const
/**
 * Active people above the line and lapsed ones below; shares of everyone seen so far; one state by itself; net growth;
 * quick ratio; retention rate; from which state people came.
 */
export type GrowthForm = (typeof growthForms)[number]

/** So many days, cut backwards from the end of the range; or calendar weeks or months. */
export type GrowthInterval = { days: number } | { unit: 'week' | 'month' }

export interface GrowthQuestion {
  kind: 'growth'
  start: EventPick
  interval: GrowthInterval
  range: Range
  among?: Among | undefined
  show: {
    form: GrowthForm
    /** of one state */
    state?: GrowthState | undefined
    /** of flows: the interval they lead to, by its key; left out: the last full one */
    at?: string | undefined
  }
}

export const growthSchema: z.ZodType<GrowthQuestion> = z.strictObject({
  kind: z.literal('growth'),
  start: pickSchema,
  interval: z.union([
    z.strictObject({
      days: z.int('a whole number of days').min(1, 'at least 1 day').max(366, 'at most 366 days'),
    }),
    z.strictObject({ unit: z.enum(['week', 'month']) }),
  ]),
  range: rangeSchema,
  among: amongSchema.optional(),
  show: z
    .strictObject({
      form: z.enum(growthForms),
      state: z.enum(growthStates).optional(),
      at: z.string().max(40).optional(),
    })
    .default({ form: 'states' }),
})

export function usualGrowth(event: string): GrowthQuestion {
  return {
    kind: 'growth',
    start: { event: { names: [event] } },
    interval: { unit: 'week' },
    range: { last: 12, unit: 'week' },
    show: { form: 'states' },
  }
}

export function parseGrowth(input: unknown): { question: GrowthQuestion; faults: Fault[] } {
  return parseLeniently(growthSchema, input, usualGrowth('…'))
}
