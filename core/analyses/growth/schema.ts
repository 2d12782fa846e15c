import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { pickSchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { growthStates, growthForms, type GrowthQuestion, usualGrowth } from './question.js'

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
  breakdowns: breakdownsSchema.optional(),
  among: amongSchema.optional(),
  show: z
    .strictObject({
      form: z.enum(growthForms),
      state: z.enum(growthStates).optional(),
      at: z.string().max(40).optional(),
    })
    .default({ form: 'states' }),
})

export function parseGrowth(input: unknown): { question: GrowthQuestion; faults: Fault[] } {
  return parseLeniently(growthSchema, input, usualGrowth('…'))
}
