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
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Bucket, type Grid } from '../../time/buckets.js'
import { clockOf } from '../../time/clock.js'
import { QUARTER } from '../../time/quarter.js'
import { spanOf, type Unit } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { HABIT_UNITS, type HabitQuestion } from './question.js'

/** A complete period. */
export interface HabitSpan {
  /** first local day */
  key: string
  start: number
  end: number
}

export interface HabitPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by active person-periods; count = counts the kept ones */
  pass: GroupPass
  pick: PickPlan
  periods: HabitSpan[]
  /** how many hours, days or weeks a period holds at most */
  most: number
  /** by quarter of an hour: which of them */
  grid: Grid
  /** by each of them: the period it lies in, −1 = in none that is complete; and its weekday or hour, from 0 */
  periodOf: Int16Array
  placeOf: Uint8Array
  /** how many weekdays or hours there are; 0 where nobody asks */
  places: number
  /** by weekday or hour: how often it comes in the periods */
  times: number[]
  among: Uint8Array | null
}

export type HabitPart = FoundGroups | { pass: 'count'; counts: HabitCounts }

/** By group, the last being all together. Joins by adding. */
export interface HabitCounts {
  /** (group × periods + period) × most + d − 1: people with exactly d */
  exactly: Float64Array
  /** group × most + d − 1: distinct people with a period of exactly d, and of d or more */
  people: Float64Array
  peopleMore: Float64Array
  /** group × places + place: distinct hours or days with an event, over all people; and distinct people */
  pattern: Float64Array
  patternPeople: Float64Array
}

export function planHabit(question: HabitQuestion, context: QueryContext, faults: Fault[]): HabitPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar } = context
  const span = spanOf(question.range, now, calendar)
  const { period } = question
  const { unit, most } = HABIT_UNITS[period]
  const many = countBuckets(span, calendarUnit(period))
  const tooMany = many > MOST_BUCKETS
  if (tooMany)
    faults.push({
      ...{ path: ['range'], code: 'invalid' },
      want: `at most ${MOST_BUCKETS} ${calendarUnit(period)}s, and these are ${many}`,
    })
  const subs = tooMany ? [] : bucketsOf(span, unit, now, calendar)
  refuseEventGroups(question.breakdowns, 'How often people turn up', faults)
  const periods = tooMany ? [] : periodsOf(question, bucketsOf(span, calendarUnit(period), now, calendar))
  let at = 0
  const periodOf = Int16Array.from(subs, ({ start }) => {
    while (at < periods.length && start >= periods[at].end) at++
    return at < periods.length && start >= periods[at].start ? at : -1
  })
  const places = unit === 'hour' ? 24 : unit === 'day' ? 7 : 0
  const clock = places > 0 && subs.length > 0 ? clockOf(subs[0].start, subs[subs.length - 1].end, calendar.zone) : null
  const placeOf = Uint8Array.from(subs, ({ start }) =>
    clock ? clock[unit === 'hour' ? 'hour' : 'weekday'][Math.floor((start - clock.origin) / QUARTER)] : 0,
  )
  const times = new Array<number>(places).fill(0)
  subs.forEach((_sub, i) => {
    if (places > 0 && periodOf[i] >= 0) times[placeOf[i]]++
  })
  return {
    ...planGrouped(question.breakdowns, compile, span.from),
    pick: planPick(question.start, compile, ['start']),
    periods,
    ...{ most, grid: gridOf(span, subs), periodOf, placeOf, places, times },
    among: context.among,
  }
}

function calendarUnit(period: HabitQuestion['period']): Unit {
  return period === '4 weeks' || period === '8 weeks' ? 'week' : period
}

/** Only what is over and whole: for some weeks together, those that end with the last whole one. */
function periodsOf({ period }: HabitQuestion, buckets: readonly Bucket[]): HabitSpan[] {
  const whole = buckets.filter(({ open, cut }) => !open && !cut)
  const many = period === '4 weeks' ? 4 : period === '8 weeks' ? 8 : 1
  const periods: HabitSpan[] = []
  for (let end = whole.length; end >= many; end -= many)
    periods.unshift({ key: whole[end - many].key, start: whole[end - many].start, end: whole[end - 1].end })
  return periods
}

export function nextHabit(
  part: HabitPart,
  plan: HabitPlan,
  question: HabitQuestion,
  context: QueryContext,
): HabitPlan | null {
  if (part.pass === 'count' || !plan.split) return null
  return { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
}
