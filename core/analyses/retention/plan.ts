import { findProperty, type ColumnRef, type CompileContext } from '../../filters/compile.js'
import { nextGrouped, planGrouped, type FoundGroups, type GroupedPlan, type GroupPass } from '../../groups/grouped.js'
import type { Fault } from '../../questions/faults.js'
import { bucketsOf, countBuckets, gridOf, type Bucket, type Grid } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import { dayOf, spanOf, type Span, type Unit } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { backOf, isOfProperty, MOST_PERIODS, type RetentionQuestion } from './question.js'
import type { RetentionTally } from './tally.js'

/** More cohorts than this are refused: nobody can read them. */
export const MOST_COHORTS = 400
/** So many periods are shown where nobody said. */
const USUAL_PERIODS = 30

/** By the calendar: where periods begin and end. By the clock: how long one is. */
export type PeriodClock = { grid: Grid; ended: number } | { ms: number }

export interface RetentionPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by starts; count = fills the cells; known = which cells are complete is known */
  pass: GroupPass | 'known'
  start: PickPlan
  back: PickPlan
  firstEver: boolean
  /** when people started */
  cohorts: Bucket[]
  grid: Grid
  /** by place: first and last step that the period holds, counted from the start's own as 0 */
  periods: [number, number][]
  /** what steps are counted by */
  clock: PeriodClock
  /** from the period on, rather than in it */
  onward: boolean
  value: ColumnRef | null
  now: number
  among: Uint8Array | null
  /** pass known: by cell, 1 = complete; the last group is all together */
  complete: Uint8Array | null
}

export type RetentionPart = FoundGroups | { pass: 'count'; tally: RetentionTally } | { pass: 'known' }

const HOUR = 3_600_000
/** By the clock a month is 30 days. */
export const CLOCK_MS = { hour: HOUR, day: 24 * HOUR, week: 7 * 24 * HOUR, month: 30 * 24 * HOUR }

export function planRetention(question: RetentionQuestion, context: QueryContext, faults: Fault[]): RetentionPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar } = context
  const span = spanOf(question.range, now, calendar)
  const { every, brackets } = question
  const many = countBuckets(span, every)
  if (many > MOST_COHORTS)
    faults.push({ path: ['every'], code: 'too_many_buckets', got: String(many), want: String(MOST_COHORTS) })
  const cohorts = many > MOST_COHORTS ? [] : bucketsOf(span, every, now, calendar)
  const { measure, of } = question
  if (isOfProperty(measure) && !of)
    faults.push({ path: ['measure'], code: 'no_property', got: measure === 'sum' ? 'sum' : 'average per person' })
  const periodUnit = brackets ? 'day' : every
  const first = cohorts.length > 0 ? cohorts[0].start : span.from
  const { grid, ended, steps } = calendarClock(span, first, many > MOST_COHORTS ? null : periodUnit, context)
  return {
    ...planGrouped(question.breakdowns, compile, first),
    start: planPick(question.start, compile, ['start']),
    back: planPick(backOf(question), compile, [question.back ? 'back' : 'start']),
    firstEver: question.first === true,
    cohorts,
    grid: gridOf(span, cohorts),
    periods: periodsOf(question, cohorts, steps),
    clock: question.by === 'clock' ? { ms: CLOCK_MS[periodUnit] } : { grid, ended },
    onward: question.count === 'from',
    value: (isOfProperty(measure) && of && findProperty(of, compile, ['of'])?.column) || null,
    now,
    among: context.among,
    complete: null,
  }
}

/**
 * Periods by the calendar: looked for up to now, wherever the range ends, and that of the first who start is whole.
 * @param first epoch ms, where the bucket of the first who start begins
 * @param unit null = there are too many
 * @returns how many there are, and how many of them have ended
 */
export function calendarClock(
  span: Span,
  first: number,
  unit: Unit | null,
  { now, calendar }: Pick<QueryContext, 'now' | 'calendar'>,
): { grid: Grid; steps: number; ended: number } {
  const whole = { ...span, from: first, firstDay: dayOf(first, calendar.zone).toString(), until: now + 1 }
  const steps = unit === null ? [] : bucketsOf(whole, unit, now, calendar)
  const ended = steps.findIndex(({ end }) => end > now)
  return { grid: gridOf(whole, steps), steps: steps.length, ended: ended < 0 ? steps.length : ended }
}

function periodsOf(
  { brackets, upTo }: RetentionQuestion,
  cohorts: readonly Bucket[],
  steps: number,
): [number, number][] {
  if (brackets) return brackets
  const last = upTo ?? Math.min(USUAL_PERIODS, MOST_PERIODS, Math.max(1, cohorts.length - 1, steps - cohorts.length))
  return Array.from({ length: last + 1 }, (_, k) => [k, k])
}

/** After the ranking: the plan that counts the kept groups. After counting: which cells are complete. */
export function nextRetention(
  part: RetentionPart,
  plan: RetentionPlan,
  question: RetentionQuestion,
  context: QueryContext,
): RetentionPlan | null {
  if (part.pass === 'cuts' || part.pass === 'rank')
    return plan.split && { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
  if (part.pass === 'count') return { ...plan, pass: 'known', complete: completeCells(part.tally, plan) }
  return null
}

/** How many steps a moment is from the start of somebody's periods. */
export function stepsBetween(clock: PeriodClock, start: number, at: number): number {
  return 'ms' in clock ? Math.floor((at - start) / clock.ms) : stepAt(clock.grid, at) - stepAt(clock.grid, start)
}

export function stepAt(grid: Grid, at: number): number {
  return grid.bucketOfQuarter[Math.floor((at - grid.origin) / QUARTER)]
}

/** Whether a period has ended for whoever started at a moment. */
export function hasEnded({ clock, now }: Pick<RetentionPlan, 'clock' | 'now'>, start: number, last: number): boolean {
  return 'ms' in clock ? start + (last + 1) * clock.ms <= now : stepAt(clock.grid, start) + last < clock.ended
}

/** Whether a period has begun for whoever started at a moment. */
export function hasBegun({ clock, now }: Pick<RetentionPlan, 'clock' | 'now'>, start: number, first: number): boolean {
  return 'ms' in clock ? start + first * clock.ms <= now : stepAt(clock.grid, start) + first <= stepAt(clock.grid, now)
}

/** By group, cohort and period: 1 = the cohort's own bucket, and the period of each of its people, has ended. */
function completeCells({ latest }: RetentionTally, plan: RetentionPlan): Uint8Array {
  const { cohorts, periods } = plan
  const complete = new Uint8Array(latest.length * periods.length)
  for (let row = 0; row < latest.length; row++) {
    const cohort = cohorts[row % cohorts.length]
    if (cohort.end > plan.now) continue
    // Where nobody started, whoever might have.
    const start = latest[row] > 0 ? latest[row] : cohort.end - 1
    periods.forEach(([, last], k) => {
      if (hasEnded(plan, start, last)) complete[row * periods.length + k] = 1
    })
  }
  return complete
}
