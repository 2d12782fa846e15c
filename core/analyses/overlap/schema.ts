import { seriesSchema } from '../trend/schema.js'
import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { sideSchema } from '../../questions/split.js'
import { LEAST_OVERLAPPING, MOST_OVERLAPPING, type OverlapQuestion, usualOverlap } from './question.js'

export const overlapSchema: z.ZodType<OverlapQuestion> = z.strictObject({
  kind: z.literal('overlap'),
  sides: z
    .array(sideSchema)
    .min(LEAST_OVERLAPPING, 'at least two segments')
    .max(MOST_OVERLAPPING, `at most ${MOST_OVERLAPPING} segments`),
  figure: seriesSchema.optional(),
  range: rangeSchema,
  among: amongSchema.optional(),
})

export function parseOverlap(input: unknown): { question: OverlapQuestion; faults: Fault[] } {
  return parseLeniently(overlapSchema, input, usualOverlap('…'))
}
