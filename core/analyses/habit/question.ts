import type { Range } from '../../time/range.js'
import type { EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Among } from '../people.js'

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
  /** of profile properties and segments; up to three */
  breakdowns?: Split[] | undefined
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

export function usualHabit(event: string): HabitQuestion {
  return {
    kind: 'habit',
    start: { event: { names: [event] } },
    period: 'month',
    range: { last: 7, unit: 'month' },
    show: { form: 'at least' },
  }
}

/** So many days are watched: over time the chosen ones; else the threshold's, or a usual number, which is never 1. */
export function daysOf({ show, core, period }: HabitQuestion): number {
  const { most } = HABIT_UNITS[period]
  const chosen = show.form === 'over time' ? show.days : undefined
  return Math.min(most, chosen ?? core?.days ?? (period === 'month' ? 4 : period === 'week' ? 3 : 2))
}

/** What is watched: so many days or more, or over time exactly so many; `core` where that is what has a name. */
export function watchedOf(question: HabitQuestion): { days: number; more: boolean; core: string | null } {
  const { show, core } = question
  const days = daysOf(question)
  const more = !(show.form === 'over time' && show.exactly)
  return { days, more, core: core && more && core.days === days ? core.name : null }
}
