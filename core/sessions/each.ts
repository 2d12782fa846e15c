import type { EventLog, PersonRange } from '../log/log.js'
import { STEP, type Steps } from '../steps.js'
import { rankedValues } from '../stats/select.js'
import { Growing, joinedPieces, type Pieces } from '../stats/pieces.js'
import { cutter, timeoutAfter, type CutPlan } from './cuts.js'

/** A session, used again for the next one. */
export interface SessionRows {
  /** its first row, and the row after its last one that is seen */
  start: number
  end: number
  /** counted from 1, of its person */
  number: number
  person: number
  /** something may yet follow in it */
  open: boolean
}

/**
 * Visits the sessions of one person after another, in order.
 * @param index the person's, in the block
 * @param now epoch ms: nothing later is seen
 */
export function sessionWalk(log: EventLog, plan: CutPlan, now: number) {
  const { time, offsets, person } = log
  const begins = cutter(log, plan)
  const timeout = timeoutAfter(log, plan)
  const session: SessionRows = { start: 0, end: 0, number: 0, person: 0, open: false }
  return (index: number, visit: (session: SessionRows) => void): void => {
    const first = offsets[index]
    let stop = offsets[index + 1]
    // Mostly all of it is seen.
    while (stop > first && time[stop - 1] > now) stop--
    if (stop === first) return
    session.person = person[index]
    session.number = 0
    let start = first
    for (let row = first + 1; row <= stop; row++) {
      if (row < stop && !begins(row)) continue
      session.start = start
      session.end = row
      session.number++
      session.open = row === stop && now - time[row - 1] <= timeout(row - 1)
      visit(session)
      start = row
    }
  }
}

/** What a way of cutting sessions makes of the data; lengths in ms, of sessions that are over. */
export interface SessionFigures {
  sessions: number
  people: number
  open: number
  /** null where none is over */
  median: number | null
  average: number | null
  /** sessions of one event, of those that are over */
  single: number
}

/** Counts the sessions of everybody, as they would be cut. */
export function* sessionFigures(logs: readonly EventLog[], plan: CutPlan, now: number): Steps<SessionFigures> {
  const pieces: Pieces = []
  const found = { sessions: 0, people: 0, open: 0, single: 0 }
  let sum = 0
  for (const log of logs) {
    const walk = sessionWalk(log, plan, now)
    const lengths = new Growing()
    let rows = 0
    for (let index = 0; index < log.people; index++) {
      if (log.hidden?.[index] === 1) continue
      const before = found.sessions
      walk(index, ({ start, end, open }) => {
        found.sessions++
        if (open) {
          found.open++
          return
        }
        const length = log.time[end - 1] - log.time[start]
        lengths.push(length)
        sum += length
        if (end - start === 1) found.single++
      })
      if (found.sessions > before) found.people++
      rows += log.offsets[index + 1] - log.offsets[index]
      if (rows < STEP) continue
      rows = 0
      yield
    }
    pieces.push(lengths.done())
  }
  const all = joinedPieces(pieces)
  return {
    ...found,
    median: all.length > 0 ? rankedValues(all, (all.length - 1) / 2) : null,
    average: all.length > 0 ? sum / all.length : null,
  }
}

/** The same of one range of people, for whoever counts more of it. */
export function eachSession(
  log: EventLog,
  people: PersonRange,
  plan: CutPlan,
  now: number,
  among: Uint8Array | null,
  visit: (session: SessionRows) => void,
): void {
  const walk = sessionWalk(log, plan, now)
  const { hidden, person } = log
  for (let index = people.from; index < people.to; index++)
    if (hidden?.[index] !== 1 && (among === null || among[person[index]] === 1)) walk(index, visit)
}
