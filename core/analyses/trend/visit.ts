import { bindTest, type RowTest } from '../../filters/bind.js'
import type { GroupReader } from '../../groups/groups.js'
import { bindNested, type NestedPlan } from '../../groups/nested.js'
import { bindSplit, type Combinations, type SplitPlan } from '../../groups/split.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { bucketAt, QUARTER } from '../../time/buckets.js'
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
  times: Float64Array
}

/** How many events a batch holds at most. */
export const BATCH = 2048

/** Collects the events of one type that match and lie in [from, until), some thousand at a time. */
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
  const rows = new Uint32Array(BATCH)
  const slots = new Uint32Array(BATCH)
  const persons = new Uint32Array(BATCH)
  const times = new Float64Array(BATCH)
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
    const at = time[row]
    if (at < from || at >= until || (test && !test(row, cursor, person))) continue
    rows[length] = row
    slots[length] = cursor
    persons[length] = person
    times[length] = at
    if (++length === BATCH) {
      take({ length, rows, slots, persons, times })
      length = 0
    }
  }
  if (length > 0) take({ length, rows, slots, persons, times })
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
  const meet = (row: number, slot: number, person: number, reader: GroupReader | null, at: number) => {
    reader?.read(row, slot, person)
    if (!reach) {
      const bucket = bucketAt(grid, at)
      visit(row, slot, person, reader, bucket, bucket, true, row)
    } else if (at < reach.origin) visit(row, slot, person, reader, 0, end, at >= reach.wholeFrom, row)
    else {
      const quarter = ((at - reach.origin) / QUARTER) | 0
      visit(row, slot, person, reader, reach.first[quarter], reach.last[quarter], at >= reach.wholeFrom, row)
    }
  }

  if (types.length === 1) {
    const reader = readers[types[0]]
    eachBatch(
      log,
      people,
      types[0],
      tests[types[0]],
      plan,
      from,
      until,
      ({ length, rows, slots: at, persons, times }) => {
        for (let i = 0; i < length; i++) meet(rows[i], at[i], persons[i], reader, times[i])
      },
    )
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
      if (!test || test(row, slot, person)) meet(row, slot, person, readers[type], at)
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

/** The first index whose value is at least `least`, in an ascending array. */
export function lowerBound(values: Uint32Array, least: number): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < least) low = middle + 1
    else high = middle
  }
  return low
}
