import { z } from 'zod'
import { MOST_TIMES } from './question.js'

/** Who of the people asked about: by what they did early, and whether the outcome came. */
export const tippingMark = z.strictObject({
  kind: z.literal('early'),
  /** left out: whatever they did */
  event: z.string().max(200).optional(),
  /** at least so many times */
  times: z.int().min(1).max(MOST_TIMES).optional(),
  /** just so many times: the most told apart stands for more as well; 0 = not at all */
  exactly: z.int().min(0).max(MOST_TIMES).optional(),
  /** did not reach that count */
  not: z.literal(true).optional(),
  /** left out: whether it came or not */
  outcome: z.enum(['came', 'did not come']).optional(),
})
export type TippingMark = z.infer<typeof tippingMark>
