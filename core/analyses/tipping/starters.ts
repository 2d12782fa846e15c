import { bindPick } from '../../filters/picks.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { hasEnded, stepsBetween } from '../retention/plan.js'
import type { TippingPlan } from './plan.js'
import { MOST_TIMES } from './question.js'

/** Somebody whose first start ever lies in the range; used again for the next one. */
export interface Starter {
  person: number
  /** row of the start, and when that was, epoch ms */
  row: number
  at: number
  /** the outcome may still come, or is not over: they are not counted */
  isOpen: boolean
  /** the first days are not over */
  hasLeft: boolean
  came: boolean
  /** by place: how often it was done early, MOST_TIMES at most; those that were are listed */
  counts: Uint8Array
  met: Uint16Array
  metCount: number
}

export function starters(log: EventLog, plan: TippingPlan) {
  const { offsets, time, type: types } = log
  const { from, until, now, earlyMs, outcome, placeOf } = plan
  const starts = bindPick(plan.start, log)
  const goals = bindPick(plan.goal, log)
  const starter: Starter = {
    ...{ person: 0, row: -1, at: 0, isOpen: false, hasLeft: false, came: false },
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
    starter.at = at
    for (let i = 0; i < starter.metCount; i++) counts[met[i]] = 0
    starter.metCount = 0
    const last = at + earlyMs
    starter.isOpen = !isOver(at)
    starter.hasLeft = starter.isOpen && last >= now
    starter.came = !starter.isOpen && didCome(row, end, person, at)
    // Of those between the first days and the outcome nothing is told.
    if (starter.isOpen && !starter.hasLeft) return starter
    for (let next = row + 1; next < end && time[next] <= last && time[next] <= now; next++) {
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

export function eachStarter(
  log: EventLog,
  people: PersonRange,
  plan: TippingPlan,
  visit: (starter: Starter) => void,
): void {
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
