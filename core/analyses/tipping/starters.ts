import { columnOf } from '../../filters/bind.js'
import { bindPick } from '../../filters/picks.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { hasEnded, stepsBetween } from '../retention/plan.js'
import { QUARTER } from '../../time/quarter.js'
import type { OpenedPlan, TippingPlan } from './plan.js'
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
  const size = plan.behaviours.length
  const { offsets, time, type: types } = log
  const { from, until, now, earlyMs, outcome, placeOf } = plan
  const starts = bindPick(plan.start, log)
  const goals = bindPick(plan.goal, log)
  const starter: Starter = {
    ...{ person: 0, row: -1, at: 0, isOpen: false, hasLeft: false, came: false },
    ...{ counts: new Uint8Array(size), met: new Uint16Array(size), metCount: 0 },
  }
  const { counts, met } = starter
  const { daysOf } = plan
  const lastDay = new Int32Array(daysOf ? size : 0)
  const seen = new Set<string>()
  const opened = plan.opened.map((plans, type) => plans && plans.map((each) => openedReader(each, log, type)))
  const isOpened = opened.some((each) => each !== null)

  /** Counts what was done at a place once more; of days, only on a day of its own. */
  function countAt(place: number, moment: number): void {
    if (daysOf) {
      const day = daysOf.day[((moment - daysOf.origin) / QUARTER) | 0]
      if (counts[place] > 0 && lastDay[place] === day) return
      lastDay[place] = day
    }
    addAt(place)
  }

  function addAt(place: number): void {
    if (counts[place] === 0) met[starter.metCount++] = place
    if (counts[place] < MOST_TIMES) counts[place]++
  }

  function countValues(row: number): void {
    for (const { plan: each, read } of opened[types[row]] ?? []) {
      const { codes, other } = read(row)
      if (each.size > 0) for (const code of codes) countCode(each, code, time[row])
      else if (other !== null) countDifferent(each.base, `n${other}`)
      else for (const code of codes) if (code > 0) countDifferent(each.base, String(code))
    }
  }

  function countCode({ base, size: codes }: OpenedPlan, code: number, moment: number): void {
    if (code < codes) countAt(base + code, moment)
  }

  function countDifferent(place: number, value: string): void {
    const key = `${place} ${value}`
    if (seen.has(key)) return
    seen.add(key)
    addAt(place)
  }

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
    seen.clear()
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
      countAt(place, time[next])
      if (isOpened) countValues(next)
    }
    return starter
  }
}

/** The codes that a value counts under, 0 = no value; or the number or date that it is. */
interface ReadValue {
  codes: readonly number[]
  other: number | null
}

/** Reads what an event has of a property. */
function openedReader(plan: OpenedPlan, log: EventLog, type: number) {
  const { slot } = log
  const column = columnOf(plan.column, log, type)
  const none: ReadValue = { codes: [0], other: null }
  const known = new Map<number, ReadValue>()
  const ofCode = (code: number): ReadValue => {
    if (!known.has(code)) known.set(code, { codes: plan.lists.get(code) ?? [code], other: null })
    return known.get(code)!
  }
  return {
    plan,
    read: (row: number): ReadValue => {
      if (!column) return none
      const at = slot[row]
      const code = column.codes?.[at] ?? 0
      if (code !== 0) return ofCode(code)
      const number = column.numbers?.[at] ?? NaN
      if (number === number) return { codes: [], other: number }
      const date = column.dates?.[at] ?? NaN
      return date === date ? { codes: [], other: date } : none
    },
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
