import { bindPeopleGroups, groupFinder, isIn, isMoving, mergeFound, rankFinder } from '../../groups/grouped.js'
import { addArrays, type GroupReader } from '../../groups/groups.js'
import { groupId } from '../../questions/groupId.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { QUARTER } from '../../time/quarter.js'
import { bindPick } from '../../filters/picks.js'
import type { GrowthCounts, GrowthPart, GrowthPlan } from './plan.js'
import { growthStates, type GrowthState } from './question.js'
import type { GrowthMark } from './marks.js'

/** Places of the states; whoever has not done it yet is in none. */
export const STATE = { new: 0, retained: 1, revived: 2, lapsed: 3, idle: 4 } as const satisfies Record<
  GrowthState,
  number
>
export const UNSEEN = 5
export const STATES = growthStates.length

/**
 * Counts people by what they are in each interval, and what they were in the one before (how numbers are counted, 9).
 */
export function scanGrowth(log: EventLog, people: PersonRange, plan: GrowthPlan): GrowthPart {
  if (plan.pass === 'cuts') return findNumbers(log, people, plan)
  if (plan.pass === 'rank') return rankPeople(log, people, plan)
  const many = plan.intervals.length
  const all = plan.keys.length
  const counts = new Float64Array((all + 1) * many * STATES)
  const flows = new Float64Array(many * (STATES + 1) * STATES)
  const seenBefore = new Float64Array(all + 1)
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  const moving = isMoving(plan.split)
  let groups: GroupReader | null = null
  const together = all * many
  const add = (i: number, from: number, to: number) => {
    counts[(together + i) * STATES + to]++
    if (i > 0) flows[(i * (STATES + 1) + from) * STATES + to]++
    if (groups) for (let g = 0; g < groups.length; g++) counts[(groups.found[g] * many + i) * STATES + to]++
  }
  // Who goes from group to group is counted where they are at the end of each interval, idle ones too.
  const addMoving = (person: number, active: Int32Array, length: number, began: number) => {
    for (let i = Math.max(0, began); i < many; i++) {
      const here = groupsOf!(person, lastOf(plan, i))
      const state = stateAt(active, length, began, i)
      for (let g = 0; g < here.length; g++) counts[(here.found[g] * many + i) * STATES + state]++
    }
  }
  // Only where somebody is active, and just after it, is there anything to count.
  eachPerson(log, people, plan, (person, active, length, began) => {
    if (groupsOf && moving) addMoving(person, active, length, began)
    else if (groupsOf) groups = groupsOf(person, Infinity)
    if (began < 0) {
      seenBefore[all]++
      if (groups) for (let g = 0; g < groups.length; g++) seenBefore[groups.found[g]]++
    }
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
  return { pass: 'count', seenBefore, counts, flows }
}

export function mergeGrowth(a: GrowthPart, b: GrowthPart): GrowthPart {
  if (a.pass === 'count' && b.pass === 'count') {
    const sum = (name: keyof GrowthCounts) => addArrays(a[name], b[name])
    return { pass: 'count', seenBefore: sum('seenBefore'), counts: sum('counts'), flows: sum('flows') }
  }
  if (a.pass === 'count' || b.pass === 'count')
    throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
  return mergeFound(a, b)
}

/** The moment as of which people are looked at in an interval, epoch ms: its last, or now. */
const lastOf = ({ intervals, now }: GrowthPlan, interval: number) => Math.min(now, intervals[interval].end - 1)

/** The numbers of a breakdown, once for each event in the intervals. */
function findNumbers(log: EventLog, people: PersonRange, plan: GrowthPlan): GrowthPart {
  const finder = groupFinder(log, plan)
  const { from, until } = plan.grid
  // The interval before the first is looked at, and is none of those asked about.
  const start = plan.intervals[0]?.start ?? from
  const picker = bindPick(plan.pick, log)
  eachPerson(log, people, plan, (person, _active, _length, _began, index) => {
    const end = log.offsets[index + 1]
    for (let row = picker.next(log.offsets[index], end, person); row >= 0; row = picker.next(row + 1, end, person)) {
      if (log.time[row] >= until) break
      if (log.time[row] >= start) finder.meet(row, person)
    }
  })
  return finder.found()
}

/** Active people by every group, added up over the intervals. */
function rankPeople(log: EventLog, people: PersonRange, plan: GrowthPlan): GrowthPart {
  const { readPerson, count, found } = rankFinder(log, plan)
  const moving = isMoving(plan.split)
  eachPerson(log, people, plan, (person, active, length) => {
    const first = length > 0 && active[0] < 0 ? 1 : 0
    const intervals = length - first
    if (intervals === 0) return
    if (moving) {
      for (let k = first; k < length; k++) {
        const groups = readPerson(person, lastOf(plan, active[k]))
        for (let g = 0; g < groups.length; g++) count(groups.found[g], 1)
      }
      return
    }
    const groups = readPerson(person, Infinity)
    for (let g = 0; g < groups.length; g++) count(groups.found[g], intervals)
  })
  return found()
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
  visit: (person: number, active: Int32Array, length: number, began: number, index: number) => void,
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
    visit(person, active, length, began, index)
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
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
    if (interval < 0 || group === -1 || (from !== null && interval === 0)) return []
    return [{ interval, group, states: mark.states.map((state) => STATE[state] as number), from }]
  })
  const found: number[] = []
  const groupsOf = plan.split && bindPeopleGroups(log, plan.split)
  eachPerson(log, people, plan, (person, active, length, began) => {
    const isAt = (group: number, i: number) => isIn(groupsOf && groupsOf(person, lastOf(plan, i)), group)
    const at = (i: number) => stateAt(active, length, began, i)
    const holds = tests.some(
      ({ interval, group, states, from }) =>
        states.includes(at(interval)) &&
        (from === null || at(interval - 1) === from) &&
        (group === null || isAt(group, interval)),
    )
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}
