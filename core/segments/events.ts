import { bindTest, type RowTest } from '../filters/bind.js'
import { lowerBound } from '../log/lowerBound.js'
import type { EventLog } from '../log/log.js'
import { QUARTER } from '../time/quarter.js'
import type { PickPlan } from '../filters/picks.js'

/**
 * Collects one person's events of a choice, person after person in order. The arrays are used again for the next person.
 */
export interface EventCollector {
  /** how many entries of the arrays hold */
  length: number
  rows: Uint32Array
  /** where the rows' properties stand in the columns of their types */
  slots: Uint32Array
  times: Float64Array
  /** @param from,to the person's rows, half-open; no earlier than those asked for before */
  collect(from: number, to: number, person: number): number
}

/** Only events from `low` up to, not including, `high` are collected, epoch ms. */
export interface Bounds {
  low: number
  high: number
  /**
   * only which quarter of an hour an event lies in matters, save for those in the last quarter: `times` may be the start
   * of the quarter
   */
  coarse?: boolean
}

/** @param pick null = events of every type */
export function bindEvents(pick: PickPlan | null, log: EventLog, firstRow: number, bounds: Bounds): EventCollector {
  const types = pick ? [...pick.types].filter((type) => type < log.rowsOfType.length) : []
  if (!pick || types.length !== 1) return severalTypes(log, pick ? types : null, pick, bounds)
  const test = bindTest(pick.test, log, types[0])
  return bounds.coarse
    ? oneTypeByQuarter(log, types[0], test, firstRow, bounds)
    : oneType(log, types[0], test, firstRow, bounds)
}

function emptyCollector(): EventCollector {
  return {
    length: 0,
    rows: new Uint32Array(64),
    slots: new Uint32Array(64),
    times: new Float64Array(64),
    collect: () => 0,
  }
}

function widen(found: EventCollector): void {
  const { rows, slots, times } = found
  found.rows = new Uint32Array(rows.length * 2)
  found.slots = new Uint32Array(rows.length * 2)
  found.times = new Float64Array(rows.length * 2)
  found.rows.set(rows)
  found.slots.set(slots)
  found.times.set(times)
}

/** Walks the rows of the one type alone: what else people did is not looked at. */
function oneType(
  log: EventLog,
  type: number,
  test: RowTest | null,
  firstRow: number,
  { low, high }: Bounds,
): EventCollector {
  const ofType = log.rowsOfType[type]
  const { time } = log
  const found = emptyCollector()
  let cursor = lowerBound(ofType, firstRow)
  found.collect = (from, to, person) => {
    while (cursor < ofType.length && ofType[cursor] < from) cursor++
    let length = 0
    for (; cursor < ofType.length; cursor++) {
      const row = ofType[cursor]
      if (row >= to) break
      const at = time[row]
      if (at < low || at >= high) continue
      if (test && !test(row, cursor, person)) continue
      if (length === found.rows.length) widen(found)
      found.rows[length] = row
      found.slots[length] = cursor
      found.times[length++] = at
    }
    found.length = length
    return length
  }
  return found
}

/** As `oneType`; one type's quarters stand together, so that few rows' times are looked up among all events'. */
function oneTypeByQuarter(
  log: EventLog,
  type: number,
  test: RowTest | null,
  firstRow: number,
  { low, high }: Bounds,
): EventCollector {
  const ofType = log.rowsOfType[type]
  const quarterOf = log.quartersOfType[type]
  const first = low === -Infinity ? 0 : Math.ceil(low / QUARTER)
  const last = Math.floor((high - 1) / QUARTER)
  const { time } = log
  const found = emptyCollector()
  let cursor = lowerBound(ofType, firstRow)
  found.collect = (from, to, person) => {
    while (cursor < ofType.length && ofType[cursor] < from) cursor++
    let length = 0
    for (; cursor < ofType.length; cursor++) {
      const row = ofType[cursor]
      if (row >= to) break
      const quarter = quarterOf[cursor]
      if (quarter < first || quarter > last) continue
      const at = quarter === last ? time[row] : quarter * QUARTER
      if (at >= high) continue
      if (test && !test(row, cursor, person)) continue
      if (length === found.rows.length) widen(found)
      found.rows[length] = row
      found.slots[length] = cursor
      found.times[length++] = at
    }
    found.length = length
    return length
  }
  return found
}

function severalTypes(
  log: EventLog,
  types: number[] | null,
  pick: PickPlan | null,
  { low, high }: Bounds,
): EventCollector {
  const { time, type: typeOf, slot } = log
  const wanted = new Uint8Array(log.rowsOfType.length).fill(types ? 0 : 1)
  const tests: (RowTest | null)[] = []
  for (const type of types ?? []) {
    wanted[type] = 1
    tests[type] = bindTest(pick!.test, log, type)
  }
  const found = emptyCollector()
  found.collect = (from, to, person) => {
    let length = 0
    for (let row = from; row < to; row++) {
      const type = typeOf[row]
      if (wanted[type] === 0) continue
      const at = time[row]
      if (at < low || at >= high) continue
      const test = tests[type]
      if (test && !test(row, slot[row], person)) continue
      if (length === found.rows.length) widen(found)
      found.rows[length] = row
      found.slots[length] = slot[row]
      found.times[length++] = at
    }
    found.length = length
    return length
  }
  return found
}
