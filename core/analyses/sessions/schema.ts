import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { parseLeniently } from '../../questions/lenient.js'
import { pickSchema } from '../../questions/parts.js'
import { splitSchema } from '../../questions/split.js'
import { comparisonSchema, rangeSchema } from '../../time/rangeSchema.js'
import { amongSchema } from '../peopleSchema.js'
import { sessionForms, sessionMeasures, sessionUnits, usualSessions, type SessionsQuestion } from './question.js'

export const sessionsSchema: z.ZodType<SessionsQuestion> = z.strictObject({
  kind: z.literal('sessions'),
  measure: z.enum(sessionMeasures).default('median length'),
  every: z.enum(sessionUnits),
  range: rangeSchema,
  holds: pickSchema.optional(),
  first: z.literal(true).optional(),
  breakdowns: z.array(splitSchema).min(1).max(2, 'two breakdowns at most').optional(),
  among: amongSchema.optional(),
  compare: comparisonSchema.optional(),
  target: z.number().gt(0, 'more than 0').max(1e9, 'at most a thousand million').optional(),
  show: z
    .strictObject({
      form: z.enum(sessionForms),
      over: z.int('whole minutes').min(0, 'at least 0 minutes').max(1440, 'at most 1440 minutes').optional(),
    })
    .default({ form: 'over time' }),
})

export function parseSessions(input: unknown): { question: SessionsQuestion; faults: Fault[] } {
  return parseLeniently(sessionsSchema, input, usualSessions())
}
