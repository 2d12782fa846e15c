import type { HabitPeriod } from '../analyses/habit/question.js'

/** "days a month", "weeks in 8 weeks": the period of a habit. */
export function habitPeriod(unit: string, period: string): HabitPeriod | null {
  const said = period.replace(/^(?:a|an|each|every|per|in) /u, '')
  const found: Record<string, HabitPeriod> = {
    'hour day': 'day',
    'day week': 'week',
    'day month': 'month',
    'week 4 weeks': '4 weeks',
    'week month': '4 weeks',
    'week 8 weeks': '8 weeks',
  }
  return found[`${unit.replace(/s$/, '')} ${said}`] ?? null
}
