import type { EventLog } from '../log/log.js'
import type { Schema } from '../log/schema.js'
import type { CutPlan } from './cuts.js'
import type { SessionPart } from './properties.js'
import { SessionStarts } from './starts.js'

/** The session that a row lies in. */
export interface Session {
  /** its first row, and the row after its last one */
  start: number
  end: number
}

/**
 * Finds the session of one row after another; fastest where they come in order.
 * @param now epoch ms: nothing later is seen; Infinity = there is nothing later
 * @returns the session, used again for the next row; null for a row that is not seen
 */
export function sessionFinder(log: EventLog, plan: CutPlan, now: number): (row: number) => Session | null {
  const { time } = log
  const starts = SessionStarts.of(log, plan, now)
  const at: Session = { start: 0, end: 0 }
  return (row) => {
    if (row >= at.start && row < at.end) return time[row] <= now ? at : null
    if (!(time[row] <= now)) return null
    at.start = starts.startOf(row)
    at.end = starts.endOf(row)
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
  const names: string[] = []
  const nameAt = (row: number) => (names[type[row]] ??= schema.currentName(schema.types[type[row]].name))
  if (part === 'number') {
    const starts = SessionStarts.of(log, plan, now)
    return (row) => (time[row] <= now ? starts.numberOf(row) : null)
  }
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

const READERS: Record<Exclude<SessionPart, 'number'>, Reader> = {
  position: ({ start }, row) => row - start + 1,
  'from the end': ({ end }, row) => end - row,
  'minutes since start': ({ start }, row, time) => (time[row] - time[start]) / MINUTE,
  entry: ({ start }, _row, _time, nameAt) => nameAt(start),
  exit: ({ end }, _row, _time, nameAt) => nameAt(end - 1),
  before: ({ start }, row, _time, nameAt) => (row === start ? null : nameAt(row - 1)),
  after: ({ end }, row, _time, nameAt) => (row === end - 1 ? null : nameAt(row + 1)),
  minutes: ({ start, end }, _row, time) => (time[end - 1] - time[start]) / MINUTE,
  events: ({ start, end }) => end - start,
  only: ({ start, end }) => end - start === 1,
}
