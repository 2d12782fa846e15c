import { QUARTER } from '../time/quarter.js'
import type { EventLog } from './log.js'

/** When events of some types came in, up to a moment. */
export interface Arrivals {
  /** epoch ms of the last */
  lastMs: number
  /** events in the time looked back over, the last one included */
  events: number
  /** the longest time between two of them there, ms, to a quarter of an hour */
  longestMs: number
  /** from the first of them there to the last, ms */
  spanMs: number
}

/** Whether any event of some types came from one moment up to another, both included, epoch ms: mostly the first looked at did. */
export function arrivedBetween(
  logs: readonly EventLog[],
  types: readonly number[],
  fromMs: number,
  untilMs: number,
): boolean {
  const first = Math.floor(fromMs / QUARTER)
  for (const { quartersOfType, rowsOfType, time } of [...logs].reverse())
    for (const type of types) {
      const quarters = quartersOfType[type] ?? []
      for (let slot = 0; slot < quarters.length; slot++) {
        if (quarters[slot] < first) continue
        const ms = time[rowsOfType[type][slot]]
        if (ms >= fromMs && ms <= untilMs) return true
      }
    }
  return false
}

/** So far back is looked for what is usual. */
const LOOK_BACK = 90 * 24 * 4

/**
 * Looks at when events came in lately.
 * @param types codes of event types
 * @param now epoch ms; later events are not seen
 * @returns null where there is none
 */
export function arrivalsOf(logs: readonly EventLog[], types: readonly number[], now: number): Arrivals | null {
  let lastMs = -Infinity
  const nowQuarter = Math.floor(now / QUARTER)
  let lastQuarter = -Infinity
  const each = (visit: (quarter: number, row: number, log: EventLog) => void) => {
    for (const log of logs)
      for (const type of types) {
        const quarters = log.quartersOfType[type] ?? []
        for (let slot = 0; slot < quarters.length; slot++) visit(quarters[slot], log.rowsOfType[type][slot], log)
      }
  }
  each((quarter, row, { time }) => {
    if (quarter < lastQuarter || quarter > nowQuarter) return
    if (time[row] > now) return
    lastQuarter = quarter
    if (time[row] > lastMs) lastMs = time[row]
  })
  if (lastMs === -Infinity) return null
  const first = lastQuarter - LOOK_BACK + 1
  const seen = new Uint8Array(LOOK_BACK)
  let events = 0
  each((quarter, row, { time }) => {
    if (quarter < first || quarter > lastQuarter || time[row] > now) return
    seen[quarter - first] = 1
    events++
  })
  let longest = 0
  let start = seen.indexOf(1)
  const span = LOOK_BACK - 1 - start
  for (let at = start + 1; at < LOOK_BACK; at++)
    if (seen[at] === 1) {
      longest = Math.max(longest, at - start)
      start = at
    }
  return { lastMs, events, longestMs: longest * QUARTER, spanMs: span * QUARTER }
}
