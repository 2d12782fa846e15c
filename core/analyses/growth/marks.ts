import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: what people are in an interval. */
export const growthMark = z.strictObject({
  kind: z.literal('state'),
  /** what they are in an interval; any of these */
  states: z
    .array(z.enum(['new', 'retained', 'revived', 'lapsed', 'idle']))
    .min(1)
    .max(5),
  /** first local day of the interval; left out = the last one that is over */
  interval: z.string().max(40).optional(),
  /** and were in the one before */
  from: z.enum(['new', 'retained', 'revived', 'lapsed', 'idle', 'unseen']).optional(),
  group: groupKeySchema.optional(),
})
export type GrowthMark = z.infer<typeof growthMark>
