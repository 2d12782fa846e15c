import { z } from 'zod'
import { groupKeySchema } from '../../questions/parts.js'
import { MOST_STEPS } from './question.js'
import { nodeSchema } from './schema.js'

/** What stands at a step: an event, whatever is not shown by itself, or nothing more. */
export const placeSchema = z.union([
  nodeSchema,
  z.strictObject({ rest: z.literal(true) }),
  z.strictObject({ ends: z.literal(true) }),
])
export type PathPlace = z.infer<typeof placeSchema>

/** Where in its result people are counted. */
export const pathsMark = z.union([
  z.strictObject({
    kind: z.literal('anchor'),
    /** of ways that have to get somewhere: those that did, or did not */
    got: z.boolean().optional(),
    /** of those that did not: their time is over */
    forGood: z.literal(true).optional(),
    group: groupKeySchema.optional(),
  }),
  z.strictObject({
    kind: z.literal('node'),
    /** counted from 1 */
    step: z.int().min(1).max(MOST_STEPS),
    place: placeSchema,
    /** only those who came from there, one step before */
    from: placeSchema.optional(),
    /** of those that end there: their time is over */
    forGood: z.literal(true).optional(),
    group: groupKeySchema.optional(),
  }),
  z.strictObject({
    kind: z.literal('way'),
    /** the whole way, without its start */
    nodes: z.array(nodeSchema).max(MOST_STEPS),
    /** of ways that have to get somewhere: it went on for more steps than are followed */
    more: z.literal(true).optional(),
    group: groupKeySchema.optional(),
  }),
  /** came by the start once more before the end of their way */
  z.strictObject({ kind: z.literal('loop'), group: groupKeySchema.optional() }),
])
export type PathsMark = z.infer<typeof pathsMark>
