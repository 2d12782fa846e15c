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
  for (const pick of picks) yield* inSteps(lengthOf(pick), (first, end) => count(from, pick.person, first, end))
  let start = 0
  for (let person = 0; person <= people; person++) {
    const rows = from[person]
    from[person] = start
    start += rows
  }
  yield
  const runs: Runs = {
    ...{ time: sharedFloat64(n), arrival: sharedUint32(n), type: sharedUint16(n), sourceCode: sharedUint16(n) },
    ...{ pick: new Uint8Array(n), slot: new Uint32Array(n) },
  }
  const next = from.slice()
  for (const [index, pick] of picks.entries())
    yield* inSteps(lengthOf(pick), (first, end) => place(runs, next, pick, index, first, end))
  for (let person = 0, sorted = 0; person < people; person++) {
    sortRun(runs, from[person], from[person + 1])
    sorted += 1 + from[person + 1] - from[person]
    if (sorted < STEP) continue
    sorted = 0
    yield
  }

  const { time, arrival, type, sourceCode } = runs
  const slot = sharedUint32(n)
  const counts = new Uint32Array(types)
  yield* inSteps(n, (first, end) => {
    for (let at = first; at < end; at++) slot[at] = counts[type[at]]++
  })
  const rowsOfType = Array.from(counts, (rows) => sharedUint32(rows))
  const quartersOfType = Array.from(counts, (rows) => sharedUint32(rows))
  const origins = Array.from(counts, (rows) => ({ pick: new Uint8Array(rows), slot: new Uint32Array(rows) }))
  yield* inSteps(n, (first, end) => {
    for (let at = first; at < end; at++) {
      const of = type[at]
      const to = slot[at]
      rowsOfType[of][to] = at
      quartersOfType[of][to] = Math.floor(time[at] / QUARTER)
      origins[of].pick[to] = runs.pick[at]
      origins[of].slot[to] = runs.slot[at]
    }
  })

  const columns: Map<number, Column>[] = []
  for (let code = 0; code < types; code++) columns.push(yield* gatherColumns(picks, code, origins[code]))
  const { person, offsets } = indexPeople(from, people, keepAll)
  return {
    ...{ length: n, people: person.length, person, offsets },
    ...{ time, type, slot, arrival, source: sourceCode, rowsOfType, quartersOfType, columns },
  }
}

function lengthOf({ rows, which }: Pick): number {
  return which ? which.length : rows.length
}

/** Rows as they are put in order; `pick` and `slot` tell which pick a row is from, and its slot there. */
interface Runs {
  time: Float64Array
  arrival: Uint32Array
  type: Uint16Array
  sourceCode: Uint16Array
  pick: Uint8Array
  slot: Uint32Array
}

// Loops over rows stand in functions of their own, outside the generator: there they run several times as fast.

function* inSteps(n: number, work: (first: number, end: number) => void): Steps<void> {
  for (let first = 0; first < n; first += STEP) {
    work(first, Math.min(n, first + STEP))
    yield
  }
}

function count(counts: Uint32Array, of: Uint32Array, first: number, end: number): void {
  for (let i = first; i < end; i++) counts[of[i]]++
}

/** @param next by person: where their next row goes */
function place(
  runs: Runs,
  next: Uint32Array,
  { rows, which, person }: Pick,
  index: number,
  first: number,
  end: number,
) {
  const { time, arrival, type, sourceCode, pick, slot } = runs
  for (let i = first; i < end; i++) {
    const row = which ? which[i] : i
    const at = next[person[i]]++
    time[at] = rows.time[row]
    arrival[at] = rows.arrival[row]
    type[at] = rows.type[row]
    sourceCode[at] = rows.source[row]
    slot[at] = rows.slot[row]
    pick[at] = index
  }
}

/** Sorts one person's run by time, then arrival. Runs are mostly in order already, so insertion is the common case. */
function sortRun(runs: Runs, from: number, to: number): void {
  const { time, arrival, type, sourceCode, pick, slot } = runs
  let moves = 0
  for (let i = from + 1; i < to; i++) {
    const t = time[i]
    const a = arrival[i]
    if (time[i - 1] < t || (time[i - 1] === t && arrival[i - 1] < a)) continue
    let j = i - 1
    while (j > from && (time[j - 1] > t || (time[j - 1] === t && arrival[j - 1] > a))) j--
    const [ofType, source, ofPick, ofSlot] = [type[i], sourceCode[i], pick[i], slot[i]]
    for (const array of [time, arrival, type, sourceCode, pick, slot]) array.copyWithin(j + 1, j, i)
    time[j] = t
    arrival[j] = a
    type[j] = ofType
    sourceCode[j] = source
    pick[j] = ofPick
    slot[j] = ofSlot
    moves += i - j
    // A long run that is badly out of order would cost the square of its length: sort what there is by comparison.
    if (moves > 4096 && moves > 8 * (to - from)) return sortLongRun(runs, from, to)
  }
}

function sortLongRun(runs: Runs, from: number, to: number): void {
  const { time, arrival, type, sourceCode, pick, slot } = runs
  const order = Uint32Array.from({ length: to - from }, (_, i) => from + i)
  order.sort((a, b) => time[a] - time[b] || arrival[a] - arrival[b])
  for (const array of [time, arrival, type, sourceCode, pick, slot]) {
    const sorted = Array.from(order, (at) => array[at])
    for (let i = 0; i < sorted.length; i++) array[from + i] = sorted[i]
  }
}

/** By slot of the new block: which pick the row is from, and its slot there. */
interface Origin {
  pick: Uint8Array
  slot: Uint32Array
}

/** The property columns of one event type, in the order of its rows. */
function* gatherColumns(picks: readonly Pick[], type: number, origin: Origin): Steps<Map<number, Column>> {
  const result = new Map<number, Column>()
  const codes = new Set<number>()
  for (const pick of picks) for (const code of pick.rows.columns[type]?.keys() ?? []) codes.add(code)
  for (const code of codes) {
    const from = picks.map((pick) => pick.rows.columns[type]?.get(code))
    const texts = yield* gatherCodes(
      from.map((column) => column?.codes ?? null),
      origin,
    )
    const numbers = yield* gatherNumbers(
      from.map((column) => column?.numbers ?? null),
      origin,
    )
    const dates = yield* gatherNumbers(
      from.map((column) => column?.dates ?? null),
      origin,
    )
    if (texts || numbers || dates) result.set(code, { codes: texts, numbers, dates })
  }
  return result
}

/** @param from by pick @returns null where there is no code at all */
function* gatherCodes(from: readonly Column['codes'][], origin: Origin): Steps<Column['codes']> {
  const n = origin.pick.length
  const width = Math.max(0, ...from.map((codes) => codes?.BYTES_PER_ELEMENT ?? 0))
  if (width === 0 || n === 0) return null
  const made = sharedCodes(n, 256 ** width - 1)
  let most = 0
  yield* inSteps(n, (first, end) => (most = Math.max(most, copyCodes(made, from, origin, first, end))))
  if (most === 0) return null
  if (width === 1 || most >= 256 ** (width / 2)) return made
  // Read anew from arrays made to grow, they are as wide as those.
  const narrow = sharedCodes(n, most)
  narrow.set(made)
  return narrow
}

/** @returns the largest code copied */
function copyCodes(
  to: NonNullable<Column['codes']>,
  from: readonly Column['codes'][],
  { pick, slot }: Origin,
  first: number,
  end: number,
): number {
  let most = 0
  for (let i = first; i < end; i++) {
    const codes = from[pick[i]]
    if (!codes) continue
    const code = codes[slot[i]]
    to[i] = code
    if (code > most) most = code
  }
  return most
}

/** @param from by pick @returns null where there is no number at all */
function* gatherNumbers(from: readonly (Float64Array | null)[], origin: Origin): Steps<Float64Array | null> {
  const n = origin.pick.length
  if (n === 0 || from.every((numbers) => !numbers)) return null
  const made = sharedFloat64(n)
  let any = false
  yield* inSteps(n, (first, end) => {
    if (copyNumbers(made, from, origin, first, end)) any = true
  })
  return any ? made : null
}

/** @returns whether there was any number */
function copyNumbers(
  to: Float64Array,
  from: readonly (Float64Array | null)[],
  { pick, slot }: Origin,
  first: number,
  end: number,
): boolean {
  let any = false
  for (let i = first; i < end; i++) {
    const numbers = from[pick[i]]
    const value = numbers ? numbers[slot[i]] : NaN
    to[i] = value
    if (value === value) any = true
  }
  return any
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
