import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { pickSchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { gapForms, type GapsQuestion, usualGaps } from './question.js'

export const gapsSchema: z.ZodType<GapsQuestion> = z.strictObject({
  kind: z.literal('gaps'),
  start: pickSchema,
  range: rangeSchema,
  breakdowns: breakdownsSchema.optional(),
  among: amongSchema.optional(),
  show: z.strictObject({ form: z.enum(gapForms) }).default({ form: 'gaps' }),
})

export function parseGaps(input: unknown): { question: GapsQuestion; faults: Fault[] } {
  return parseLeniently(gapsSchema, input, usualGaps('…'))
}
