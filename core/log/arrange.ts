import { atOnce, STEP, type Steps } from '../steps.js'
import { QUARTER } from '../time/quarter.js'
import {
  sharedCodes,
  sharedFloat64,
  sharedUint16,
  sharedUint32,
  type Column,
  type EventBlock,
  type Rows,
} from './log.js'

/** Some rows of a source, with the person each belongs to by now. */
export interface Pick {
  rows: Rows
  /** which rows, in any order; null = all of them */
  which: Uint32Array | null
  /** the workspace's number of the person of each picked row, in the order of `which` */
  person: Uint32Array
}

/**
 * Sorts rows of one or several sources by person, time and arrival into a new block. Used to build the store
 * from its rows, to put fresh events beside the whole history of their people, and to fold that back again.
 * @param people one more than the largest person number
 * @param keepAll true: everybody from 0 to `people` gets an entry, also without rows; false: only people with rows
 * @returns a block of its own memory; the sources are not changed
 */
export function arrange(picks: readonly Pick[], people: number, types: number, keepAll: boolean): EventBlock {
  return atOnce(arranging(picks, people, types, keepAll))
}

/** As `arrange`, a step at a time. */
export function* arranging(picks: readonly Pick[], people: number, types: number, keepAll: boolean): Steps<EventBlock> {
  const n = picks.reduce((sum, pick) => sum + lengthOf(pick), 0)

  // Counting sort by person: `from[p]` is first the count, then the start of each person's run.
  const from = new Uint32Array(people + 1)
  for (const { person } of picks)
    for (let i = 0; i < person.length; i++) {
      from[person[i]]++
      if (i % STEP === STEP - 1) yield
    }
  let start = 0
  for (let person = 0; person <= people; person++) {
    const count = from[person]
    from[person] = start
    start += count
  }
  yield
  const source = new Uint8Array(n)
  const rowIn = new Uint32Array(n)
  const next = from.slice()
  for (let index = 0; index < picks.length; index++) {
    const { which, person } = picks[index]
    const length = lengthOf(picks[index])
    for (let i = 0; i < length; i++) {
      const at = next[person[i]]++
      source[at] = index
      rowIn[at] = which ? which[i] : i
      if (i % STEP === STEP - 1) yield
    }
  }

  const time = sharedFloat64(n)
  const arrival = sharedUint32(n)
  for (let at = 0; at < n; at++) {
    const rows = picks[source[at]].rows
    time[at] = rows.time[rowIn[at]]
    arrival[at] = rows.arrival[rowIn[at]]
    if (at % STEP === STEP - 1) yield
  }
  const runs = { time, arrival, source, rowIn }
  for (let person = 0, sorted = 0; person < people; person++) {
    sortRun(runs, from[person], from[person + 1])
    sorted += 1 + from[person + 1] - from[person]
    if (sorted < STEP) continue
    sorted = 0
    yield
  }

  const type = sharedUint16(n)
  const slot = sharedUint32(n)
  const sourceCode = sharedUint16(n)
  const counts = new Uint32Array(types)
  for (let at = 0; at < n; at++) {
    const { rows } = picks[source[at]]
    const row = rowIn[at]
    type[at] = rows.type[row]
    sourceCode[at] = rows.source[row]
    slot[at] = counts[type[at]]++
    if (at % STEP === STEP - 1) yield
  }
  const rowsOfType = Array.from(counts, (count) => sharedUint32(count))
  const quartersOfType = Array.from(counts, (count) => sharedUint32(count))
  for (let at = 0; at < n; at++) {
    rowsOfType[type[at]][slot[at]] = at
    quartersOfType[type[at]][slot[at]] = Math.floor(time[at] / QUARTER)
    if (at % STEP === STEP - 1) yield
  }

  const columns: Map<number, Column>[] = []
  for (let code = 0; code < types; code++)
    columns.push(yield* gatherColumns(picks, rowsOfType[code], code, source, rowIn))
  const { person, offsets } = indexPeople(from, people, keepAll)
  return {
    length: n,
    people: person.length,
    person,
    offsets,
    time,
    type,
    slot,
    arrival,
    source: sourceCode,
    rowsOfType,
    quartersOfType,
    columns,
  }
}

function lengthOf({ rows, which }: Pick): number {
  return which ? which.length : rows.length
}

interface Runs {
  time: Float64Array
  arrival: Uint32Array
  source: Uint8Array
  rowIn: Uint32Array
}

/** Sorts one person's run by time, then arrival. Runs are mostly in order already, so insertion is the common case. */
function sortRun({ time, arrival, source, rowIn }: Runs, from: number, to: number): void {
  let moves = 0
  for (let i = from + 1; i < to; i++) {
    const t = time[i]
    const a = arrival[i]
    if (time[i - 1] < t || (time[i - 1] === t && arrival[i - 1] < a)) continue
    const s = source[i]
    const r = rowIn[i]
    let j = i
    for (; j > from && (time[j - 1] > t || (time[j - 1] === t && arrival[j - 1] > a)); j--) {
      time[j] = time[j - 1]
      arrival[j] = arrival[j - 1]
      source[j] = source[j - 1]
      rowIn[j] = rowIn[j - 1]
    }
    time[j] = t
    arrival[j] = a
    source[j] = s
    rowIn[j] = r
    moves += i - j
    // A long run that is badly out of order would cost the square of its length: sort what there is by comparison.
    if (moves > 4096 && moves > 8 * (to - from)) return sortLongRun({ time, arrival, source, rowIn }, from, to)
  }
}

function sortLongRun({ time, arrival, source, rowIn }: Runs, from: number, to: number): void {
  const order = Uint32Array.from({ length: to - from }, (_, i) => from + i)
  order.sort((a, b) => time[a] - time[b] || arrival[a] - arrival[b])
  for (const array of [time, arrival, source, rowIn]) {
    const sorted = Array.from(order, (at) => array[at])
    for (let i = 0; i < sorted.length; i++) array[from + i] = sorted[i]
  }
}

/** The property columns of one event type, in the order of its rows. */
function* gatherColumns(
  picks: readonly Pick[],
  rows: Uint32Array,
  type: number,
  source: Uint8Array,
  rowIn: Uint32Array,
): Steps<Map<number, Column>> {
  const result = new Map<number, Column>()
  const codes = new Set<number>()
  for (const pick of picks) for (const code of pick.rows.columns[type]?.keys() ?? []) codes.add(code)
  for (const code of codes) {
    const from = picks.map((pick) => pick.rows.columns[type]?.get(code))
    let maxCode = 0
    let anyNumber = false
    let anyDate = false
    for (let i = 0; i < rows.length; i++) {
      if (i % STEP === STEP - 1) yield
      const row = rows[i]
      const column = from[source[row]]
      if (!column) continue
      const slot = picks[source[row]].rows.slot[rowIn[row]]
      if (column.codes && column.codes[slot] > maxCode) maxCode = column.codes[slot]
      if (column.numbers && column.numbers[slot] === column.numbers[slot]) anyNumber = true
      if (column.dates && column.dates[slot] === column.dates[slot]) anyDate = true
    }
    if (maxCode === 0 && !anyNumber && !anyDate) continue
    const made: Column = {
      codes: maxCode > 0 ? sharedCodes(rows.length, maxCode) : null,
      numbers: anyNumber ? sharedFloat64(rows.length).fill(NaN) : null,
      dates: anyDate ? sharedFloat64(rows.length).fill(NaN) : null,
    }
    for (let i = 0; i < rows.length; i++) {
      if (i % STEP === STEP - 1) yield
      const row = rows[i]
      const column = from[source[row]]
      if (!column) continue
      const slot = picks[source[row]].rows.slot[rowIn[row]]
      if (made.codes && column.codes) made.codes[i] = column.codes[slot]
      if (made.numbers && column.numbers) made.numbers[i] = column.numbers[slot]
      if (made.dates && column.dates) made.dates[i] = column.dates[slot]
    }
    result.set(code, made)
  }
  return result
}

function indexPeople(from: Uint32Array, people: number, keepAll: boolean) {
  let count = 0
  for (let p = 0; p < people; p++) if (keepAll || from[p + 1] > from[p]) count++
  const person = sharedUint32(count)
  const offsets = sharedUint32(count + 1)
  let at = 0
  for (let p = 0; p < people; p++) {
    if (!keepAll && from[p + 1] === from[p]) continue
    person[at] = p
    offsets[at] = from[p]
    at++
  }
  offsets[count] = from[people]
  return { person, offsets }
}
