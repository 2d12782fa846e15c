import type { CompileContext } from '../../filters/compile.js'
import {
  nextGrouped,
  planGrouped,
  refuseEventGroups,
  type FoundGroups,
  type GroupedPlan,
  type GroupPass,
} from '../../groups/grouped.js'
import type { Fault } from '../../questions/faults.js'
import { gridOf, type Grid } from '../../time/buckets.js'
import type { QueryContext } from '../analysis.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { intervalsOf, type Interval } from './intervals.js'
import type { GrowthQuestion } from './question.js'

/** More intervals than this are refused: nobody can read them. */
export const MOST_INTERVALS = 400

export interface GrowthPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by active people added up over the intervals; count = counts the kept ones */
  pass: GroupPass
  pick: PickPlan
  intervals: Interval[]
  /** which interval a moment lies in, the one before the first counted as 0 */
  grid: Grid
  now: number
  among: Uint8Array | null
}

export function planGrowth(question: GrowthQuestion, context: QueryContext, faults: Fault[]): GrowthPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, among } = context
  const found = intervalsOf(question.interval, question.range, now, calendar)
  const many = found?.intervals.length ?? 0
  if (many > MOST_INTERVALS)
    faults.push({ path: ['interval'], code: 'too_many_buckets', got: String(many), want: String(MOST_INTERVALS) })
  if (!found && 'days' in question.interval)
    faults.push({
      ...{ path: ['interval'], code: 'invalid', got: String(question.interval.days) },
      want: 'not one interval of so many days fits into the time asked about: take fewer days or a longer time',
    })
  const intervals = found && many <= MOST_INTERVALS ? found.intervals : []
  const all = found && intervals.length > 0 ? [found.before, ...intervals] : []
  const from = all[0]?.start ?? now
  const until = all.length > 0 ? Math.min(now + 1, all[all.length - 1].end) : now
  refuseEventGroups(question.breakdowns, 'What people are in an interval', faults)
  return {
    ...planGrouped(question.breakdowns, compile, from),
    pick: planPick(question.start, compile, ['start']),
    intervals,
    grid: gridOf({ from, until }, all),
    now,
    among,
  }
}

export type GrowthPart = FoundGroups | ({ pass: 'count' } & GrowthCounts)

/**
 * By group, the last being all together. Joins by adding. What is idle follows from the rest, see `finishGrowth`; of
 * groups that people come to and leave it is counted.
 */
export interface GrowthCounts {
  /** people whose first ever lies before the first interval */
  seenBefore: Float64Array
  /** people by (group × intervals + interval) × states + state; none idle */
  counts: Float64Array
  /** of all together: people by (interval × (states + unseen) + state before) × states + state; of the first nothing; none to idle */
  flows: Float64Array
}

export function nextGrowth(
  part: GrowthPart,
  plan: GrowthPlan,
  question: GrowthQuestion,
  context: QueryContext,
): GrowthPlan | null {
  if (part.pass === 'count' || !plan.split) return null
  return { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
}
