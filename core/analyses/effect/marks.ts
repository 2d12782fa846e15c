import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'

export const effectSteps = [
  ...(['entered', 'open', 'counted', 'goal', 'no goal'] as const),
  ...(['sent', 'delivered', 'opened', 'pressed', 'opted out'] as const),
] as const
/** `open`: their time is not over yet; `counted`: it is */
export type EffectStep = (typeof effectSteps)[number]

/** Where in its result people are counted: what became of whom. */
export const effectMark = z.strictObject({
  kind: z.literal('came'),
  step: z.enum(effectSteps),
  /** the variant's name; left out: any variant */
  variant: z.string().max(200).optional(),
  /** those left alone */
  alone: z.literal(true).optional(),
  group: groupKeySchema.optional(),
})
export type EffectMark = z.infer<typeof effectMark>
