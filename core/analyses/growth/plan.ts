import type { CompileContext } from '../../filters/compile.js'
import type { Fault } from '../../questions/faults.js'
import { gridOf, type Grid } from '../../time/buckets.js'
import type { QueryContext } from '../analysis.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { intervalsOf, type Interval } from './intervals.js'
import type { GrowthQuestion } from './question.js'

/** More intervals than this are refused: nobody can read them. */
export const MOST_INTERVALS = 400

export interface GrowthPlan {
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
  return {
    pick: planPick(question.start, compile, ['start']),
    intervals,
    grid: gridOf({ from, until }, all),
    now,
    among,
  }
}
