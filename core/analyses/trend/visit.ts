import { bindTest, type RowTest } from '../../filters/bind.js'
import type { GroupReader } from '../../groups/groups.js'
import { bindNested, type NestedPlan } from '../../groups/nested.js'
import { bindSplit, type Combinations, type SplitPlan } from '../../groups/split.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { lowerBound } from '../../log/lowerBound.js'
import { bucketAt } from '../../time/buckets.js'
import { QUARTER } from '../../time/quarter.js'
import type { PeriodPlan, SeriesPlan, TrendPlan } from './plan.js'

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
export type Counting = Pick<TrendPlan, 'among' | 'sessionMs' | 'now'>

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

/** Matching events side by side, in order of person: loops over them have nothing else to do, and are fast. */
export interface Batch {
  /** how many of the entries hold; the arrays are used again for the next batch */
  length: number
  rows: Uint32Array
  slots: Uint32Array
  persons: Uint32Array
  /** quarters of an hour since 1970 */
  quarters: Uint32Array
}

/** How many events a batch holds at most. */
export const BATCH = 512

/**
 * Collects the events of one type that match and lie in [from, until), some thousand at a time.
 * @param from the start of a quarter of an hour, or −Infinity
 */
export function eachBatch(
  log: EventLog,
  people: PersonRange,
  type: number,
  test: RowTest | null,
  { among }: Pick<Counting, 'among'>,
  from: number,
  until: number,
  take: (batch: Batch) => void,
): void {
  const ofType = log.rowsOfType[type]
  if (!ofType) return
  const { offsets, time, hidden } = log
  const quarterOf = log.quartersOfType[type]
  const firstQuarter = Math.max(0, Math.ceil(from / QUARTER))
  const lastQuarter = Math.floor((until - 1) / QUARTER)
  const batch: Batch = {
    length: 0,
    rows: new Uint32Array(BATCH),
    slots: new Uint32Array(BATCH),
    persons: new Uint32Array(BATCH),
    quarters: new Uint32Array(BATCH),
  }
  const { rows, slots, persons, quarters } = batch
  let length = 0
  const last = lowerBound(ofType, offsets[people.to])
  let index = people.from
  let skip = false
  let personEnd = -1
  let person = 0
  for (let cursor = lowerBound(ofType, offsets[people.from]); cursor < last; cursor++) {
    const row = ofType[cursor]
    if (row >= personEnd) {
      while (offsets[index + 1] <= row) index++
      personEnd = offsets[index + 1]
      person = log.person[index]
      skip = hidden?.[index] === 1 || (among !== null && among[person] !== 1)
    }
    if (skip) continue
    const quarter = quarterOf[cursor]
    if (quarter < firstQuarter || quarter >= lastQuarter) {
      // Only in the last quarter, which may be cut off by now, is the very time to be looked at.
      if (quarter !== lastQuarter || quarter < firstQuarter || time[row] >= until) continue
    }
    if (test && !test(row, cursor, person)) continue
    rows[length] = row
    slots[length] = cursor
    persons[length] = person
    quarters[length] = quarter
    if (++length === BATCH) {
      batch.length = length
      take(batch)
      length = 0
    }
  }
  batch.length = length
  if (length > 0) take(batch)
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
    eachBatch(log, people, types[0], test, plan, from, until, ({ length, rows, slots: at, persons, quarters }) => {
      for (let i = 0; i < length; i++) meet(rows[i], at[i], persons[i], reader, quarters[i])
    })
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
 * Visits the matching events of sessions that start in the range (calculations §9): a new one starts when the gap from
 * the person's event before exceeds the time-out; events of every type make sessions.
 */
function eachOfSession(
  log: EventLog,
  people: PersonRange,
  { among, sessionMs, now }: Counting,
  { grid }: PeriodPlan,
  { counted, tests, readers }: Bound,
  visit: Visit,
): void {
  const { offsets, time, hidden, slot: slots } = log
  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (hidden?.[index] === 1 || (among && among[person] !== 1)) continue
    let start = -Infinity
    let session = -1
    let before = -Infinity
    for (let row = offsets[index]; row < offsets[index + 1]; row++) {
      const at = time[row]
      if (at > now) break
      if (at - before > sessionMs) {
        start = at
        session = row
      }
      before = at
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
