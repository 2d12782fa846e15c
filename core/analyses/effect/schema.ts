import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema, timeLimitSchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { amongSchema } from '../peopleSchema.js'
import { effectForms, MOST_EFFECT_VARIANTS, usualEffect, type EffectQuestion } from './question.js'

const name = z.string().min(1, 'a name').max(200)

export const effectSchema: z.ZodType<EffectQuestion> = z.strictObject({
  kind: z.literal('effect'),
  message: name,
  variants: z.array(name).min(1).max(MOST_EFFECT_VARIANTS),
  nobodyAlone: z.literal(true).optional(),
  moving: z.literal(true).optional(),
  goal: pickSchema,
  within: timeLimitSchema,
  range: rangeSchema,
  breakdowns: breakdownsSchema.optional(),
  among: amongSchema.optional(),
  show: z.strictObject({ form: z.enum(effectForms) }).default({ form: 'effect' }),
})

export function parseEffect(input: unknown): { question: EffectQuestion; faults: Fault[] } {
  return parseLeniently(effectSchema, input, usualEffect('…'))
}
