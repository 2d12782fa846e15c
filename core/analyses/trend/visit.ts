import { cutter } from '../../sessions/cuts.js'
import type { PeriodPlan, SeriesPlan, TrendPlan } from './shape.js'
import { bindTest, type RowTest } from '../../filters/bind.js'
import type { GroupReader } from '../../groups/groups.js'
import { bindNested, type NestedPlan } from '../../groups/nested.js'
import { bindSplit, type Combinations, type SplitPlan } from '../../groups/split.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { lowerBound } from '../../log/lowerBound.js'
import { bucketAt } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'

/**
 * Told of every matching event that counts somewhere.
 * @param first,last the buckets it counts in; none where last is before first
 * @param whole      whether it counts for the whole range
 * @param unit       what is counted once in a cell beside the person: the session; else the row
 */
export type Visit = (
  row: number,
  slot: number,
  person: number,
  reader: GroupReader | null,
  first: number,
  last: number,
  whole: boolean,
  unit: number,
) => void

/** What all series of a question share. */
export type Counting = Pick<TrendPlan, 'among' | 'sessions' | 'now'>

/** What a walk over one series needs beside its plan. */
export interface Walk {
  period: PeriodPlan
  /** index of the series: its table of buckets; -1 = none, buckets hold what happens in them */
  index: number
  split: SplitPlan | NestedPlan | null
  combinations: Combinations | null
}

export interface Bound {
  counted: Uint8Array
  tests: (RowTest | null)[]
  readers: (GroupReader | null)[]
}

/** Ties filter and groups to each event type, once a scan. */
export function bindTypes(
  log: EventLog,
  { types, test }: Pick<SeriesPlan, 'types' | 'test'>,
  { split, combinations }: Pick<Walk, 'split' | 'combinations'>,
): Bound {
  const bound: Bound = { counted: new Uint8Array(log.rowsOfType.length), tests: [], readers: [] }
  for (const type of types) {
    if (type >= bound.counted.length) continue
    bound.counted[type] = 1
    bound.tests[type] = bindTest(test, log, type)
    bound.readers[type] = split ? readerOf(split, log, type, combinations) : null
  }
  return bound
}

function readerOf(split: SplitPlan | NestedPlan, log: EventLog, type: number, combinations: Combinations | null) {
  return 'levels' in split ? bindNested(split, log, type) : bindSplit(split, log, type, combinations)
}

/** How many events a batch holds at most. */
export const BATCH = 512

/**
 * The events of one type that match and lie in [from, until), side by side in order of person: loops over a batch have
 * nothing else to do, and are fast. It is asked for the next batch rather than told what to do with each: a loop that
 * calls a different function each time is compiled for one of them, thrown away, and compiled again.
 */
export class Batches {
  /** how many of the entries hold; the arrays are used again for the next batch */
  length = 0
  readonly slots = new Uint32Array(BATCH)
  readonly persons = new Uint32Array(BATCH)
  /** quarters of an hour since 1970 */
  readonly quarters = new Uint32Array(BATCH)
  private readonly ofType: Uint32Array
  private readonly quarterOf: Uint32Array
  private readonly firstQuarter: number
  private readonly lastQuarter: number
  private readonly last: number
  private cursor: number
  private index: number
  private personEnd = -1
  private person = 0
  private skip = false

  /** @param from the start of a quarter of an hour, or −Infinity */
  constructor(
    private readonly log: EventLog,
    people: PersonRange,
    type: number,
    private readonly test: RowTest | null,
    private readonly among: Counting['among'],
    from: number,
    private readonly until: number,
  ) {
    const { offsets } = log
    this.ofType = log.rowsOfType[type] ?? new Uint32Array()
    this.quarterOf = log.quartersOfType[type] ?? new Uint32Array()
    this.firstQuarter = Math.max(0, Math.ceil(from / QUARTER)) | 0
    this.lastQuarter = Math.floor((until - 1) / QUARTER) | 0
    this.last = lowerBound(this.ofType, offsets[people.to])
    this.cursor = lowerBound(this.ofType, offsets[people.from])
    this.index = people.from
  }

  /** No more events than this are still to come. */
  get most(): number {
    return this.last - this.cursor
  }

  /** Reads the next events. @returns whether there are any */
  next(): boolean {
    const { log, ofType, quarterOf, firstQuarter, lastQuarter, last, test, among, until } = this
    const { slots, persons, quarters } = this
    const { offsets, time, hidden } = log
    let { cursor, index, personEnd, person, skip } = this
    let length = 0
    for (; cursor < last && length < BATCH; cursor++) {
      // First what needs no look at whose event it is: most of a long log lies outside of what is asked about.
      const quarter = quarterOf[cursor]
      if (quarter < firstQuarter || quarter > lastQuarter) continue
      const row = ofType[cursor]
      if (row >= personEnd) {
        while (offsets[index + 1] <= row) index++
        personEnd = offsets[index + 1]
        person = log.person[index]
        skip = hidden?.[index] === 1 || (among !== null && among[person] !== 1)
      }
      if (skip) continue
      // The last quarter may be cut off by now.
      if (quarter === lastQuarter && time[row] >= until) continue
      if (test && !test(row, cursor, person)) continue
      slots[length] = cursor
      persons[length] = person
      quarters[length] = quarter
      length++
    }
    this.cursor = cursor
    this.index = index
    this.personEnd = personEnd
    this.person = person
    this.skip = skip
    this.length = length
    return length > 0
  }
}

/** Visits the matching events of a series, person by person in order, with their groups already read. */
export function eachCounted(
  log: EventLog,
  people: PersonRange,
  series: Pick<SeriesPlan, 'types' | 'test' | 'reach'>,
  plan: Counting,
  walk: Walk,
  visit: Visit,
): void {
  const bound = bindTypes(log, series, walk)
  if (series.reach === 'sessions') return eachOfSession(log, people, plan, walk.period, bound, visit)
  const { counted, tests, readers } = bound
  const { types } = series
  const { grid, reaches, buckets } = walk.period
  const reach = walk.index < 0 ? null : reaches[walk.index]
  const { offsets, time, hidden, slot: slots } = log
  const { among } = plan
  const until = grid.until
  const from = !reach ? grid.from : reach.everBefore ? -Infinity : reach.origin
  const end = buckets.length - 1

  // One place where an event's buckets are found, for both loops below.
  const { bucketOfQuarter } = grid
  const origin = grid.origin / QUARTER
  const reachOrigin = reach ? reach.origin / QUARTER : 0
  const wholeFrom = reach ? reach.wholeFrom / QUARTER : 0
  const meet = (row: number, slot: number, person: number, reader: GroupReader | null, quarter: number) => {
    reader?.read(row, slot, person)
    if (!reach) {
      const bucket = bucketOfQuarter[quarter - origin]
      visit(row, slot, person, reader, bucket, bucket, true, row)
    } else if (quarter < reachOrigin) visit(row, slot, person, reader, 0, end, quarter >= wholeFrom, row)
    else {
      const at = quarter - reachOrigin
      visit(row, slot, person, reader, reach.first[at], reach.last[at], quarter >= wholeFrom, row)
    }
  }

  if (types.length === 1) {
    const reader = readers[types[0]]
    const test = tests[types[0]]
    const batch = new Batches(log, people, types[0], test, among, from, until)
    const rows = log.rowsOfType[types[0]]
    const { slots: at, persons, quarters } = batch
    while (batch.next())
      for (let i = 0; i < batch.length; i++) meet(rows[at[i]], at[i], persons[i], reader, quarters[i])
    return
  }
  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) continue
    const personEnd = offsets[index + 1]
    for (let row = offsets[index]; row < personEnd; row++) {
      const type = log.type[row]
      if (counted[type] !== 1) continue
      const at = time[row]
      if (at < from || at >= until) continue
      const slot = slots[row]
      const test = tests[type]
      if (!test || test(row, slot, person)) meet(row, slot, person, readers[type], Math.floor(at / QUARTER))
    }
  }
}

/**
 * Visits the matching events of sessions that start in the range (how numbers are counted, 5), cut as the workspace says;
 * events of every type make sessions.
 */
function eachOfSession(
  log: EventLog,
  people: PersonRange,
  { among, sessions, now }: Counting,
  { grid }: PeriodPlan,
  { counted, tests, readers }: Bound,
  visit: Visit,
): void {
  const { offsets, time, hidden, slot: slots } = log
  const begins = cutter(log, sessions)
  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (hidden?.[index] === 1 || (among && among[person] !== 1)) continue
    let start = -Infinity
    let session = -1
    const first = offsets[index]
    for (let row = first; row < offsets[index + 1]; row++) {
      const at = time[row]
      if (at > now) break
      if (row === first || begins(row)) {
        start = at
        session = row
      }
      if (start < grid.from) continue
      if (start >= grid.until) break
      const type = log.type[row]
      if (counted[type] !== 1) continue
      const slot = slots[row]
      const test = tests[type]
      if (test && !test(row, slot, person)) continue
      const reader = readers[type]
      reader?.read(row, slot, person)
      const bucket = bucketAt(grid, start)
      visit(row, slot, person, reader, bucket, bucket, true, session)
    }
  }
}
