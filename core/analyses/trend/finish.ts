import type { GroupKey } from '../../questions/parts.js'
import type { Bucket } from '../../time/buckets.js'
import { measureOf, type TrendPart, type TrendPlan } from './plan.js'
import type { TrendQuestion } from './question.js'

export interface TrendRow {
  /** null = all together */
  key: GroupKey | null
  /** the measure by bucket; null = a gap */
  values: (number | null)[]
  /** the measure over the whole range, worked out on the range and not from its buckets */
  total: number | null
  /** distinct people by bucket and over the range: how many a selected cell holds */
  people: number[]
  totalPeople: number
}

export interface TrendResult {
  kind: 'trend'
  buckets: Bucket[]
  /** the kept groups, largest first, then the rest; empty without a breakdown */
  groups: TrendRow[]
  all: TrendRow
  /** how many groups the rest stands for */
  rest: number
  /** a person may be in several groups, so that people do not add up */
  overlap: boolean
}

export function finishTrend(part: TrendPart, plan: TrendPlan, question: TrendQuestion): TrendResult {
  if (part.pass !== 'count') throw new RangeError('a ranking pass cannot be finished')
  const { measure } = question.series[0]
  const whole = plan.buckets.length
  const rowOf = (key: GroupKey | null, index: number): TrendRow => {
    const first = index * (whole + 1)
    const cell = (b: number) => measureOf(measure, part.events[first + b], part.people[first + b])
    return {
      key,
      values: plan.buckets.map((_, b) => cell(b)),
      total: cell(whole),
      people: Array.from(part.people.subarray(first, first + whole)),
      totalPeople: part.people[first + whole],
    }
  }
  const groups = plan.keys.map((key, index) => rowOf(key, index))
  const all = rowOf(null, plan.keys.length)
  const summed = groups.reduce((sum, row) => sum + row.totalPeople, 0)
  return { kind: 'trend', buckets: plan.buckets, groups, all, rest: plan.rest, overlap: summed > all.totalPeople }
}
