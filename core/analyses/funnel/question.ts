import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import {
  eventChoiceSchema,
  filterSchema,
  propertySchema,
  timeLimitSchema,
  type EventChoice,
  type EventPick,
  type Filter,
  type PropertyRef,
  type TimeLimit,
} from '../../questions/parts.js'
import { breakdownSchema, type Breakdown } from '../../questions/split.js'
import { localDay, rangeSchema, units, type Range, type Unit } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

/** More steps than this are refused. */
export const MOST_STEPS = 20
/** So many events may be forbidden. */
export const MOST_FORBIDDEN = 10

export const entryOperators = ['=', '≠', '<', '≤', '>', '≥'] as const

/** A value of the step's event compared with one of the attempt's entry: "whose Dock is the Dock of step 1". */
export interface EntryTest {
  property: PropertyRef
  op: (typeof entryOperators)[number]
  entry: PropertyRef
}

export interface FunnelStep extends EventPick {
  /** all of them hold */
  entry?: EntryTest[] | undefined
  /** shown, and not required to go on */
  optional?: true | undefined
}

/** Something that ends an attempt when it happens before its next step. */
export interface Forbidden extends EventPick {
  /** after this step, counted from 0; left out: after any step */
  after?: number | undefined
}

export const funnelForms = ['steps', 'over time', 'time', 'repeats', 'after', 'apart', 'between'] as const
export type FunnelForm = (typeof funnelForms)[number]

/** How the result is looked at. Numbers of the steps are the same in every form. */
export type FunnelShow =
  | { form: 'steps' | 'repeats' }
  /** conversion by when the attempt began: the whole way, or step by step */
  | { form: 'over time'; every?: Unit | undefined; way?: 'steps' | undefined }
  /** time between two steps, counted from 0; left out: from the first to the last. `by` = the share that took so long at most */
  | { form: 'time'; from?: number | undefined; to?: number | undefined; by?: TimeLimit | undefined }
  /** what those lost at a step did afterwards */
  | { form: 'after'; step: number; within: TimeLimit | 'session' }
  /** what goes with getting through; `without` = left out by hand, `with` = brought back */
  | { form: 'apart'; without?: Feature[] | undefined; with?: Feature[] | undefined }
  /** what lies between the first step and the last, to make steps of */
  | { form: 'between' }

/** An event, or an event with one value of a property. */
export interface Feature {
  event: string
  property?: string | undefined
  value?: string | boolean | undefined
}

/** "How many people get through these steps, one after another, within …?" */
export interface FunnelQuestion {
  kind: 'funnel'
  steps: FunnelStep[]
  window: TimeLimit
  range: Range
  /** left out: one after another */
  order?: 'back to back' | 'any order' | undefined
  /** left out: people, each by their deepest attempt */
  count?: 'attempts' | undefined
  /** only each person's first entry ever starts an attempt */
  first?: true | undefined
  /** every step carries the entry's value of it */
  same?: PropertyRef | undefined
  forbidden?: Forbidden[] | undefined
  /** one at most */
  breakdowns?: Breakdown[] | undefined
  /** the step at which the breakdown's property is read, counted from 0; left out: the first */
  readAt?: number | undefined
  among?: Among | undefined
  /** another time that the same is asked of, beside this one */
  compare?: { to: 'before' | 'year' } | { from: string; to: string } | undefined
  /** the share that should get through, 0 to 1 */
  target?: number | undefined
  /** left out: the steps */
  show?: FunnelShow | undefined
}

const picked = {
  event: eventChoiceSchema as z.ZodType<EventChoice>,
  where: (filterSchema as z.ZodType<Filter>).optional(),
}
const stepNumber = z
  .int()
  .min(0)
  .max(MOST_STEPS - 1)

const stepSchema: z.ZodType<FunnelStep> = z.strictObject({
  ...picked,
  entry: z
    .array(z.strictObject({ property: propertySchema, op: z.enum(entryOperators), entry: propertySchema }))
    .min(1)
    .max(5, 'at most 5 comparisons with the first step')
    .optional(),
  optional: z.literal(true).optional(),
})

const featureSchema: z.ZodType<Feature> = z.strictObject({
  event: z.string().min(1).max(200),
  property: z.string().min(1).max(200).optional(),
  value: z.union([z.string().max(8192), z.boolean()]).optional(),
})

export const funnelShowSchema: z.ZodType<FunnelShow> = z.union([
  z.strictObject({ form: z.enum(['steps', 'repeats', 'between']) }) as z.ZodType<FunnelShow>,
  z.strictObject({
    form: z.literal('over time'),
    every: z.enum(units).optional(),
    way: z.literal('steps').optional(),
  }),
  z
    .strictObject({
      form: z.literal('time'),
      from: stepNumber.optional(),
      to: stepNumber.optional(),
      by: timeLimitSchema.optional(),
    })
    .refine(({ from = 0, to }) => to === undefined || to > from, { message: 'a later step', path: ['to'] }),
  z.strictObject({
    form: z.literal('after'),
    step: stepNumber,
    within: z.union([timeLimitSchema, z.literal('session')]),
  }),
  z.strictObject({
    form: z.literal('apart'),
    without: z.array(featureSchema).max(200).optional(),
    with: z.array(featureSchema).max(200).optional(),
  }),
])

const forbiddenSchema: z.ZodType<Forbidden> = z.strictObject({ ...picked, after: stepNumber.optional() })

export const funnelSchema: z.ZodType<FunnelQuestion> = z
  .strictObject({
    kind: z.literal('funnel'),
    steps: z.array(stepSchema).min(1, 'at least one step').max(MOST_STEPS, `at most ${MOST_STEPS} steps`),
    window: timeLimitSchema.default({ count: 7, unit: 'day' }),
    range: rangeSchema,
    order: z.enum(['back to back', 'any order']).optional(),
    count: z.literal('attempts').optional(),
    first: z.literal(true).optional(),
    same: propertySchema.optional(),
    forbidden: z.array(forbiddenSchema).max(MOST_FORBIDDEN, `at most ${MOST_FORBIDDEN} events`).optional(),
    breakdowns: z.array(breakdownSchema).max(1, 'one breakdown at most').optional(),
    readAt: stepNumber.optional(),
    among: amongSchema.optional(),
    compare: z
      .union([
        z.strictObject({ to: z.enum(['before', 'year']) }),
        z.strictObject({ from: localDay, to: localDay }).refine(({ from, to }) => from <= to, {
          message: 'a day that is not before the first',
          path: ['to'],
        }),
      ])
      .optional(),
    target: z.number().gt(0, 'more than 0 %').max(1, 'at most 100 %').optional(),
    show: funnelShowSchema.optional(),
  })
  .superRefine(({ steps, order, forbidden = [], readAt, show }, context) => {
    const wrong = (message: string, ...path: (string | number)[]) => context.addIssue({ code: 'custom', message, path })
    const last = steps.length - 1
    if (steps[0]?.optional) wrong('a first step that is required', 'steps', 0, 'optional')
    if (last > 0 && steps[last].optional) wrong('a last step that is required', 'steps', last, 'optional')
    if (order === 'any order')
      steps.forEach((step, i) => {
        if (step.optional) wrong('no optional step where the order does not matter', 'steps', i, 'optional')
        if (step.entry) wrong('no comparison with the first step where the order does not matter', 'steps', i, 'entry')
      })
    forbidden.forEach(({ after }, i) => {
      if (after !== undefined && after >= Math.max(1, last)) wrong('a step before the last', 'forbidden', i, 'after')
    })
    if (steps[0]?.entry) wrong('no comparison of the first step with itself', 'steps', 0, 'entry')
    if (readAt !== undefined && readAt > last) wrong('one of the steps', 'readAt')
    if (show?.form === 'repeats' && order === 'any order') wrong('a form that has an order', 'show', 'form')
    if (show?.form === 'after' && last > 0 && (show.step >= last || steps[show.step].optional))
      wrong('a loss at a required step before the last', 'show')
    if (show?.form === 'time' && Math.max(show.from ?? 0, show.to ?? 0) > last) wrong('one of the steps', 'show', 'to')
  })

export function usualFunnel(event: string): FunnelQuestion {
  return {
    kind: 'funnel',
    steps: [{ event: { names: [event] } }],
    window: { count: 7, unit: 'day' },
    range: { last: 12, unit: 'week' },
  }
}

export function parseFunnel(input: unknown): { question: FunnelQuestion; faults: Fault[] } {
  return parseLeniently(funnelSchema, input, usualFunnel('…'))
}

/** Places of the steps that must be filled to go on. */
export function requiredSteps(steps: readonly FunnelStep[]): number[] {
  return steps.flatMap((step, i) => (step.optional ? [] : [i]))
}

/** The share that took no longer is told of the times from step to step, unless another is asked. */
export const SHARE_BY: TimeLimit = { count: 1, unit: 'hour' }

/** How the result is looked at; where nothing is said, the steps. */
export function showOf({ show }: FunnelQuestion): FunnelShow {
  return show ?? { form: 'steps' }
}
