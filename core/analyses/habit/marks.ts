import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

/** Where in its result people are counted: on how many days people turned up. */
export const habitMark = z.strictObject({
  kind: z.literal('days'),
  /** did it on exactly so many days of a period, or on more as well; left out: on any */
  days: z.int().min(1).max(31).optional(),
  more: z.literal(true).optional(),
  /** key of the period; left out = in any of them */
  bucket: z.string().max(40).optional(),
  /** on this day of the week, or at this hour of the day, by its place from 0 = Monday or midnight */
  place: z.int().min(0).max(23).optional(),
  group: groupKeySchema.optional(),
})
export type HabitMark = z.infer<typeof habitMark>
