import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: how long it took to come again. */
export const gapsMark = z.strictObject({
  kind: z.literal('gap'),
  /** days from one time to the next, both included; left out = any longer */
  least: z.number().min(0),
  most: z.number().min(0).optional(),
  /** once = came on one day only; median = of whom the median gap is so long; left out: who have such a gap at all */
  of: z.enum(['once', 'median']).optional(),
  group: groupKeySchema.optional(),
})
export type GapsMark = z.infer<typeof gapsMark>
