import { rowMatcher, bindPick } from '../../filters/picks.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { cutter } from '../../sessions/cuts.js'
import { asksOthers, canHold, type AttributionPlan } from './plan.js'

/** Tells the values of a touch: of a list each of its elements. Used again for the next one. */
export interface ValueReader {
  length: number
  found: ArrayLike<number>
}
export type ReadValues = (row: number, person: number) => ValueReader

/** A person's touches, oldest first, and where those of a conversion begin and end; used again for the next one. */
export interface Touches {
  person: number
  rows: number[]
  /** epoch ms */
  times: number[]
  values: number[]
  /** how many there are: the lists may be longer */
  length: number
  /** while values are ranked: how many different ones they have */
  different: number
  /** touches so far whose value is not told apart */
  missed: number
}

export interface Visitor {
  /** the touches of a conversion are those from `from` up to, not including, `to` */
  conversion(goal: number, row: number, touches: Touches, from: number, to: number): void
  /** somebody who did not convert, with the touches of the time asked about; left out: nobody asks */
  other?(goal: number, touches: Touches, from: number, to: number): void
  /** all of a person was visited; left out: nobody asks */
  done?(person: number, touches: Touches): void
}

/**
 * Visits the conversions that are asked about, each with the touches that are found for it (how numbers are counted,
 * 15), person after person; of each goal in order.
 */
export function touchWalk(log: EventLog, plan: AttributionPlan, read: ReadValues) {
  const { time, type: typeOf, offsets, person: persons } = log
  const { from, until, now, first, backMs, backSessions, goals, cutsPlan } = plan
  const pickers = goals.map((goal) => bindPick(goal, log))
  const touch = rowMatcher(plan.touches, log)
  const isTest = plan.touches.test !== null
  const has = rowMatcher({ types: plan.touches.types, test: plan.has }, log)
  for (let type = 0; type < touch.of.length; type++)
    if (touch.of[type] === 1 && !(canHold(plan.touches.test, log, type) && canHold(plan.has, log, type)))
      touch.of[type] = 0
  // Where values have been chosen, what has none is in no group, and need not be asked first.
  const asksFirst = plan.pass !== 'count' && plan.has !== null
  const begins = backSessions > 0 ? cutter(log, cutsPlan) : null
  const touches: Touches = { person: 0, rows: [], times: [], values: [], length: 0, different: 0, missed: 0 }
  const known: number[] = []
  const { rows, times, values } = touches
  const found: number[][] = goals.map(() => [])
  const starts: number[] = []
  const all = asksOthers(plan)

  /** The rows of conversions of each goal; whether there is any. */
  function convert(begin: number, end: number, person: number): boolean {
    let some = false
    for (let goal = 0; goal < goals.length; goal++) {
      const own = found[goal]
      own.length = 0
      const picker = pickers[goal]
      for (let row = picker.next(begin, end, person); row >= 0; row = picker.next(row + 1, end, person)) {
        const at = time[row]
        if (at >= until) break
        if (at >= from) own.push(row)
        if (first) break
      }
      some ||= own.length > 0
    }
    return some
  }

  /** Where the look-back of a row begins, by sessions: the conversion's own is the first. */
  function sessionBack(row: number): number {
    let at = starts.length - 1
    while (starts[at] > row) at--
    return starts[Math.max(0, at - backSessions + 1)]
  }

  function gather(begin: number, end: number, earliest: number, latest: number, person: number): void {
    known.length = 0
    let length = 0
    let row = begin
    if (earliest > time[begin]) {
      let high = end
      while (row < high) {
        const middle = (row + high) >> 1
        if (time[middle] < earliest) row = middle + 1
        else high = middle
      }
    }
    for (; row < end && time[row] <= latest; row++) {
      if (touch.of[typeOf[row]] === 0) continue
      if (asksFirst && !has.holds(row, person)) continue
      const own = read(row, person)
      if (own.length === 0) {
        if (plan.guess && has.holds(row, person) && touch.holds(row, person)) touches.missed++
        continue
      }
      if (isTest && !touch.holds(row, person)) continue
      for (let i = 0; i < own.length; i++) {
        rows[length] = row
        times[length] = time[row]
        values[length++] = own.found[i]
        if (plan.pass === 'rank' && !known.includes(own.found[i])) known.push(own.found[i])
      }
    }
    touches.length = length
    touches.different = known.length
  }

  return (index: number, visitor: Visitor): void => {
    const begin = offsets[index]
    let end = offsets[index + 1]
    while (end > begin && time[end - 1] > now) end--
    if (end === begin) return
    const person = persons[index]
    const some = convert(begin, end, person)
    // Of somebody who converted in every way only what lies in the look-backs is looked at.
    const others = all && visitor.other !== undefined && found.some((own) => own.length === 0)
    if (!some && !others) return
    let [earliest, latest] = others ? [from, Math.min(until - 1, now)] : [Infinity, -Infinity]
    for (const own of found) {
      if (own.length === 0) continue
      earliest = Math.min(earliest, begins ? -Infinity : time[own[0]] - backMs)
      latest = Math.max(latest, time[own[own.length - 1]])
    }
    touches.person = person
    gather(begin, end, earliest, latest, person)
    if (begins) {
      starts.length = 0
      for (let row = begin; row < end; row++) if (row === begin || begins(row)) starts.push(row)
    }
    const many = touches.length
    for (let goal = 0; goal < goals.length; goal++) {
      const own = found[goal]
      let [low, high] = [0, 0]
      for (const row of own) {
        const at = time[row]
        if (begins) {
          const back = sessionBack(row)
          while (low < many && rows[low] < back) low++
        } else while (low < many && times[low] < at - backMs) low++
        if (high < low) high = low
        while (high < many && times[high] <= at) high++
        visitor.conversion(goal, row, touches, low, high)
      }
      if (own.length > 0 || !others) continue
      while (low < many && times[low] < from) low++
      high = low
      while (high < many && times[high] < until) high++
      visitor.other!(goal, touches, low, high)
    }
    visitor.done?.(person, touches)
  }
}

/** The same of a range of people that count. */
export function eachTouched(
  log: EventLog,
  people: PersonRange,
  plan: AttributionPlan,
  read: ReadValues,
  visitor: Visitor,
): void {
  const walk = touchWalk(log, plan, read)
  const { hidden, person } = log
  const { among } = plan
  for (let index = people.from; index < people.to; index++)
    if (hidden?.[index] !== 1 && (among === null || among[person[index]] === 1)) walk(index, visitor)
}
