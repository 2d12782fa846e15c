import { parseLeniently } from '../../questions/lenient.js'
import { amongSchema } from '../peopleSchema.js'
import { rangeSchema } from '../../time/rangeSchema.js'
import { z } from 'zod'
import type { Fault } from '../../questions/faults.js'
import { pickSchema } from '../../questions/parts.js'
import { breakdownsSchema } from '../../questions/split.js'
import { habitPeriods, habitForms, HABIT_UNITS, type HabitQuestion, usualHabit } from './question.js'

export const habitSchema: z.ZodType<HabitQuestion> = z
  .strictObject({
    kind: z.literal('habit'),
    start: pickSchema,
    period: z.enum(habitPeriods),
    range: rangeSchema,
    core: z
      .strictObject({
        days: z.int('a whole number').min(1, 'at least 1'),
        name: z.string().trim().min(1, 'a name').max(40, 'at most 40 characters'),
      })
      .optional(),
    breakdowns: breakdownsSchema.optional(),
    among: amongSchema.optional(),
    show: z
      .strictObject({
        form: z.enum(habitForms),
        days: z.int().min(1).max(31).optional(),
        exactly: z.literal(true).optional(),
        people: z.literal(true).optional(),
      })
      .default({ form: 'at least' }),
  })
  .superRefine(({ core, period }, context) => {
    const { most, unit } = HABIT_UNITS[period]
    if (core && core.days > most)
      context.addIssue({ code: 'custom', message: `at most ${most} ${unit}s`, path: ['core', 'days'] })
  })

export function parseHabit(input: unknown): { question: HabitQuestion; faults: Fault[] } {
  return parseLeniently(habitSchema, input, usualHabit('…'))
}
