import type { GroupKey } from '../../questions/parts.js'
import type { QueryContext } from '../analysis.js'
import type { HabitPart, HabitPlan } from './plan.js'
import { HABIT_UNITS, type HabitPeriod, type HabitQuestion } from './question.js'

export interface HabitRow {
  /** null = everybody together */
  key: GroupKey | null
  /** by period, then d − 1: people with exactly d */
  periods: number[][]
  /** by d − 1 over all periods: person-periods with exactly d; distinct people with such a period, and with d or more */
  exactly: number[]
  people: number[]
  peopleMore: number[]
  /** person-periods, and days a person-period on average; null where there are none */
  active: number
  average: number | null
  /** by weekday or hour: days (hours) that somebody turned up on, over all people; distinct people */
  pattern: { days: number; people: number }[]
}

export interface HabitResult {
  kind: 'habit'
  period: HabitPeriod
  unit: 'hour' | 'day' | 'week'
  most: number
  /** keys of the complete periods */
  periods: string[]
  /** by weekday or hour: how often it comes in the periods */
  times: number[]
  all: HabitRow
  groups: HabitRow[]
  rest: number
}

export function finishHabit(
  part: HabitPart,
  plan: HabitPlan,
  question: HabitQuestion,
  _context: QueryContext,
): HabitResult {
  if (part.pass !== 'count') throw new RangeError('the periods were not counted')
  const { counts } = part
  const many = plan.periods.length
  const { most, places } = plan
  const row = (group: number, key: GroupKey | null): HabitRow => {
    const slice = (array: Float64Array, width: number) => [...array.subarray(group * width, (group + 1) * width)]
    const periods = Array.from({ length: many }, (_, period) => {
      const from = (group * many + period) * most
      return [...counts.exactly.subarray(from, from + most)]
    })
    const exactly = Array.from({ length: most }, (_, d) => periods.reduce((sum, each) => sum + each[d], 0))
    const active = exactly.reduce((sum, n) => sum + n, 0)
    const days = exactly.reduce((sum, n, d) => sum + n * (d + 1), 0)
    const people = slice(counts.patternPeople, places)
    return {
      ...{ key, periods, exactly, active, average: active > 0 ? days / active : null },
      ...{ people: slice(counts.people, most), peopleMore: slice(counts.peopleMore, most) },
      pattern: slice(counts.pattern, places).map((n, place) => ({ days: n, people: people[place] })),
    }
  }
  return {
    kind: 'habit',
    ...{ period: question.period, unit: HABIT_UNITS[question.period].unit, most },
    periods: plan.periods.map(({ key }) => key),
    times: plan.times,
    all: row(plan.keys.length, null),
    groups: plan.keys.map((key, group) => row(group, key)),
    rest: plan.rest,
  }
}

/** How many of the counts have exactly d, or d or more. @param exactly by d − 1 */
export function withDays(exactly: readonly number[], days: number, more: boolean): number {
  return exactly.reduce((sum, n, d) => (d + 1 === days || (more && d + 1 > days) ? sum + n : sum), 0)
}
