import { wilson } from '../../stats/proportion.js'
import type { GroupKey } from '../../questions/parts.js'
import type { QueryContext } from '../analysis.js'
import { hasBegun, type RetentionPart, type RetentionPlan } from './plan.js'
import type { RetentionMeasure, RetentionQuestion } from './question.js'
import type { RetentionTally } from './tally.js'

/** complete = over for all of its people; open = begun and not over for all; ahead = not begun for anybody. */
export type CellState = 'complete' | 'open' | 'ahead'

export interface RetentionCell {
  state: CellState
  /** people who came back */
  returned: number
  /** the measure; null = a gap */
  value: number | null
}

/** All cohorts together, over those where the period is complete. */
export interface LinePoint {
  /** people of those cohorts, and how many cohorts they are */
  people: number
  cohorts: number
  returned: number
  value: number | null
  /** of a share: its 95 % Wilson interval */
  low: number | null
  high: number | null
}

export interface RetentionRow {
  /** null = everybody together */
  key: GroupKey | null
  /** everybody who started */
  people: number
  /** by cohort */
  started: number[]
  /** by cohort, then period */
  cells: RetentionCell[][]
  /** by period */
  line: LinePoint[]
}

export interface RetentionCohort {
  key: string
  open: boolean
  cut: boolean
}

export interface RetentionResult {
  kind: 'retention'
  measure: RetentionMeasure
  cohorts: RetentionCohort[]
  /** first and last step of each, counted from the start's own as 0 */
  periods: [number, number][]
  all: RetentionRow
  groups: RetentionRow[]
  /** how many groups everything else holds */
  rest: number
}

export function finishRetention(
  _part: RetentionPart,
  plan: RetentionPlan,
  question: RetentionQuestion,
  _context: QueryContext,
  earlier: readonly RetentionPart[],
): RetentionResult {
  const counted = earlier.at(-1)
  if (counted?.pass !== 'count') throw new RangeError('the cells were not counted')
  const row = (group: number) => finishRow(counted.tally, group, plan, question)
  return {
    kind: 'retention',
    measure: question.measure ?? 'share',
    cohorts: plan.cohorts.map(({ key, cut, end }) => ({ key, open: end > plan.now, cut })),
    periods: plan.periods,
    all: { ...row(plan.keys.length), key: null },
    groups: plan.keys.map((key, group) => ({ ...row(group), key })),
    rest: plan.rest,
  }
}

function finishRow(tally: RetentionTally, group: number, plan: RetentionPlan, question: RetentionQuestion) {
  const { cohorts, periods, complete } = plan
  const measure = question.measure ?? 'share'
  const rowOf = (cohort: number) => group * cohorts.length + cohort
  const sums = (cohort: number, k: number): Sums => {
    const row = rowOf(cohort)
    const from = question.cumulated ? 0 : k
    const found: Sums = { people: tally.people[row], returned: 0, events: 0, sum: 0 }
    found.returned = tally.returned[row * periods.length + k]
    for (let i = from; i <= k; i++) {
      found.events += tally.events[row * periods.length + i]
      found.sum += tally.sum[row * periods.length + i]
    }
    return found
  }
  const cells = cohorts.map(({ start }, c) =>
    periods.map(([first], k): RetentionCell => {
      const row = rowOf(c)
      const earliest = tally.people[row] > 0 ? tally.earliest[row] : Math.max(start, plan.grid.from)
      const isComplete = complete![row * periods.length + k] === 1
      const state = isComplete ? 'complete' : hasBegun(plan, earliest, first) ? 'open' : 'ahead'
      const found = sums(c, k)
      return { state, returned: found.returned, value: state === 'ahead' ? null : measureOf(found, measure) }
    }),
  )
  const line = periods.map((_period, k): LinePoint => {
    const whole: Sums = { people: 0, returned: 0, events: 0, sum: 0 }
    let many = 0
    cohorts.forEach((_cohort, c) => {
      if (cells[c][k].state !== 'complete') return
      many++
      const found = sums(c, k)
      for (const name of ['people', 'returned', 'events', 'sum'] as const) whole[name] += found[name]
    })
    const interval = measure === 'share' ? wilson(whole.returned, whole.people) : null
    return {
      ...{ people: whole.people, cohorts: many, returned: whole.returned },
      value: many > 0 ? measureOf(whole, measure) : null,
      ...{ low: interval?.low ?? null, high: interval?.high ?? null },
    }
  })
  const started = cohorts.map((_, c) => tally.people[rowOf(c)])
  return { people: started.reduce((sum, n) => sum + n, 0), started, cells, line }
}

interface Sums {
  people: number
  returned: number
  events: number
  sum: number
}

/** The figure of a cell, or of cells together: numerators and denominators are added up, not shares. */
function measureOf({ people, returned, events, sum }: Sums, measure: RetentionMeasure): number | null {
  switch (measure) {
    case 'share':
      return people > 0 ? returned / people : null
    case 'people':
      return returned
    case 'events':
      return events
    case 'events per person':
      return returned > 0 ? events / returned : null
    case 'sum':
      return sum
    case 'per person':
      return people > 0 ? sum / people : null
  }
}
