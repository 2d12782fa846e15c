import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: a cohort, and whether it came back. */
export const retentionMark = z.strictObject({
  kind: z.literal('cohort'),
  /** key of the bucket in which they started; left out = all cohorts, those where the period is complete */
  cohort: z.string().max(40).optional(),
  /** place of the period; left out = whatever they did later */
  period: z.int().min(0).max(100).optional(),
  /** not = did not come back (yet); gone = did not, and the period is over for them */
  what: z.enum(['started', 'returned', 'not', 'gone']),
  group: groupKeySchema.optional(),
})
export type RetentionMark = z.infer<typeof retentionMark>
