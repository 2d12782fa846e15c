import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema, propertySchema, timeLimitSchema, type EventPick } from '../../questions/parts.js'
import { splitSchema } from '../../questions/split.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { amongSchema } from '../peopleSchema.js'
import {
  MOST_KEEP,
  MOST_NAMED,
  MOST_STEPS,
  pathForms,
  USUAL_KEEP,
  usualPaths,
  type PathNode,
  type PathsQuestion,
} from './question.js'

const namesSchema = z.strictObject({ names: z.array(z.string().min(1).max(200)).min(1).max(MOST_NAMED) })

export const nodeSchema: z.ZodType<PathNode> = z.strictObject({
  event: z.string().min(1).max(200),
  value: z.union([z.string().max(8192), z.number(), z.boolean(), z.null()]).optional(),
})

const picks = z.array(pickSchema).min(1).max(MOST_NAMED).optional()

export const pathsSchema: z.ZodType<PathsQuestion> = z
  .strictObject({
    kind: z.literal('paths'),
    start: pickSchema,
    end: pickSchema.optional(),
    backward: z.literal(true).optional(),
    steps: z.int().min(1, 'at least 1 step').max(MOST_STEPS, `at most ${MOST_STEPS} steps`).default(3),
    count: z.literal('occurrences').optional(),
    window: timeLimitSchema.default({ count: 1, unit: 'day' }),
    range: rangeSchema,
    keep: z
      .int()
      .min(1, 'at least 1 way a step')
      .max(MOST_KEEP, `at most ${MOST_KEEP} ways a step`)
      .default(USUAL_KEEP),
    wide: z.array(z.int().min(1).max(MOST_STEPS)).min(1).max(MOST_STEPS).optional(),
    leaveOut: z.strictObject({ event: namesSchema }).optional(),
    contains: picks,
    lacks: picks,
    open: z
      .array(z.strictObject({ event: namesSchema, by: propertySchema }))
      .min(1)
      .max(MOST_NAMED)
      .optional(),
    unfolded: z.literal(true).optional(),
    session: z.literal(true).optional(),
    through: z
      .array(z.strictObject({ step: z.int().min(1).max(MOST_STEPS), node: nodeSchema }))
      .min(1)
      .max(MOST_STEPS)
      .optional(),
    breakdowns: z.array(splitSchema).min(1).max(1, 'one breakdown at most').optional(),
    among: amongSchema.optional(),
    show: z
      .strictObject({ form: z.enum(pathForms), difference: z.literal(true).optional() })
      .default({ form: 'stream' }),
  })
  .superRefine(({ start, end, backward, leaveOut, contains, lacks, steps, through, open, wide }, context) => {
    const wrong = (message: string, ...path: (string | number)[]) => context.addIssue({ code: 'custom', message, path })
    const namesOf = ({ event }: EventPick) => ('names' in event ? event.names : [])
    const out = leaveOut?.event.names ?? []
    const shared = (names: readonly string[]) => names.find((name) => out.includes(name))
    const own = shared(namesOf(start))
    if (own) wrong(`“${own}” is where the ways begin, so it cannot be left out`, 'leaveOut')
    if (end) {
      if (backward) wrong('what happens between two events is asked forward', 'backward')
      if (JSON.stringify(end) === JSON.stringify(start)) wrong('another event than the one the ways begin with', 'end')
      const last = shared(namesOf(end))
      if (last) wrong(`“${last}” is where the ways have to get, so it cannot be left out`, 'leaveOut')
    }
    contains?.forEach((pick, index) => {
      const both = shared(namesOf(pick))
      if (both) wrong(`“${both}” is left out, so no way can contain it`, 'contains', index)
      if (lacks?.some((other) => JSON.stringify(other) === JSON.stringify(pick)))
        wrong('ways cannot contain what they must not contain', 'contains', index)
    })
    through?.forEach(({ step }, index) => {
      if (step > steps) wrong(`one of the ${steps} steps`, 'through', index)
    })
    wide?.forEach((step, index) => {
      if (step > steps) wrong(`one of the ${steps} steps`, 'wide', index)
      if (wide.indexOf(step) < index) wrong(`step ${step} is opened already`, 'wide', index)
    })
    open?.forEach(({ event }, index) => {
      const twice = event.names.find((name) => open.some((other, at) => at < index && other.event.names.includes(name)))
      if (twice) wrong(`“${twice}” is opened already`, 'open', index)
    })
  })

export function parsePaths(input: unknown): { question: PathsQuestion; faults: Fault[] } {
  return parseLeniently(pathsSchema, input, usualPaths('…'))
}
