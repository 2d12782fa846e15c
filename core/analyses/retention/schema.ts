import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { pickSchema, propertySchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import {
  retentionUnits,
  retentionForms,
  MOST_PERIODS,
  MOST_BRACKETS,
  type RetentionQuestion,
  cumulates,
  usualRetention,
} from './question.js'

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
    breakdowns: breakdownsSchema.optional(),
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

export function parseRetention(input: unknown): { question: RetentionQuestion; faults: Fault[] } {
  return parseLeniently(retentionSchema, input, usualRetention('…'))
}
