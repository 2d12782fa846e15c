import { bindPick } from '../../filters/picks.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { addArrays } from '../../groups/groups.js'
import { hasEnded, stepsBetween } from '../retention/plan.js'
import type { TippingMark } from './marks.js'
import type { TippingPlan } from './plan.js'
import { MOST_TIMES } from './question.js'

/** People by what they did early and what came of it. Joins by adding. */
export interface TippingPart {
  /** people whose outcome can be known, and of them those it came for */
  base: number
  came: number
  /** who started in the range, but for whom it is not over */
  open: number
  /** by place × WIDTH + count − 1: people who did it just so often, and of them those the outcome came for */
  people: Float64Array
  with: Float64Array
}

export function scanTipping(log: EventLog, people: PersonRange, plan: TippingPlan): TippingPart {
  const size = plan.names.length * MOST_TIMES
  const part: TippingPart = { base: 0, came: 0, open: 0, people: new Float64Array(size), with: new Float64Array(size) }
  const { people: all, with: reached } = part
  eachStarter(log, people, plan, ({ isOpen, came, counts, met, metCount }) => {
    if (isOpen) {
      part.open++
      return
    }
    part.base++
    if (came) part.came++
    for (let i = 0; i < metCount; i++) {
      const at = met[i] * MOST_TIMES + counts[met[i]] - 1
      all[at]++
      if (came) reached[at]++
    }
  })
  return part
}

export function mergeTipping(a: TippingPart, b: TippingPart): TippingPart {
  return {
    ...{ base: a.base + b.base, came: a.came + b.came, open: a.open + b.open },
    ...{ people: addArrays(a.people, b.people), with: addArrays(a.with, b.with) },
  }
}

/** Somebody whose first start ever lies in the range; used again for the next one. */
interface Starter {
  person: number
  /** row of the start */
  row: number
  /** the outcome may still come, or is not over: they are not counted */
  isOpen: boolean
  came: boolean
  /** by place: how often it was done early, MOST_TIMES at most; those that were are listed */
  counts: Uint8Array
  met: Uint16Array
  metCount: number
}

function starters(log: EventLog, plan: TippingPlan) {
  const { offsets, time, type: types } = log
  const { from, until, now, earlyMs, outcome, placeOf } = plan
  const starts = bindPick(plan.start, log)
  const goals = bindPick(plan.goal, log)
  const starter: Starter = {
    ...{ person: 0, row: -1, isOpen: false, came: false },
    ...{ counts: new Uint8Array(plan.names.length), met: new Uint16Array(plan.names.length), metCount: 0 },
  }
  const { counts, met } = starter

  const isOver = (at: number): boolean =>
    'clock' in outcome ? hasEnded({ clock: outcome.clock, now }, at, outcome.period) : at + outcome.untilMs < now

  /** Whether a moment lies in the outcome's period, before it (−1), or after it (1). */
  function side(at: number, moment: number): number {
    if ('clock' in outcome) {
      const step = stepsBetween(outcome.clock, at, moment)
      if (step < outcome.period) return -1
      return step > outcome.period && !outcome.onward ? 1 : 0
    }
    return moment <= at + outcome.fromMs ? -1 : moment > at + outcome.untilMs ? 1 : 0
  }

  function didCome(row: number, end: number, person: number, at: number): boolean {
    const wanted = 'clock' in outcome ? 1 : outcome.times
    let found = 0
    for (let next = goals.next(row + 1, end, person); next >= 0; next = goals.next(next + 1, end, person)) {
      if (time[next] > now) return false
      const where = side(at, time[next])
      if (where > 0) return false
      if (where === 0 && ++found === wanted) return true
    }
    return false
  }

  return (index: number, person: number): Starter | null => {
    const end = offsets[index + 1]
    const row = starts.next(offsets[index], end, person)
    if (row < 0) return null
    const at = time[row]
    if (at < from || at >= until || at > now) return null
    starter.person = person
    starter.row = row
    for (let i = 0; i < starter.metCount; i++) counts[met[i]] = 0
    starter.metCount = 0
    starter.isOpen = !isOver(at)
    if (starter.isOpen) return starter
    starter.came = didCome(row, end, person, at)
    const last = at + earlyMs
    for (let next = row + 1; next < end && time[next] <= last; next++) {
      // What is done from the outcome's period on foretells nothing.
      if (side(at, time[next]) >= 0) break
      const place = placeOf[types[next]]
      if (place < 0) continue
      if (counts[place] === 0) met[starter.metCount++] = place
      if (counts[place] < MOST_TIMES) counts[place]++
    }
    return starter
  }
}

function eachStarter(log: EventLog, people: PersonRange, plan: TippingPlan, visit: (starter: Starter) => void): void {
  const { hidden, person: persons } = log
  const { among } = plan
  const read = starters(log, plan)
  for (let index = people.from; index < people.to; index++) {
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const starter = read(index, person)
    if (starter) visit(starter)
  }
}

/** Whether somebody is counted in a mark. */
function testOf(
  plan: TippingPlan,
  { event, times, exactly, not, outcome }: TippingMark,
): (starter: Starter) => boolean {
  const place = event === undefined ? -1 : plan.names.indexOf(event)
  return ({ isOpen, came, counts }) => {
    if (isOpen || (outcome !== undefined && came !== (outcome === 'came'))) return false
    if (event === undefined) return true
    const count = place < 0 ? 0 : counts[place]
    const holds = exactly !== undefined ? count === exactly : count >= (times ?? 1)
    return holds !== (not === true)
  }
}

/** The people counted in any of the marks, ascending by the workspace's number. */
export function selectTipping(
  log: EventLog,
  people: PersonRange,
  plan: TippingPlan,
  marks: readonly TippingMark[],
): Uint32Array {
  const tests = marks.map((mark) => testOf(plan, mark))
  const found: number[] = []
  eachStarter(log, people, plan, (starter) => {
    if (tests.some((holds) => holds(starter))) found.push(starter.person)
  })
  return Uint32Array.from(found).sort()
}

/** The start of somebody who is counted in a mark. */
export function momentOfTipping(
  log: EventLog,
  index: number,
  plan: TippingPlan,
  marks: readonly TippingMark[],
): number | null {
  const starter = starters(log, plan)(index, log.person[index])
  return starter && marks.some((mark) => testOf(plan, mark)(starter)) ? starter.row : null
}
