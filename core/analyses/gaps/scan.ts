import type { CompileContext } from '../../filters/compile.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import type { Fault } from '../../questions/faults.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Grid } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { bindPick, planPick, type PickPlan } from '../../filters/picks.js'
import type { GapsQuestion } from './question.js'
import type { GapsMark } from './marks.js'

export interface GapsPlan {
  pick: PickPlan
  /** which local day of the range a moment lies in */
  grid: Grid
  days: number
  among: Uint8Array | null
}

/** Joins by adding. */
export interface GapsPart {
  /** by length in local days: gaps between one day somebody did it and the next, and people who have such a gap */
  gaps: Float64Array
  people: Float64Array
  /** people by twice their median gap, which may be a half day */
  medians: Float64Array
  /** people who did it on one day only, and people in all */
  once: number
  all: number
}

export function planGaps(question: GapsQuestion, context: QueryContext, faults: Fault[]): GapsPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, among } = context
  const span = spanOf(question.range, now, calendar)
  const many = countBuckets(span, 'day')
  if (many > MOST_BUCKETS)
    faults.push({ path: ['range'], code: 'invalid', want: `at most ${MOST_BUCKETS} days, and these are ${many}` })
  const days = many > MOST_BUCKETS ? [] : bucketsOf(span, 'day', now, calendar)
  return { pick: planPick(question.start, compile, ['start']), grid: gridOf(span, days), days: days.length, among }
}

export function scanGaps(log: EventLog, people: PersonRange, plan: GapsPlan): GapsPart {
  const size = plan.days + 1
  const part: GapsPart = {
    gaps: new Float64Array(size),
    people: new Float64Array(size),
    medians: new Float64Array(2 * size),
    ...{ once: 0, all: 0 },
  }
  const seen = new Int32Array(size).fill(-1)
  eachPerson(log, people, plan, (person, gaps) => {
    part.all++
    if (gaps.length === 0) part.once++
    for (const gap of gaps) {
      part.gaps[gap]++
      if (seen[gap] !== person) {
        seen[gap] = person
        part.people[gap]++
      }
    }
    if (gaps.length > 0) part.medians[twiceMedian(gaps)]++
  })
  return part
}

export function mergeGaps(a: GapsPart, b: GapsPart): GapsPart {
  return {
    gaps: addArrays(a.gaps, b.gaps),
    people: addArrays(a.people, b.people),
    medians: addArrays(a.medians, b.medians),
    once: a.once + b.once,
    all: a.all + b.all,
  }
}

/** Between the two middle gaps where there is an even number of them. */
function twiceMedian(gaps: number[]): number {
  const sorted = gaps.sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? 2 * sorted[middle] : sorted[middle - 1] + sorted[middle]
}

/** Visits everybody who did it in the range, with their gaps in local days, in order; the list is the visitor's. */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: GapsPlan,
  visit: (person: number, gaps: number[]) => void,
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
  const tests = marks.flatMap((mark) => (mark.kind === 'gap' ? [mark] : []))
  const found: number[] = []
  eachPerson(log, people, plan, (person, gaps) => {
    const median = gaps.length > 0 ? twiceMedian([...gaps]) / 2 : NaN
    const holds = tests.some(({ least, most = Infinity, of }) => {
      if (of === 'once') return gaps.length === 0
      if (of === 'median') return median >= least && median <= most
      return gaps.some((gap) => gap >= least && gap <= most)
    })
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}
