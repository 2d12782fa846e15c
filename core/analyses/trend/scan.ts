import type { PeriodPlan, SeriesPlan, TrendPlan } from './shape.js'
import { addArrays, type GroupReader, type GroupSums } from '../../groups/groups.js'
import { columnOf, isOfPerson, type RowTest } from '../../filters/bind.js'
import { mergeFound } from '../../groups/grouped.js'
import { bindPlaces, bindSplit, Combinations, ownSplit } from '../../groups/split.js'
import { lowerBound } from '../../log/lowerBound.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { mergeRanks, mergeSeries, type SeriesPart } from './cells.js'
import { CellWriter, valueReader } from './cellWriter.js'
import { percentileOf } from './measures.js'
import type { TrendPart } from './plan.js'
import { QUARTER } from '../../time/quarter.js'
import { BATCH, Batches, bindTypes, eachCounted, type Counting, type Walk } from './visit.js'

/**
 * Counts each series by group and bucket (how numbers are counted, 5). A person counts once in each cell, and once in
 * the whole range.
 */
export function scanTrend(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  if (plan.pass === 'cuts') return collectNumbers(log, people, plan)
  if (plan.pass === 'rank') return rankGroups(log, people, plan)
  const periods = plan.periods.map((period) => ({
    series: plan.series.map((series, index) =>
      countSeries(
        log,
        people,
        plan,
        series,
        { period, index, split: plan.split, combinations: null },
        plan.keys.length,
      ),
    ),
    active: plan.active && countActive(log, people, plan, plan.active, period),
  }))
  return { pass: 'count', periods }
}

export function mergeTrend(a: TrendPart, b: TrendPart): TrendPart {
  if (a.pass === 'cuts' && b.pass === 'cuts') {
    return mergeFound(a, b) as typeof a
  }
  if (a.pass === 'rank' && b.pass === 'rank') return { pass: 'rank', ...mergeRanks(a, b) }
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      periods: a.periods.map((period, k) => ({
        series: period.series.map((part, index) => mergeSeries(part, b.periods[k].series[index])),
        active: period.active && addArrays(period.active, b.periods[k].active!),
      })),
    }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** How often each number of the breakdown being cut is counted over the range. */
function collectNumbers(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  const counts = new Map<number, number>()
  const { column } = plan.split!.parts[plan.cutting]
  const series = plan.series[0]
  const walk: Walk = { period: plan.periods[0], index: 0, split: null, combinations: null }
  const numbersOf = valueReader(log, series, column)
  eachCounted(log, people, series, plan, walk, (row, slot, person, _reader, _first, _last, whole) => {
    if (!whole) return
    const number = numbersOf(log.type[row], slot, person)
    if (number === number) counts.set(number, (counts.get(number) ?? 0) + 1)
  })
  return { pass: 'cuts', counts }
}

/** What can be told from how often a cell is met, and by how many people. */
const isPlainCount = ({ measure }: SeriesPlan) =>
  ['people', 'events', 'events per person', 'share of active people'].includes(measure)

/** Every combination of groups that the first series meets, over the range. */
function rankGroups(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  const places =
    isPlainCount(plan.series[0]) && plan.series[0].types.length === 1 ? rankPlaces(log, people, plan) : null
  if (places) return places
  // Groups get their numbers as they turn up, so each scan works on a plan of its own.
  const split = ownSplit(plan.split!)
  const fixed = split.parts.map(({ count }) => count)
  const combinations = new Combinations(split)
  const series = plan.series[0]
  const cells = new CellWriter(series, 64)
  const walk: Walk = { period: plan.periods[0], index: 0, split, combinations }
  const value = cells.valueOf(log, series)
  let most = 0
  eachCounted(log, people, series, plan, walk, (row, slot, person, reader, _first, _last, whole, unit) => {
    if (!whole) return
    value.read(log.type[row], slot, person)
    for (let i = 0; i < reader!.length; i++) {
      const group = reader!.found[i]
      if (group >= most) cells.grow((most = group + 1))
      cells.add(group, person, unit)
    }
  })
  const ids = combinations.ids(most, fixed)
  return { pass: 'rank', ids, cells: cells.done(ids.length) }
}

/**
 * As `rankGroups`, of events and people alone, where every event has one combination: counted by its place, or by the
 * number it got where those turn up by and by.
 */
function rankPlaces(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart | null {
  const [series] = plan.series
  const [type] = series.types
  const split = ownSplit(plan.split!)
  const places = bindPlaces(split, log, type)
  const alone = places || split.parts.length > 1 ? null : bindSplit(split, log, type, null)
  const fill = places?.fill ?? alone?.fill
  if (!fill) return null
  const fixed = split.parts.map(({ count }) => count)
  let size = places?.size ?? fixed[0] + BATCH
  let events = new Float64Array(size)
  let persons = new Float64Array(size)
  let owner = new Int32Array(size).fill(-1)
  const groups = new Int32Array(BATCH)
  const { from, until } = plan.periods[0].grid
  const { tests } = bindTypes(log, series, { split: null, combinations: null })
  const batch = new Batches(log, people, type, tests[type], plan.among, from, until)
  const { slots, persons: who } = batch
  while (batch.next()) {
    const { length } = batch
    fill(slots, who, length, groups)
    // A batch finds at most as many new groups as it has events.
    if (!places && split.parts[0].count > size) {
      const wider = 2 * split.parts[0].count
      events = widened(events, new Float64Array(wider))
      persons = widened(persons, new Float64Array(wider))
      owner = widened(owner, new Int32Array(wider).fill(-1))
      size = wider
    }
    for (let i = 0; i < length; i++) {
      const group = groups[i]
      events[group]++
      if (owner[group] !== who[i]) {
        owner[group] = who[i]
        persons[group]++
      }
    }
  }
  const ids = places ? null : new Combinations(split).ids(split.parts[0].count, fixed)
  const met = [...events.keys()].filter((place) => events[place] > 0)
  const pick = (array: Float64Array) => Float64Array.from(met, (place) => array[place])
  const cells = { events: pick(events), people: pick(persons), numbers: null, values: null, distinct: null }
  return { pass: 'rank', ids: met.map((place) => (ids ? ids[place] : places!.idOf(place))), cells }
}

function widened<T extends Float64Array | Int32Array>(from: T, to: T): T {
  to.set(from)
  return to
}

/** Counts one series by group and bucket. @param all how many groups there are: the number of all together */
export function countSeries(
  log: EventLog,
  people: PersonRange,
  plan: Counting,
  series: SeriesPlan,
  walk: Walk,
  all: number,
): SeriesPart {
  const { period } = walk
  const plainCount = isPlainCount(series)
  if (plainCount && !walk.split && series.types.length === 1 && !series.test && !plan.among && !log.hidden)
    return countUnfiltered(log, people, series, period)
  const whole = period.buckets.length
  const width = whole + 1
  const cells = new CellWriter(series, (all + 1) * width)
  if (series.reach === 'window' || series.reach === 'ever') {
    spread(log, people, plan, series, walk, cells, all)
    return cells.done((all + 1) * width)
  }
  if (plainCount || percentileOf(series.measure) !== null) {
    countPlain(log, people, plan, series, walk, cells, all)
    return cells.done((all + 1) * width)
  }
  const value = cells.valueOf(log, series)
  eachCounted(log, people, series, plan, walk, (row, slot, person, reader, bucket, _last, _whole, unit) => {
    value.read(log.type[row], slot, person)
    if (reader)
      for (let i = 0; i < reader.length; i++) {
        const first = reader.found[i] * width
        cells.add(first + bucket, person, unit)
        cells.addWhole(first + whole, person, unit)
      }
    cells.add(all * width + bucket, person, unit)
    cells.addWhole(all * width + whole, person, unit)
  })
  return cells.done((all + 1) * width)
}

/**
 * Events and people alone, the commonest measures, and the numbers of percentiles: an event lies in one bucket, so the
 * events of the whole range are added up at the end, and a person's events come in order, so one look tells whether
 * they were in the bucket before.
 */
function countPlain(
  log: EventLog,
  people: PersonRange,
  plan: Counting,
  series: SeriesPlan,
  walk: Walk,
  cells: CellWriter,
  all: number,
): void {
  const [type] = series.types
  const bound = series.types.length === 1 ? bindTypes(log, series, walk) : null
  const only = bound?.readers[type] ?? null
  if (bound && only?.sums && !cells.values) {
    countSums(log, people, plan.among, type, walk.period.grid, cells, all, bound.tests[type], only.sums)
    return
  }
  if (bound && (!only || only.fill)) {
    countFlat(log, people, plan, series, walk, cells, all, bound.tests[type], only)
    return
  }
  const { events, people: persons, values } = cells
  const whole = walk.period.buckets.length
  const width = whole + 1
  const owner = new Int32Array(all + 1).fill(-1)
  const lastBucket = new Int32Array(all + 1)
  const count = (group: number, person: number, bucket: number, number: number) => {
    const cell = group * width + bucket
    events[cell]++
    if (number === number) values!.push(cell, number)
    if (owner[group] !== person) {
      owner[group] = person
      lastBucket[group] = bucket
      persons[cell]++
      persons[group * width + whole]++
    } else if (lastBucket[group] !== bucket) {
      lastBucket[group] = bucket
      persons[cell]++
    }
  }
  const numberOf = values && series.value ? valueReader(log, series, series.value.column) : null
  eachCounted(log, people, series, plan, walk, (row, slot, person, reader, bucket) => {
    const number = numberOf ? numberOf(log.type[row], slot, person) : NaN
    if (reader) for (let i = 0; i < reader.length; i++) count(reader.found[i], person, bucket, number)
    count(all, person, bucket, number)
  })
  addWholes(events, width)
}

/** `countPlain` over one event type whose events have one group at most, written out: the commonest questions. */
function countFlat(
  log: EventLog,
  people: PersonRange,
  plan: Counting,
  series: SeriesPlan,
  walk: Walk,
  cells: CellWriter,
  all: number,
  test: RowTest | null,
  reader: GroupReader | null,
): void {
  const [type] = series.types
  const { from, until, origin, bucketOfQuarter } = walk.period.grid
  const shift = (origin / QUARTER) | 0
  const whole = walk.period.buckets.length
  const width = whole + 1
  const first = all * width
  const owner = new Int32Array(all).fill(-1)
  const lastBucket = new Int32Array(all)
  const groups = new Int32Array(BATCH)
  // Counters of four bytes: with the batch they stay in the nearest cache, which those of the part would not.
  const events = new Uint32Array(cells.events.length)
  const persons = new Uint32Array(cells.events.length)
  const { values } = cells
  if (!reader) groups.fill(-1)
  const column = series.value?.column ?? null
  const byPerson = column !== null && isOfPerson(column)
  const numbers = values && column ? (columnOf(column, log, type)?.numbers ?? null) : null
  let lastPerson = -1
  let lastOfAll = -1
  const batch = new Batches(log, people, type, test, plan.among, from, until)
  const { slots, persons: who, quarters } = batch
  // Room once for all: shared memory that grows is asked for, and copied, again and again.
  if (numbers) values!.reserve((reader ? 2 : 1) * batch.most + 2 * BATCH)
  while (batch.next()) {
    const { length } = batch
    reader?.fill!(slots, who, length, groups)
    for (let i = 0; i < length; i++) {
      const person = who[i]
      const bucket = bucketOfQuarter[quarters[i] - shift]
      const group = groups[i]
      // Counted with its group alone: all together is their sum, and what has none.
      events[(group < 0 ? first : group * width) + bucket]++
      if (group >= 0) {
        if (owner[group] !== person) {
          owner[group] = person
          lastBucket[group] = bucket
          persons[group * width + bucket]++
          persons[group * width + whole]++
        } else if (lastBucket[group] !== bucket) {
          lastBucket[group] = bucket
          persons[group * width + bucket]++
        }
      }
      if (person !== lastPerson) {
        lastPerson = person
        lastOfAll = bucket
        persons[first + bucket]++
        persons[first + whole]++
      } else if (bucket !== lastOfAll) {
        lastOfAll = bucket
        persons[first + bucket]++
      }
    }
    if (!numbers) continue
    values!.reserve(2 * length)
    const { cells: toCells, numbers: toNumbers } = values!
    let n = values!.length
    for (let i = 0; i < length; i++) {
      const number = numbers[byPerson ? who[i] : slots[i]]
      if (number !== number) continue
      const bucket = bucketOfQuarter[quarters[i] - shift]
      if (groups[i] >= 0) {
        toCells[n] = groups[i] * width + bucket
        toNumbers[n++] = number
      }
      toCells[n] = first + bucket
      toNumbers[n++] = number
    }
    values!.length = n
  }
  addGroups(events, all, width)
  cells.events.set(events)
  cells.people.set(persons)
  addWholes(cells.events, width)
}

/** `countFlat` where groups are sums of look-ups and nothing but people and events is wanted: one person after another. */
function countSums(
  log: EventLog,
  people: PersonRange,
  among: Counting['among'],
  type: number,
  grid: PeriodPlan['grid'],
  cells: CellWriter,
  all: number,
  test: RowTest | null,
  { codes, mask, places, ofPerson, table }: GroupSums,
): void {
  const { offsets, time, person: persons, hidden } = log
  const { until, bucketOfQuarter } = grid
  const rows = log.rowsOfType[type] ?? new Uint32Array()
  const quarterOf = log.quartersOfType[type] ?? rows
  const firstQuarter = Math.ceil(grid.from / QUARTER) | 0
  const lastQuarter = Math.floor((until - 1) / QUARTER) | 0
  const shift = (grid.origin / QUARTER) | 0
  const width = cells.events.length / (all + 1)
  const whole = width - 1
  const first = all * width
  // Counters of four bytes stay in the nearest cache, which those of the part would not.
  const events = new Uint32Array(cells.events.length)
  const counted = new Uint32Array(cells.events.length)
  const lastBucket = new Int32Array(all)
  const end = lowerBound(rows, offsets[people.to])
  let index = people.from
  for (let cursor = lowerBound(rows, offsets[index]); cursor < end;) {
    while (offsets[index + 1] <= rows[cursor]) index++
    const personEnd = offsets[index + 1]
    const person = persons[index]
    if (hidden?.[index] === 1 || (among !== null && among[person] !== 1)) {
      while (cursor < end && rows[cursor] < personEnd) cursor++
      continue
    }
    const place = ofPerson(person)
    lastBucket.fill(-1)
    let lastOfAll = -1
    for (; cursor < end && rows[cursor] < personEnd; cursor++) {
      const quarter = quarterOf[cursor]
      if (quarter < firstQuarter || quarter > lastQuarter) continue
      // The last quarter may be cut off by now.
      if (quarter === lastQuarter && time[rows[cursor]] >= until) continue
      if (test && !test(rows[cursor], cursor, person)) continue
      const bucket = bucketOfQuarter[quarter - shift]
      const group = table[place + places[codes[cursor & mask]]]
      // Counted with its group alone: all together is their sum, and what has none.
      events[(group < 0 ? first : group * width) + bucket]++
      if (group >= 0 && lastBucket[group] !== bucket) {
        counted[group * width + bucket]++
        if (lastBucket[group] < 0) counted[group * width + whole]++
        lastBucket[group] = bucket
      }
      if (bucket !== lastOfAll) {
        counted[first + bucket]++
        if (lastOfAll < 0) counted[first + whole]++
        lastOfAll = bucket
      }
    }
  }
  addGroups(events, all, width)
  cells.events.set(events)
  cells.people.set(counted)
  addWholes(cells.events, width)
}

/** Events counted by group alone are added to all together. */
function addGroups(events: Uint32Array, all: number, width: number): void {
  const first = all * width
  for (let group = 0; group < all; group++)
    for (let bucket = 0; bucket < width - 1; bucket++) events[first + bucket] += events[group * width + bucket]
}

/** The events of the whole range, after those of its buckets. */
function addWholes(events: Float64Array, width: number): void {
  for (let first = 0; first < events.length; first += width)
    for (let bucket = 0; bucket < width - 1; bucket++) events[first + width - 1] += events[first + bucket]
}

/**
 * People by buckets that look back: each event counts in a run of buckets, and a person once in each. A person's runs
 * come in order, so what of a run is new begins after the end of those before; it is noted by its ends alone.
 */
function spread(
  log: EventLog,
  people: PersonRange,
  plan: Counting,
  series: SeriesPlan,
  walk: Walk,
  cells: CellWriter,
  all: number,
): void {
  const whole = walk.period.buckets.length
  const width = whole + 1
  const starts = new Float64Array((all + 1) * (width + 1))
  const owner = new Int32Array(all + 1).fill(-1)
  const covered = new Int32Array(all + 1)
  const count = (group: number, person: number, first: number, last: number, inWhole: boolean) => {
    if (owner[group] !== person) {
      owner[group] = person
      covered[group] = -1
    }
    const from = Math.max(first, covered[group] + 1)
    if (from <= last) {
      starts[group * (width + 1) + from]++
      starts[group * (width + 1) + last + 1]--
      covered[group] = last
    }
    if (inWhole) cells.add(group * width + whole, person, 0)
  }
  eachCounted(log, people, series, plan, walk, (_row, _slot, person, reader, first, last, inWhole) => {
    if (reader) for (let i = 0; i < reader.length; i++) count(reader.found[i], person, first, last, inWhole)
    count(all, person, first, last, inWhole)
  })
  for (let group = 0; group <= all; group++) {
    let sum = 0
    for (let bucket = 0; bucket < whole; bucket++)
      cells.people[group * width + bucket] = sum += starts[group * (width + 1) + bucket]
  }
}

/** People with any activity, by bucket and over the range. */
export function countActive(
  log: EventLog,
  people: PersonRange,
  plan: Counting,
  types: Uint16Array,
  period: PeriodPlan,
): Float64Array {
  const whole = period.buckets.length
  const active = new Float64Array(whole + 1)
  const seen = new Int32Array(whole + 1).fill(-1)
  const count = (cell: number, person: number) => {
    if (seen[cell] === person) return
    seen[cell] = person
    active[cell]++
  }
  const walk: Walk = { period, index: -1, split: null, combinations: null }
  const anything = { types, test: null, reach: 'range' } as const
  eachCounted(log, people, anything, plan, walk, (_row, _slot, person, _reader, bucket) => {
    count(bucket, person)
    count(whole, person)
  })
  return active
}

/** `countSeries` over one event type without any filter or group, written out: the commonest question of all. */
function countUnfiltered(
  log: EventLog,
  people: PersonRange,
  { types }: SeriesPlan,
  { grid, buckets }: PeriodPlan,
): SeriesPart {
  const { offsets, time } = log
  const { from, until, origin, bucketOfQuarter } = grid
  const firstQuarter = Math.ceil(from / QUARTER)
  const lastQuarter = Math.floor((until - 1) / QUARTER)
  const shift = origin / QUARTER
  const whole = buckets.length
  const events = new Float64Array(whole + 1)
  const persons = new Float64Array(whole + 1)
  const rows = log.rowsOfType[types[0]] ?? new Uint32Array(0)
  const quarterOf = log.quartersOfType[types[0]] ?? rows
  const last = lowerBound(rows, offsets[people.to])
  let index = people.from
  let end = offsets[index + 1]
  let lastBucket = -1
  for (let cursor = lowerBound(rows, offsets[people.from]); cursor < last; cursor++) {
    const row = rows[cursor]
    if (row >= end) {
      while (offsets[++index + 1] <= row);
      end = offsets[index + 1]
      lastBucket = -1
    }
    const quarter = quarterOf[cursor]
    // Only in the last quarter, which may be cut off by now, is the very time to be looked at.
    if (quarter < firstQuarter || quarter > lastQuarter || (quarter === lastQuarter && time[row] >= until)) continue
    const bucket = bucketOfQuarter[quarter - shift]
    events[bucket]++
    // A person's events are in order of time, so a bucket once left does not come again.
    if (bucket !== lastBucket) {
      if (lastBucket === -1) persons[whole]++
      lastBucket = bucket
      persons[bucket]++
    }
  }
  for (let bucket = 0; bucket < whole; bucket++) events[whole] += events[bucket]
  return { events, people: persons, numbers: null, values: null, distinct: null }
}
