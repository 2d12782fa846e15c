import type { EventLog } from '../log/log.js'
import { personIndex } from '../log/personIndex.js'
import type { Schema } from '../log/schema.js'
import { cutter, type CutPlan } from './cuts.js'
import type { SessionPart } from './properties.js'

/** The session that a row lies in. */
export interface Session {
  /** its first row, and the row after its last one */
  start: number
  end: number
  /** counted from 1, of its person */
  number: number
}

/**
 * Finds the session of one row after another; fastest where they come in order.
 * @param now epoch ms: nothing later is seen
 * @returns the session, used again for the next row; null for a row that is not seen
 */
export function sessionFinder(log: EventLog, plan: CutPlan, now: number): (row: number) => Session | null {
  const { time, offsets } = log
  const begins = cutter(log, plan)
  const at: Session = { start: 0, end: 0, number: 0 }
  let personStart = 0
  let personEnd = 0
  const setEnd = () => {
    let end = at.start + 1
    while (end < personEnd && time[end] <= now && !begins(end)) end++
    at.end = end
  }
  return (row) => {
    if (!(time[row] <= now)) return null
    if (row < personStart || row >= personEnd) {
      const index = personIndex(log, row)
      personStart = offsets[index]
      personEnd = offsets[index + 1]
    } else if (row >= at.start && row < at.end) return at
    if (row < at.start || at.start < personStart || at.start >= personEnd) {
      at.start = personStart
      at.number = 1
      setEnd()
    }
    while (row >= at.end) {
      at.start = at.end
      at.number++
      setEnd()
    }
    return at
  }
}

const MINUTE = 60_000

/** Reads a part of the session at a row: null where there is none. */
export function bindPart(
  part: SessionPart,
  log: EventLog,
  schema: Schema,
  plan: CutPlan,
  now: number,
): (row: number) => string | number | boolean | null {
  const find = sessionFinder(log, plan, now)
  const { time, type } = log
  const nameAt = (row: number) => schema.currentName(schema.types[type[row]].name)
  const read = READERS[part]
  return (row) => {
    const session = find(row)
    return session && read(session, row, time, nameAt)
  }
}

type Reader = (
  session: Session,
  row: number,
  time: Float64Array,
  nameAt: (row: number) => string,
) => string | number | boolean | null

const READERS: Record<SessionPart, Reader> = {
  position: ({ start }, row) => row - start + 1,
  'from the end': ({ end }, row) => end - row,
  'minutes since start': ({ start }, row, time) => (time[row] - time[start]) / MINUTE,
  number: ({ number }) => number,
  entry: ({ start }, _row, _time, nameAt) => nameAt(start),
  exit: ({ end }, _row, _time, nameAt) => nameAt(end - 1),
  before: ({ start }, row, _time, nameAt) => (row === start ? null : nameAt(row - 1)),
  after: ({ end }, row, _time, nameAt) => (row === end - 1 ? null : nameAt(row + 1)),
  minutes: ({ start, end }, _row, time) => (time[end - 1] - time[start]) / MINUTE,
  events: ({ start, end }) => end - start,
  only: ({ start, end }) => end - start === 1,
}
