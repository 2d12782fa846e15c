import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { localDay, rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import {
  eventChoiceSchema,
  filterSchema,
  propertySchema,
  timeLimitSchema,
  type EventChoice,
  type Filter,
} from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { units } from '../../time/range.js'
import {
  MOST_STEPS,
  MOST_FORBIDDEN,
  entryOperators,
  type FunnelStep,
  type Forbidden,
  type FunnelShow,
  type Feature,
  type FunnelQuestion,
  usualFunnel,
} from './question.js'

export const picked = {
  event: eventChoiceSchema as z.ZodType<EventChoice>,
  where: (filterSchema as z.ZodType<Filter>).optional(),
}

export const stepNumber = z
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

const funnelShowSchema: z.ZodType<FunnelShow> = z.union([
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
    breakdowns: breakdownsSchema.optional(),
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

export function parseFunnel(input: unknown): { question: FunnelQuestion; faults: Fault[] } {
  return parseLeniently(funnelSchema, input, usualFunnel('…'))
}
