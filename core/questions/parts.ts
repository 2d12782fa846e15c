import { z } from 'zod'

/** The parts that all kinds of question are made of. A schema is the type, the API's contract and the editors'. */

/** Where a value is read: from the event, from the person's profile, or the event's source. */
export const propertySchema = z.union([
  z.strictObject({ of: z.enum(['event', 'person']), name: z.string().min(1).max(200) }),
  z.strictObject({ of: z.literal('source') }),
])
export type PropertyRef = z.infer<typeof propertySchema>

export const textOperators = [
  'is',
  'is not',
  'contains',
  'does not contain',
  'starts with',
  'ends with',
  'matches',
] as const
export const numberOperators = ['=', '≠', '<', '≤', '>', '≥', 'between'] as const
export const dateOperators = ['before', 'after', 'between days', 'in the last'] as const
export const plainOperators = ['has a value', 'has no value', 'is true', 'is false'] as const

const localDayText = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'a day as 2026-10-08')

/** One condition on one property. What it compares with depends on the operator. */
export const conditionSchema = z.union([
  z.strictObject({
    property: propertySchema,
    op: z.enum(['is', 'is not']),
    values: z.array(z.string().max(8192)).max(500),
    ignoreCase: z.literal(true).optional(),
  }),
  z.strictObject({
    property: propertySchema,
    op: z.enum(['contains', 'does not contain', 'starts with', 'ends with', 'matches']),
    text: z.string().max(8192),
    ignoreCase: z.literal(true).optional(),
  }),
  z.strictObject({ property: propertySchema, op: z.enum(['=', '≠', '<', '≤', '>', '≥']), number: z.number() }),
  z.strictObject({ property: propertySchema, op: z.literal('between'), numbers: z.tuple([z.number(), z.number()]) }),
  z.strictObject({ property: propertySchema, op: z.enum(['before', 'after']), day: localDayText }),
  z.strictObject({
    property: propertySchema,
    op: z.literal('between days'),
    days: z.tuple([localDayText, localDayText]),
  }),
  z.strictObject({
    property: propertySchema,
    op: z.literal('in the last'),
    last: z.int().min(1).max(1000),
    unit: z.enum(['hour', 'day', 'week', 'month', 'quarter']),
  }),
  z.strictObject({ property: propertySchema, op: z.enum(plainOperators) }),
])
export type Condition = z.infer<typeof conditionSchema>
export type Operator = Condition['op']

/** A tree of AND (`all`) and OR (`any`) over conditions. An empty `all` holds always, an empty `any` never. */
export const filterSchema = z.union([
  conditionSchema,
  z.strictObject({
    get all(): z.ZodArray<z.ZodType<Filter>> {
      return z.array(filterSchema as z.ZodType<Filter>).max(50)
    },
  }),
  z.strictObject({
    get any(): z.ZodArray<z.ZodType<Filter>> {
      return z.array(filterSchema as z.ZodType<Filter>).max(50)
    },
  }),
])
export type Filter = Condition | { all: Filter[] } | { any: Filter[] }

/** Which events: any of the named types, or any activity (every type that is not passive). */
export const eventChoiceSchema = z.union([
  z.strictObject({ names: z.array(z.string().min(1).max(200)).min(1).max(20) }),
  z.strictObject({ activity: z.literal(true) }),
])
export type EventChoice = z.infer<typeof eventChoiceSchema>

/** Which events, and which of them. */
export const pickSchema = z.strictObject({
  event: eventChoiceSchema,
  where: (filterSchema as z.ZodType<Filter>).optional(),
})

/** "for each …": the N largest groups are kept, the rest become *Everything else*. */
export const breakdownSchema = z.strictObject({ by: propertySchema, keep: z.int().min(1).max(50).default(10) })
export type Breakdown = z.infer<typeof breakdownSchema>

/** The value that makes a group, as it stands in results and marks; null = no value, a day for dates. */
export const groupKeySchema = z.union([
  z.strictObject({ value: z.union([z.string(), z.number(), z.boolean(), z.null()]) }),
  z.strictObject({ rest: z.literal(true) }),
])
export type GroupKey = z.infer<typeof groupKeySchema>

/** A part of a study's result that people can be read from: a point of a trend, a step of a funnel. */
export const markSchema = z.union([
  z.strictObject({
    kind: z.literal('point'),
    /** key of the bucket; left out = the whole range */
    bucket: z.string().max(40).optional(),
    group: groupKeySchema.optional(),
  }),
  z.strictObject({
    kind: z.literal('step'),
    step: z.int().min(0).max(49),
    /** reached = filled the step; lost = filled it and not the next; open = lost so far, but may still go on */
    what: z.enum(['reached', 'lost', 'open']),
    group: groupKeySchema.optional(),
  }),
])
export type Mark = z.infer<typeof markSchema>

/** Studies within studies: deeper than this is refused. */
export const MOST_DEPTH = 6

export function groupId(group: GroupKey | undefined): string {
  if (!group) return 'all'
  return 'rest' in group ? 'rest' : JSON.stringify(group.value)
}
