import { z } from 'zod'
import { groupKeySchema, timeLimitSchema } from '../../questions/parts.js'

/** Where in its result people are counted: a step, a time between two, or what a look at it shows. */
export const funnelMark = z.union([
  z.strictObject({
    kind: z.literal('step'),
    step: z.int().min(0).max(49),
    /** reached = filled the step; lost = filled it and not the next; open = lost so far, but may still go on; gone = lost for good */
    what: z.enum(['reached', 'lost', 'open', 'gone']),
    group: groupKeySchema.optional(),
    /** whose attempt began in this bucket */
    bucket: z.string().max(40).optional(),
    /** of the time it is compared with */
    before: z.literal(true).optional(),
  }),
  z.strictObject({
    kind: z.literal('took'),
    /** from one step to a later one, counted from 0 */
    from: z.int().min(0).max(49),
    to: z.int().min(1).max(49),
    /** ms, at least and under; left out = any longer time */
    least: z.number().min(0),
    under: z.number().min(0).optional(),
    group: groupKeySchema.optional(),
  }),
  z.strictObject({
    kind: z.literal('repeats'),
    /** did the step's event so often before going on; `more` = or more often */
    step: z.int().min(0).max(49),
    times: z.int().min(1).max(100_000),
    more: z.literal(true).optional(),
  }),
  z.strictObject({
    kind: z.literal('after'),
    /** those lost at the step who then did the event; null = nothing at all */
    step: z.int().min(0).max(49),
    event: z.string().max(200).nullable(),
    within: z.union([timeLimitSchema, z.literal('session')]),
  }),
  z.strictObject({
    kind: z.literal('with'),
    /** did the event, with the value of the property, on the way; and got through, or was lost */
    event: z.string().max(200),
    property: z.string().max(200).optional(),
    value: z.union([z.string().max(8192), z.boolean()]).optional(),
    through: z.boolean(),
  }),
  z.strictObject({
    kind: z.literal('way'),
    /** got through, and did these events between in this order; or only this one, whatever else */
    events: z.array(z.string().max(200)).max(20),
    only: z.literal(true).optional(),
  }),
])
export type FunnelMark = z.infer<typeof funnelMark>
