import { z } from 'zod'

/** Where in its result people are counted: who is in which of the segments. */
export const overlapMark = z.strictObject({
  kind: z.literal('part'),
  /** places of the segments that the part lies in; the others it lies outside of */
  in: z.array(z.int().min(0).max(19)).min(1).max(20),
  /** whatever else they are in */
  more: z.literal(true).optional(),
})
export type OverlapMark = z.infer<typeof overlapMark>
