import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { pickSchema, type EventPick } from '../../questions/parts.js'
import { breakdownSchema, type Breakdown } from '../../questions/split.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

export const habitPeriods = ['day', 'week', 'month', '4 weeks', '8 weeks'] as const
/** In what time people turn up so often: hours in a day, days in a week or month, weeks in 4 or 8 weeks. */
export type HabitPeriod = (typeof habitPeriods)[number]

export const habitForms = ['at least', 'exactly', 'over time', 'pattern'] as const
export type HabitForm = (typeof habitForms)[number]

/** What a period is counted in, and how many of them it holds at most. */
export const HABIT_UNITS: Record<HabitPeriod, { unit: 'hour' | 'day' | 'week'; most: number }> = {
  day: { unit: 'hour', most: 25 },
  week: { unit: 'day', most: 7 },
  month: { unit: 'day', most: 31 },
  '4 weeks': { unit: 'week', most: 4 },
  '8 weeks': { unit: 'week', most: 8 },
}

/** "How many days in a week do people do X?" */
export interface HabitQuestion {
  kind: 'habit'
  start: EventPick
  period: HabitPeriod
  range: Range
  /** a threshold with a name of its own: "core: 12 days or more" */
  core?: { days: number; name: string } | undefined
  /** one at most */
  breakdowns?: Breakdown[] | undefined
  among?: Among | undefined
  show: {
    form: HabitForm
    /** over time: so many days, or more; left out: the threshold, or a usual one */
    days?: number | undefined
    /** over time: exactly so many */
    exactly?: true | undefined
    /** over time: how many people rather than which share */
    people?: true | undefined
  }
}

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
    breakdowns: z.array(breakdownSchema).max(1, 'one breakdown at most').optional(),
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

export function usualHabit(event: string): HabitQuestion {
  return {
    kind: 'habit',
    start: { event: { names: [event] } },
    period: 'month',
    range: { last: 7, unit: 'month' },
    show: { form: 'at least' },
  }
}

export function parseHabit(input: unknown): { question: HabitQuestion; faults: Fault[] } {
  return parseLeniently(habitSchema, input, usualHabit('…'))
}

/** So many days are looked at over time: the chosen, the threshold's, else a usual number, which is never 1. */
export function daysOf({ show, core, period }: HabitQuestion): number {
  const { most } = HABIT_UNITS[period]
  return Math.min(most, show.days ?? core?.days ?? (period === 'month' ? 4 : period === 'week' ? 3 : 2))
}
