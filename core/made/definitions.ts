import { z } from 'zod'
import type { SessionPart } from '../sessions/properties.js'
import { filterSchema, propertySchema, type Filter } from '../questions/parts.js'

/**
 * What a workspace makes of its events without changing them: merged names, combined events, derived properties, channel
 * rules. All of it is applied when events are read, so it holds for the past as well and can be taken back.
 */

const name = z.string().trim().min(1, 'give it a name').max(200)

/** Where a recipe reads a value: a property, the event's source, or the event's own time. */
export const inputSchema = z.union([propertySchema, z.strictObject({ of: z.literal('time') })])
export type InputRef = z.infer<typeof inputSchema>

/** What a rule or look-up gives: a text, a number, or another property's value. */
export const givenSchema = z.union([
  z.strictObject({ text: z.string().min(1, 'say what the rule gives').max(500) }),
  z.strictObject({ number: z.number() }),
  z.strictObject({ property: propertySchema }),
])
export type Given = z.infer<typeof givenSchema>

export const dateParts = ['weekday', 'hour', 'day of month', 'day', 'week', 'month', 'year'] as const
export const linkParts = ['host', 'path', 'first folder', 'file ending', 'query value'] as const

const rowSchema = z.strictObject({ where: filterSchema as z.ZodType<Filter>, gives: givenSchema })
export type RuleRow = z.infer<typeof rowSchema>

/** How a derived property is worked out. */
export const recipeSchema = z.discriminatedUnion('kind', [
  /** arithmetic on number properties, by their names */
  z.strictObject({ kind: z.literal('arithmetic'), formula: z.string().max(2000) }),
  /** texts one after another; no value where any property has none */
  z.strictObject({
    kind: z.literal('joined'),
    parts: z
      .array(z.union([z.strictObject({ text: z.string().max(200) }), z.strictObject({ property: propertySchema })]))
      .min(1, 'join at least one property')
      .max(20),
  }),
  /** a part of a date, in the workspace's time zone */
  z.strictObject({ kind: z.literal('date part'), input: inputSchema, part: z.enum(dateParts) }),
  /** a part of a link; `key` names the query's value */
  z.strictObject({
    kind: z.literal('link part'),
    input: propertySchema,
    part: z.enum(linkParts),
    key: z.string().max(100).optional(),
  }),
  /** the first row that holds gives the value; `otherwise` is the fallback, none = no value */
  z.strictObject({
    kind: z.literal('rules'),
    rows: z.array(rowSchema).max(200),
    otherwise: givenSchema.optional(),
  }),
  /** a list of values and what each becomes; values not in it stay as they are unless `otherwise` says else */
  z.strictObject({
    kind: z.literal('look-up'),
    input: propertySchema,
    table: z.array(z.tuple([z.string().max(500), z.string().max(500)])).max(5000),
    otherwise: z.union([z.literal('as it is'), z.literal('no value'), z.strictObject({ text: name })]),
  }),
  /** of a person: the value of an event's property at the first of their events that carries one, or at the latest */
  z.strictObject({ kind: z.literal('touch'), which: z.enum(['first', 'latest']), property: propertySchema }),
  /** of a person: how likely they are to do what a study asks, in percent, or in which tenth they stand; as of now */
  z.strictObject({
    kind: z.literal('chance'),
    /** read and checked by the registry, at the door */
    study: z.looseObject({ kind: z.literal('likelihood') }),
    part: z.enum(['score', 'tenth']),
  }),
])
export type Recipe = z.infer<typeof recipeSchema>

/** A property that is worked out from others. `of` says whether each event has a value of its own, or each person. */
export const derivedSchema = z.strictObject({
  name,
  of: z.enum(['event', 'person']),
  description: z.string().max(1000).default(''),
  /** shown among the channel rules */
  channels: z.literal(true).optional(),
  recipe: recipeSchema,
})
export type Derived = z.infer<typeof derivedSchema>

/** Several event types counted as one, with properties each made from the right property of each type. */
export const combinedSchema = z.strictObject({
  name,
  description: z.string().max(1000).default(''),
  events: z.array(z.string().min(1).max(200)).min(2, 'choose at least two events').max(20),
  properties: z
    .array(
      z.strictObject({
        name,
        /** event → its property; an event that is left out has no value */
        from: z.record(z.string(), z.string().min(1).max(200)),
      }),
    )
    .max(50)
    .default([]),
})
export type Combined = z.infer<typeof combinedSchema>

/** Everything that is made from what arrives. */
export interface Mending {
  /** old event → the one it is counted as */
  mergedEvents: Record<string, string>
  /** old property → the one it is read as */
  mergedProperties: { of: 'event' | 'person'; from: string; into: string }[]
  combined: Combined[]
  derived: Derived[]
}

export const NOTHING_MENDED: Mending = { mergedEvents: {}, mergedProperties: [], combined: [], derived: [] }

/** A recipe of the store's own: of merged and combined properties, which read raw columns by name, and of sessions. */
export type InnerRecipe =
  | Recipe
  | { kind: 'first of'; names: string[] }
  | { kind: 'by event'; from: Record<string, string> }
  | { kind: 'session'; part: SessionPart }
