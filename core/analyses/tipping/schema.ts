import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema } from '../../questions/parts.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { amongSchema } from '../peopleSchema.js'
import {
  MOST_DAYS,
  MOST_OPENED,
  MOST_PERIOD,
  MOST_TIMES,
  tippingUnits,
  UNIT_LENGTH,
  usualTipping,
  type Outcome,
  type TippingQuestion,
} from './question.js'

export const outcomeSchema: z.ZodType<Outcome> = z.union([
  z.strictObject({
    unit: z.enum(tippingUnits),
    period: z.int('a whole number').min(1, 'period 1 or later').max(MOST_PERIOD, `at most ${MOST_PERIOD}`),
    from: z.literal(true).optional(),
    by: z.literal('clock').optional(),
  }),
  z.strictObject({
    days: z.int('whole days').min(1, 'at least 1 day').max(366, 'at most 366 days'),
    times: z.int('a whole number').min(2, 'at least 2').max(MOST_TIMES, `at most ${MOST_TIMES} times`).optional(),
  }),
])

export const tippingSchema: z.ZodType<TippingQuestion> = z
  .strictObject({
    kind: z.literal('tipping'),
    start: pickSchema,
    range: rangeSchema,
    days: z.int('whole days').min(1, 'at least 1 day').max(MOST_DAYS, `at most ${MOST_DAYS} days`),
    goal: pickSchema,
    outcome: outcomeSchema.default({ unit: 'week', period: 4 }),
    leftOut: z.array(z.string().min(1).max(200)).min(1).max(500).optional(),
    open: z
      .array(
        z.strictObject({
          event: z.strictObject({ names: z.array(z.string().min(1).max(200)).min(1).max(1) }),
          by: z.strictObject({ of: z.literal('event'), name: z.string().min(1).max(200) }),
          as: z.literal('different').optional(),
        }),
      )
      .min(1)
      .max(MOST_OPENED, `at most ${MOST_OPENED} events opened`)
      .optional(),
    count: z.literal('days').optional(),
    among: amongSchema.optional(),
    show: z
      .strictObject({
        form: z.literal('strips'),
        open: z.string().max(2000).optional(),
        trivial: z.literal(true).optional(),
      })
      .default({ form: 'strips' }),
  })
  .superRefine(({ days, outcome }, context) => {
    if ('unit' in outcome && days > outcome.period * UNIT_LENGTH[outcome.unit])
      context.addIssue({
        code: 'custom',
        message: `at most ${outcome.period * UNIT_LENGTH[outcome.unit]} days: after them ${outcome.unit} ${outcome.period} has begun, in which people are looked for`,
        path: ['days'],
      })
  })

export function parseTipping(input: unknown): { question: TippingQuestion; faults: Fault[] } {
  return parseLeniently(tippingSchema, input, usualTipping('…'))
}
