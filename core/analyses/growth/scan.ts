import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { QUARTER } from '../../time/quarter.js'
import { bindPick } from '../../filters/picks.js'
import type { GrowthPlan } from './plan.js'
import { growthStates, type GrowthState } from './question.js'
import type { GrowthMark } from './marks.js'

/** Places of the states; whoever has not done it yet is in none. */
export const STATE = { new: 0, retained: 1, revived: 2, lapsed: 3, idle: 4 } as const satisfies Record<
  GrowthState,
  number
>
export const UNSEEN = 5
export const STATES = growthStates.length

/** Joins by adding. What is idle follows from the rest: see `finishGrowth`. */
export interface GrowthPart {
  /** people whose first ever lies before the first interval */
  seenBefore: number
  /** people by interval × states + state; none idle */
  counts: Float64Array
  /** people by (interval × (states + unseen) + state before) × states + state; of the first interval nothing; none to idle */
  flows: Float64Array
}

/**
 * Counts people by what they are in each interval, and what they were in the one before (how numbers are counted, 9).
 */
export function scanGrowth(log: EventLog, people: PersonRange, plan: GrowthPlan): GrowthPart {
  const many = plan.intervals.length
  const part: GrowthPart = {
    seenBefore: 0,
    counts: new Float64Array(many * STATES),
    flows: new Float64Array(many * (STATES + 1) * STATES),
  }
  const { counts, flows } = part
  const add = (i: number, from: number, to: number) => {
    counts[i * STATES + to]++
    if (i > 0) flows[(i * (STATES + 1) + from) * STATES + to]++
  }
  // Only where somebody is active, and just after it, is there anything to count.
  eachPerson(log, people, plan, (_person, active, length, began) => {
    if (began < 0) part.seenBefore++
    let state: number = STATE.idle
    let before = -3
    for (let k = 0; k < length; k++) {
      const i = active[k]
      // What they were in the one before: as they were there, just lapsed, long away, or not there yet.
      const was = before === i - 1 ? state : before === i - 2 ? STATE.lapsed : i === began ? UNSEEN : STATE.idle
      state = i === began ? STATE.new : before === i - 1 ? STATE.retained : STATE.revived
      if (i >= 0) add(i, was, state)
      const next = i + 1
      if (next < many && (k + 1 === length || active[k + 1] !== next)) add(next, state, STATE.lapsed)
      before = i
    }
  })
  return part
}

export function mergeGrowth(a: GrowthPart, b: GrowthPart): GrowthPart {
  return {
    seenBefore: a.seenBefore + b.seenBefore,
    counts: addArrays(a.counts, b.counts),
    flows: addArrays(a.flows, b.flows),
  }
}

/**
 * Visits everybody who has ever done it, and not only after the last interval.
 * @param visit `active` holds the `length` intervals in which they did it, ascending, −1 being the one before the first,
 *   and is used again; `began` is the one of their first ever, −1 or less where that lies before the first
 */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: GrowthPlan,
  visit: (person: number, active: Int32Array, length: number, began: number) => void,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid, now } = plan
  const many = plan.intervals.length
  const picker = bindPick(plan.pick, log)
  const { plain } = picker
  const { from, until, origin, bucketOfQuarter } = grid
  const shift = origin / QUARTER
  const firstQuarter = Math.floor(from / QUARTER)
  const lastQuarter = Math.floor((until - 1) / QUARTER)
  const active = new Int32Array(many + 1)
  let length = 0
  // Of the grid the interval before the first is 0.
  const meet = (quarter: number) => {
    const interval = bucketOfQuarter[quarter - shift] - 1
    if (length === 0 || active[length - 1] !== interval) active[length++] = interval
  }
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const end = offsets[index + 1]
    const start = picker.next(offsets[index], end, person)
    if (start < 0 || time[start] > now || time[start] >= until) continue
    const began = time[start] < from ? -2 : bucketOfQuarter[Math.floor(time[start] / QUARTER) - shift] - 1
    length = 0
    if (plain) {
      const { rows, quarters, placeOf } = plain
      for (let cursor = placeOf(start); cursor < rows.length && rows[cursor] < end; cursor++) {
        const quarter = quarters[cursor]
        if (quarter < firstQuarter) continue
        if (quarter >= lastQuarter && time[rows[cursor]] >= until) break
        meet(quarter)
      }
    } else
      for (let row = start; row >= 0 && time[row] < until; row = picker.next(row + 1, end, person))
        if (time[row] >= from) meet(Math.floor(time[row] / QUARTER))
    visit(person, active, length, began)
  }
}

/** What somebody is in an interval. */
function stateAt(active: Int32Array, length: number, began: number, i: number): number {
  if (i < began) return UNSEEN
  if (i === began) return STATE.new
  const within = active.subarray(0, length)
  const [was, is] = [within.includes(i - 1), within.includes(i)]
  return is ? (was ? STATE.retained : STATE.revived) : was ? STATE.lapsed : STATE.idle
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectGrowth(
  log: EventLog,
  people: PersonRange,
  plan: GrowthPlan,
  marks: readonly GrowthMark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => {
    if (mark.kind !== 'state') return []
    const interval =
      mark.interval === undefined
        ? plan.intervals.findLastIndex(({ open }) => !open)
        : plan.intervals.findIndex(({ key }) => key === mark.interval)
    const from = mark.from === undefined ? null : mark.from === 'unseen' ? UNSEEN : STATE[mark.from]
    if (interval < 0 || (from !== null && interval === 0)) return []
    return [{ interval, states: mark.states.map((state) => STATE[state] as number), from }]
  })
  const found: number[] = []
  eachPerson(log, people, plan, (person, active, length, began) => {
    const at = (i: number) => stateAt(active, length, began, i)
    const holds = tests.some(
      ({ interval, states, from }) => states.includes(at(interval)) && (from === null || at(interval - 1) === from),
    )
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}
