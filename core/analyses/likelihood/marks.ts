import { z } from 'zod'

/** Who of the people there are now: by their place, from the likeliest on. */
export const likelihoodMark = z
  .strictObject({
    kind: z.literal('likely'),
    /** from this share on, in percent */
    from: z.number().min(0).max(100),
    /** up to that one */
    to: z.number().min(0).max(100),
  })
  .refine(({ from, to }) => from < to, { message: 'its end lies after its begin', path: ['to'] })
export type LikelihoodMark = z.infer<typeof likelihoodMark>
