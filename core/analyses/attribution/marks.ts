import { z } from 'zod'
import { groupKeySchema, valueKeySchema } from '../../questions/parts.js'
import { AGES, MOST_GOALS, MOST_TOLD } from './question.js'
import { modelSchema } from './schema.js'

const goal = z
  .int()
  .min(1)
  .max(MOST_GOALS - 1)
  .optional()
const touchKey = z.union([...valueKeySchema.options, z.strictObject({ rest: z.literal(true) })])
export type TouchKey = z.infer<typeof touchKey>

/** Which conversions people are read from. */
export const attributionMark = z.union([
  z.strictObject({
    kind: z.literal('credit'),
    /** the place of the conversion asked about, where it is not the first one */
    goal,
    /** what a touch of theirs has; left out: any conversion */
    value: touchKey.optional(),
    /** it earns credit by this model; left out: it is one of the touches */
    model: modelSchema.optional(),
    /** no touch was found */
    none: z.literal(true).optional(),
    /** so many touches are found for it; the most told apart stands for more as well */
    many: z.int().min(1).max(MOST_TOLD).optional(),
    /** the range of the time from the first touch, by its place among AGES */
    age: z.int().min(0).max(AGES.length).optional(),
    /** key of the bucket of the conversion */
    bucket: z.string().max(40).optional(),
    group: groupKeySchema.optional(),
  }),
  /** converted after touches of these values, runs of one value being one */
  z.strictObject({ kind: z.literal('touches'), goal, values: z.array(touchKey).min(1).max(30) }),
])
export type AttributionMark = z.infer<typeof attributionMark>
