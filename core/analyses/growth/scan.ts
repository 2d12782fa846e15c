import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import type { Mark } from '../../questions/parts.js'
import { QUARTER } from '../../time/quarter.js'
import { bindPick } from '../picks.js'
import type { GrowthPlan } from './plan.js'
import { growthStates, type GrowthState } from './question.js'

/** Places of the states; whoever has not done it yet is in none. */
export const STATE = { new: 0, retained: 1, revived: 2, lapsed: 3, idle: 4 } as const satisfies Record<
  GrowthState,
  number
>
export const UNSEEN = 5
export const STATES = growthStates.length

/** Joins by adding. */
export interface GrowthPart {
  /** people by interval × states + state */
  counts: Float64Array
  /** people by (interval × (states + unseen) + state before) × states + state; of the first interval nothing */
  flows: Float64Array
}

/** Counts people by what they are in each interval, and what they were in the one before (calculations §6). */
export function scanGrowth(log: EventLog, people: PersonRange, plan: GrowthPlan): GrowthPart {
  const many = plan.intervals.length
  const counts = new Float64Array(many * STATES)
  const flows = new Float64Array(many * (STATES + 1) * STATES)
  eachPerson(log, people, plan, (_person, states, first) => {
    for (let i = first; i < many; i++) {
      counts[i * STATES + states[i]]++
      if (i > 0) flows[(i * (STATES + 1) + states[i - 1]) * STATES + states[i]]++
    }
  })
  return { counts, flows }
}

export function mergeGrowth(a: GrowthPart, b: GrowthPart): GrowthPart {
  return { counts: addArrays(a.counts, b.counts), flows: addArrays(a.flows, b.flows) }
}

/** Visits everybody who has ever done it. @param visit `states` from the interval `first` on hold; the array is used again */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  plan: GrowthPlan,
  visit: (person: number, states: Uint8Array, first: number) => void,
): void {
  const { offsets, time, hidden, person: persons } = log
  const { among, grid, now } = plan
  const many = plan.intervals.length
  const picker = bindPick(plan.pick, log)
  const { origin, bucketOfQuarter } = grid
  // Entry 0 is the interval before the first.
  const active = new Uint8Array(many + 1)
  const states = new Uint8Array(many)
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const end = offsets[index + 1]
    const start = picker.next(offsets[index], end, person)
    if (start < 0 || time[start] > now) continue
    // The interval in which they first did it; −1 = before all of these.
    const began = time[start] < grid.from ? -1 : time[start] < grid.until ? at(time[start]) : many + 1
    if (began > many) continue
    active.fill(0)
    for (let row = start; row >= 0; row = picker.next(row + 1, end, person)) {
      if (time[row] >= grid.until) break
      if (time[row] >= grid.from) active[at(time[row])] = 1
    }
    const first = Math.max(0, began - 1)
    for (let i = 0; i < many; i++) {
      const [was, is] = [active[i], active[i + 1]]
      states[i] =
        i + 1 < began
          ? UNSEEN
          : i + 1 === began
            ? STATE.new
            : is === 1
              ? was === 1
                ? STATE.retained
                : STATE.revived
              : was === 1
                ? STATE.lapsed
                : STATE.idle
    }
    visit(person, states, first)
  }
  function at(ms: number): number {
    return bucketOfQuarter[Math.floor((ms - origin) / QUARTER)]
  }
}

/** The people of any of the marks, ascending by the workspace's number. */
export function selectGrowth(
  log: EventLog,
  people: PersonRange,
  plan: GrowthPlan,
  marks: readonly Mark[],
): Uint32Array {
  const tests = marks.flatMap((mark) => {
    if (mark.kind !== 'state') return []
    const interval = plan.intervals.findIndex(({ key }) => key === mark.interval)
    const from = mark.from === undefined ? null : mark.from === 'unseen' ? UNSEEN : STATE[mark.from]
    if (interval < 0 || (from !== null && interval === 0)) return []
    return [{ interval, states: mark.states.map((state) => STATE[state] as number), from }]
  })
  const found: number[] = []
  eachPerson(log, people, plan, (person, states) => {
    const holds = tests.some(
      ({ interval, states: wanted, from }) =>
        wanted.includes(states[interval]) && (from === null || states[interval - 1] === from),
    )
    if (holds) found.push(person)
  })
  return Uint32Array.from(found)
}
