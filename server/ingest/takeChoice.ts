import { z } from 'zod'
import { LIMITS } from './limits.js'

const ms = z.number().min(-LIMITS.latestMs).max(LIMITS.latestMs)
/** What can be taken back. */
export const takeChoiceSchema = z.discriminatedUnion('of', [
  z.strictObject({ of: z.literal('import'), id: z.string().min(1).max(100) }),
  /** what a key sent, by the time of receipt, both ends included */
  z.strictObject({ of: z.literal('key'), id: z.string().min(1).max(100), fromMs: ms, untilMs: ms }),
  z.strictObject({ of: z.literal('event'), name: z.string().min(1).max(LIMITS.nameChars) }),
  /** all events of whoever has this id */
  z.strictObject({
    of: z.literal('person'),
    space: z.enum(['known', 'anonymous']).default('known'),
    id: z.string().min(1).max(LIMITS.idChars),
  }),
  z.strictObject({ of: z.literal('events'), ids: z.array(z.string().min(1).max(LIMITS.idChars)).min(1).max(5000) }),
])
export type TakeChoice = z.infer<typeof takeChoiceSchema>
