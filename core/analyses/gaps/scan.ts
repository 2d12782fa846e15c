import type { CompileContext } from '../../filters/compile.js'
import {
  bindPeopleGroups,
  groupFinder,
  isIn,
  mergeFound,
  nextGrouped,
  planGrouped,
  rankFinder,
  refuseEventGroups,
  type FoundGroups,
  type GroupedPlan,
  type GroupPass,
} from '../../groups/grouped.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import type { Fault } from '../../questions/faults.js'
import { groupId } from '../../questions/groupId.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Grid } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { bindPick, planPick, type PickPlan } from '../../filters/picks.js'
import type { GapsQuestion } from './question.js'
import type { GapsMark } from './marks.js'

export interface GapsPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by people; count = counts the kept ones */
  pass: GroupPass
  pick: PickPlan
  /** which local day of the range a moment lies in */
  grid: Grid
  days: number
  /** the last moment of the range, or now: people are in the groups they are in then, epoch ms */
  last: number
  among: Uint8Array | null
}

export type GapsPart = FoundGroups | ({ pass: 'count' } & GapCounts)

/** By group, the last being all together. Joins by adding. */
export interface GapCounts {
  /** by group × (days + 1) + length in local days: gaps between one day somebody did it and the next */
  gaps: Float64Array
  /** by group × 2 × (days + 1) + twice the median gap, which may be a half day: people */
  medians: Float64Array
  /** people who did it on one day only, and people in all */
  once: Float64Array
  all: Float64Array
}

export function planGaps(question: GapsQuestion, context: QueryContext, faults: Fault[]): GapsPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, among } = context
  const span = spanOf(question.range, now, calendar)
  const many = countBuckets(span, 'day')
  if (many > MOST_BUCKETS)
    faults.push({ path: ['range'], code: 'invalid', want: `at most ${MOST_BUCKETS} days, and these are ${many}` })
  const days = many > MOST_BUCKETS ? [] : bucketsOf(span, 'day', now, calendar)
  refuseEventGroups(question.breakdowns, 'The time between uses', faults)
  return {
    ...planGrouped(question.breakdowns, compile, span.from),
    ...{ pick: planPick(question.start, compile, ['start']), grid: gridOf(span, days), days: days.length, among },
    last: Math.min(now, span.until - 1),
  }
}

export function nextGaps(
  part: GapsPart,
  plan: GapsPlan,
  question: GapsQuestion,
  context: QueryContext,
): GapsPlan | null {
  if (part.pass === 'count' || !plan.split) return null
  return { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
}

export function scanGaps(log: EventLog, people: PersonRange, plan: GapsPlan): GapsPart {
  if (plan.pass === 'cuts') {
    const finder = groupFinder(log, plan)
    eachPerson(log, people, plan, () => {}, finder.meet)
    return finder.found()
  }
  if (plan.pass === 'rank') {
    const { readPerson, count, found } = rankFinder(log, plan)
    eachPerson(log, people, plan, (person) => {
      const groups = readPerson(person, plan.last)
      for (let g = 0; g < groups.length; g++) count(groups.found[g], 1)
    })
    return found()
  }
  const size = plan.days + 1
  const everybody = plan.keys.length
  const gaps = new Float64Array((everybody + 1) * size)
  const medians = new Float64Array((everybody + 1) * 2 * size)
  const once = new Float64Array(everybody + 1)
  const all = new Float64Array(everybody + 1)
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  eachPerson(log, people, plan, (person, own) => {
    const median = own.length > 0 ? twiceMedian([...own]) : 0
    const add = (group: number) => {
      all[group]++
      if (own.length === 0) once[group]++
      else medians[group * 2 * size + median]++
      for (const gap of own) gaps[group * size + gap]++
    }
    const groups = groupsOf && groupsOf(person, plan.last)
    if (groups) for (let g = 0; g < groups.length; g++) add(groups.found[g])
    add(everybody)
  })
  return { pass: 'count', gaps, medians, once, all }
}

export function mergeGaps(a: GapsPart, b: GapsPart): GapsPart {
  if (a.pass === 'count' && b.pass === 'count') {
    const sum = (name: keyof GapCounts) => addArrays(a[name], b[name])
    return { pass: 'count', gaps: sum('gaps'), medians: sum('medians'), once: sum('once'), all: sum('all') }
  }
  if (a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** Between the two middle gaps where there is an even number of them. */
function twiceMedian(gaps: number[]): number {
  const sorted = gaps.sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? 2 * sorted[middle] : sorted[middle - 1] + sorted[middle]
}

/** Visits everybody who did it in the range, with their gaps in local days, in order; `meet` is told of each event. */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: GapsPlan,
  visit: (person: number, gaps: number[]) => void,
  meet?: (row: number, person: number) => void,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid } = plan
  const { from, until, origin, bucketOfQuarter } = grid
  const picker = bindPick(plan.pick, log)
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const end = offsets[index + 1]
    const gaps: number[] = []
    let last = -1
    for (let row = picker.next(offsets[index], end, person); row >= 0; row = picker.next(row + 1, end, person)) {
      if (time[row] < from) continue
      if (time[row] >= until) break
      meet?.(row, person)
      const day = bucketOfQuarter[Math.floor((time[row] - origin) / QUARTER)]
      if (last >= 0 && day !== last) gaps.push(day - last)
      last = day
    }
    if (last >= 0) visit(person, gaps)
  }
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectGaps(
  log: EventLog,
  people: PersonRange,
  plan: GapsPlan,
  marks: readonly GapsMark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => {
    const place = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    return mark.kind === 'gap' && place !== -1 ? [{ ...mark, place }] : []
  })
  const found: number[] = []
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  eachPerson(log, people, plan, (person, gaps) => {
    const groups = groupsOf && groupsOf(person, plan.last)
    const median = gaps.length > 0 ? twiceMedian([...gaps]) / 2 : NaN
    const holds = tests.some(({ least, most = Infinity, of, place }) => {
      if (place !== null && !isIn(groups, place)) return false
      if (of === 'once') return gaps.length === 0
      if (of === 'median') return median >= least && median <= most
      return gaps.some((gap) => gap >= least && gap <= most)
    })
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}
