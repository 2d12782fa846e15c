import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: a point, or a whole line. */
export const trendMark = z.strictObject({
  kind: z.literal('point'),
  /** key of the bucket; left out = the whole range */
  bucket: z.string().max(40).optional(),
  group: groupKeySchema.optional(),
  /** which series, or which formula; left out = the first series */
  series: z.int().min(0).max(19).optional(),
  formula: z.int().min(0).max(19).optional(),
  /** the period it is compared with; `bucket` is then one of that period's */
  before: z.literal(true).optional(),
  /** and not counted in this bucket of the same series and group */
  not: z.string().max(40).optional(),
})
export type TrendMark = z.infer<typeof trendMark>
