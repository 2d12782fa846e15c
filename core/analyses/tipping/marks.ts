import { z } from 'zod'
import { MOST_TIMES } from './question.js'

/** With one value of a property, or how many different ones. */
const valued = {
  by: z.strictObject({ of: z.literal('event'), name: z.string().min(1).max(200) }).optional(),
  is: z.union([z.string(), z.boolean(), z.null()]).optional(),
}

/** Who of the people asked about: by what they did early, and whether the outcome came. */
export const tippingMark = z.strictObject({
  kind: z.literal('early'),
  /** left out: whatever they did */
  event: z.string().max(200).optional(),
  ...valued,
  /** at least so many times */
  times: z.int().min(1).max(MOST_TIMES).optional(),
  /** just so many times: the most told apart stands for more as well; 0 = not at all */
  exactly: z.int().min(0).max(MOST_TIMES).optional(),
  /** did not reach that count */
  not: z.literal(true).optional(),
  /** another behaviour, reached as well, or not */
  also: z
    .strictObject({
      event: z.string().max(200),
      ...valued,
      times: z.int().min(1).max(MOST_TIMES).optional(),
      exactly: z.int().min(0).max(MOST_TIMES).optional(),
      not: z.literal(true).optional(),
    })
    .optional(),
  /** the value that a property of theirs had at the start; null = no value */
  of: z
    .strictObject({
      property: z.strictObject({ of: z.literal('person'), name: z.string().min(1).max(200) }),
      value: z.union([z.string(), z.boolean(), z.null()]),
    })
    .optional(),
  /** not those whose outcome is known, but those whose first days are not over, as far as they have come */
  left: z.literal(true).optional(),
  /** left out: whether it came or not */
  outcome: z.enum(['came', 'did not come']).optional(),
})
export type TippingMark = z.infer<typeof tippingMark>
