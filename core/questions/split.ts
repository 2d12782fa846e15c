import { ruleSchema } from '../segments/ruleSchema.js'
import { MOST_SIDES, MOST_SPLITS } from './vocabulary.js'
import { z } from 'zod'
import { propertySchema, valueKeySchema } from './parts.js'

/** People side by side: a saved segment's members or all others, everybody, or those of a rule that has no name of its own. */
export const sideSchema = z.union([
  z.strictObject({ segment: z.string().min(1).max(40), not: z.literal(true).optional() }),
  z.strictObject({ everybody: z.literal(true) }),
  z.strictObject({ name: z.string().trim().min(1, 'a name').max(60), rule: ruleSchema }),
])
export type Side = z.infer<typeof sideSchema>
export const sidesSchema = z.strictObject({
  of: z.literal('segments'),
  sides: z.array(sideSchema).min(1, 'at least one segment').max(MOST_SIDES, `at most ${MOST_SIDES} segments`),
  /** the groups are the parts that the segments make: in these of them and in no other */
  parts: z.literal(true).optional(),
})
export type SidesRef = z.infer<typeof sidesSchema>

/** What groups are made by: a property, when the event happened, or the segments people are in. */
export const splitRefSchema = z.union([
  propertySchema,
  z.strictObject({ of: z.enum(['weekday', 'hour']) }),
  sidesSchema,
])
export type SplitRef = z.infer<typeof splitRefSchema>

/** How numbers are cut: into so many parts of equal width, or of equally many events, or at own points. */
export const cutsSchema = z.union([
  z.strictObject({ equal: z.enum(['width', 'count']), parts: z.int().min(2).max(50) }),
  z.strictObject({
    at: z
      .array(z.number())
      .min(1)
      .max(49)
      .refine((at) => at.every((x, i) => i === 0 || x > at[i - 1]), 'the cut points must rise'),
  }),
])
export type Cuts = z.infer<typeof cutsSchema>

/** "for each …" with all that can be chosen about the groups. */
export const splitSchema = z.strictObject({
  by: splitRefSchema,
  /** of several breakdowns the first one's holds, for their combinations */
  keep: z.int().min(1).max(50).default(10),
  cuts: cutsSchema.optional(),
  /** only these; the others are everything else */
  only: z.array(valueKeySchema).min(1).max(50).optional(),
  /** size = largest first; name = by name, number or time of week. Left out: by size for values, else by name */
  order: z.enum(['size', 'name']).optional(),
  hideRest: z.literal(true).optional(),
  hideNone: z.literal(true).optional(),
})
export type Split = z.infer<typeof splitSchema>

export const breakdownsSchema = z.array(splitSchema).max(MOST_SPLITS, 'three breakdowns at most')
