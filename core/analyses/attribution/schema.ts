import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { groupId } from '../../questions/groupId.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema, propertySchema } from '../../questions/parts.js'
import { splitSchema } from '../../questions/split.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { amongSchema } from '../peopleSchema.js'
import {
  attributionForms,
  attributionUnits,
  modelId,
  MOST_GOALS,
  MOST_MODELS,
  MOST_VALUES,
  plainModels,
  usualAttribution,
  type AttributionQuestion,
  type Model,
} from './question.js'

const part = z.int('whole percent').min(0, 'at least 0').max(100, 'at most 100')

export const modelSchema: z.ZodType<Model> = z.union([
  z.enum(plainModels),
  z.strictObject({
    own: z
      .tuple([part, part, part])
      .refine(([first, middle, last]) => first + middle + last === 100, 'the three weights add up to 100'),
  }),
])

/** What touches are told apart by. */
export const touchBySchema = z.union([propertySchema, z.strictObject({ of: z.literal('event name') })])

/** A value that touches have: what can be left out, or be called direct. */
export const touchValueSchema = z.strictObject({ value: z.union([z.string().max(8192), z.number(), z.boolean()]) })

const values = z.array(touchValueSchema).min(1).max(MOST_VALUES, `at most ${MOST_VALUES} values`).optional()

export const attributionSchema: z.ZodType<AttributionQuestion> = z
  .strictObject({
    kind: z.literal('attribution'),
    goals: z
      .array(pickSchema)
      .min(1, 'at least one conversion')
      .max(MOST_GOALS, `at most ${MOST_GOALS} conversions side by side`),
    range: rangeSchema,
    by: touchBySchema,
    lookBack: z
      .strictObject({
        count: z.int('a whole number').min(1, 'looks back at least 1').max(1000, 'looks back at most 1,000'),
        unit: z.enum(['day', 'session']),
      })
      .default({ count: 30, unit: 'day' }),
    models: z.array(modelSchema).min(1, 'at least one model').max(MOST_MODELS, `at most ${MOST_MODELS} models`),
    worth: z.union([z.literal('people'), z.strictObject({ sum: propertySchema })]).optional(),
    every: z.enum(attributionUnits).optional(),
    first: z.literal(true).optional(),
    touches: pickSchema.optional(),
    leftOut: values,
    direct: values,
    halfLife: z.number().gt(0, 'more than 0 days').max(1000, 'at most 1,000 days').optional(),
    costs: z.literal(true).optional(),
    breakdowns: z.array(splitSchema).min(1).max(1, 'one breakdown at most').optional(),
    among: amongSchema.optional(),
    show: z
      .strictObject({
        form: z.enum(attributionForms),
        as: z.literal('share').optional(),
        lead: z
          .int()
          .min(0)
          .max(MOST_MODELS - 1)
          .optional(),
      })
      .default({ form: 'table' }),
  })
  .superRefine(({ by, goals, models, touches, leftOut, direct, breakdowns, show }, context) => {
    const wrong = (message: string, ...path: (string | number)[]) => context.addIssue({ code: 'custom', message, path })
    models.forEach((model, index) => {
      if (models.findIndex((other) => modelId(other) === modelId(model)) < index)
        wrong('this model stands there already', 'models', index)
    })
    goals.forEach((goal, index) => {
      if (goals.findIndex((other) => JSON.stringify(other) === JSON.stringify(goal)) < index)
        wrong('this conversion stands there already', 'goals', index)
    })
    if ((show.lead ?? 0) >= models.length) wrong('one of the models', 'show', 'lead')
    if (by.of === 'event name' && !touches)
      wrong('say which events are touches, to tell them apart by event', 'touches')
    const out = new Set(leftOut?.map(groupId))
    if (direct?.some((key) => out.has(groupId(key)))) wrong('what is left out cannot be what is direct', 'direct')
    breakdowns?.forEach(({ by: of }, index) => {
      if (of.of !== 'person' && of.of !== 'segments')
        wrong('groups are made by what is known of the person, or by segments', 'breakdowns', index, 'by')
    })
  })

export function parseAttribution(input: unknown): { question: AttributionQuestion; faults: Fault[] } {
  return parseLeniently(attributionSchema, input, usualAttribution('…'))
}
