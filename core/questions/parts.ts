import type { TimeLimit } from './limits.js'
import { plainOperators, windowUnits } from './vocabulary.js'
import { z } from 'zod'
import './issueWords.js'

/** The parts that all kinds of question are made of. A schema is the type, the API's contract and the editors'. */

/** Where a value is read: from the event, from the person's profile, or the event's source. */
export const propertySchema = z.union([
  z.strictObject({ of: z.literal('event'), name: z.string().min(1).max(200) }),
  z.strictObject({
    of: z.literal('person'),
    name: z.string().min(1).max(200),
    /** as it is now; left out: as it was then, at the moment asked about */
    now: z.literal(true).optional(),
  }),
  z.strictObject({ of: z.literal('source') }),
])
export type PropertyRef = z.infer<typeof propertySchema>

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
    unit: z.enum(['hour', 'day', 'week', 'month', 'quarter', 'year']),
  }),
  z.strictObject({ property: propertySchema, op: z.enum(plainOperators) }),
])
export type Condition = z.infer<typeof conditionSchema>
export type Operator = Condition['op']

/** A condition on a property of the person. */
export const profileConditionSchema: z.ZodType<Condition> = conditionSchema.refine(
  ({ property }) => property.of === 'person',
  { message: 'a property of the person', path: ['property'] },
)

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

export interface EventPick {
  event: EventChoice
  where?: Filter | undefined
}
export const timeLimitSchema: z.ZodType<TimeLimit> = z.strictObject({
  count: z.int('a whole number').min(1, 'at least 1').max(1000, 'at most 1,000'),
  unit: z.enum(windowUnits),
})

/** One value that makes a group, as it stands in results and marks; null = no value, a day for dates. */
export const valueKeySchema = z.union([
  z.strictObject({ value: z.union([z.string(), z.number(), z.boolean(), z.null()]) }),
  /** numbers from the first (included) up to the second; null = no bound; `closed` = the second is included as well */
  z.strictObject({
    range: z.tuple([z.number().nullable(), z.number().nullable()]),
    closed: z.literal(true).optional(),
  }),
  /** 1 = Monday … 7 = Sunday, of the event's time in the workspace's zone */
  z.strictObject({ weekday: z.int().min(1).max(7) }),
  /** 0 to 23, the hour on the workspace's clock */
  z.strictObject({ hour: z.int().min(0).max(23) }),
  /** the members of a segment, by its place among those side by side; the name is what it was called */
  z.strictObject({ side: z.int().min(0).max(63), name: z.string().max(300) }),
])
export type ValueKey = z.infer<typeof valueKeySchema>

/** What makes a group: a value, one of each of several breakdowns, or everything else. */
export const groupKeySchema = z.union([
  ...valueKeySchema.options,
  z.strictObject({ each: z.array(valueKeySchema).min(2).max(3) }),
  z.strictObject({ rest: z.literal(true) }),
  /** of a breakdown read at a later step: those who did not get there */
  z.strictObject({ unreached: z.literal(true) }),
])
export type GroupKey = z.infer<typeof groupKeySchema>

/** One row's or column's own part of its name, in a table of rows within rows. */
export const nestedKeySchema = z.union([...valueKeySchema.options, z.strictObject({ rest: z.literal(true) })])
export type NestedKey = z.infer<typeof nestedKeySchema>
