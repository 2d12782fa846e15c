import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema } from '../../questions/parts.js'
import { amongSchema } from '../peopleSchema.js'
import {
  likelihoodForms,
  MOST_CUTS,
  MOST_DAYS,
  usualLikelihood,
  type Kept,
  type LikelihoodQuestion,
} from './question.js'

const keptSchema: z.ZodType<Kept> = z.union([
  z.strictObject({ event: z.string().min(1).max(200) }),
  z.strictObject({ property: z.string().min(1).max(200) }),
])
const days = z.int('whole days').min(1, 'at least 1 day').max(MOST_DAYS, `at most ${MOST_DAYS} days`)

export const likelihoodSchema: z.ZodType<LikelihoodQuestion> = z.strictObject({
  kind: z.literal('likelihood'),
  goal: pickSchema,
  days: days.default(14),
  back: days.optional(),
  again: z.literal(true).optional(),
  lately: z.literal(true).optional(),
  keep: z.array(keptSchema).min(1).max(100).optional(),
  retrain: z.literal('by hand').optional(),
  among: amongSchema.optional(),
  show: z
    .strictObject({
      form: z.enum(likelihoodForms),
      cuts: z
        .array(z.int('whole percent').min(1, 'at least 1 %').max(99, 'at most 99 %'))
        .min(1)
        .max(MOST_CUTS, `at most ${MOST_CUTS} cuts`)
        .refine((cuts) => cuts.every((cut, at) => at === 0 || cut > cuts[at - 1]), 'each further down than the last')
        .optional(),
    })
    .default({ form: 'quality' }),
})

export function parseLikelihood(input: unknown): { question: LikelihoodQuestion; faults: Fault[] } {
  return parseLeniently(likelihoodSchema, input, usualLikelihood('…'))
}
