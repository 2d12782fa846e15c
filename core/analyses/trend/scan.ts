import { bindTest, type RowTest } from '../../filters/bind.js'
import { addArrays, bindGroups, mergeTallies, tallyOf, type GroupReader } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { groupId, type Mark } from '../../questions/parts.js'
import { bucketAt } from '../../time/buckets.js'
import type { TrendPart, TrendPlan } from './plan.js'

/**
 * Counts events and distinct people by group and bucket (calculations §2). A person counts once in each cell, and once
 * in the whole range.
 */
export function scanTrend(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  if (plan.groups) return plan.pass === 'rank' ? rankGroupsOf(log, people, plan) : countGroups(log, people, plan)
  return countAll(log, people, plan)
}

export function mergeTrend(a: TrendPart, b: TrendPart): TrendPart {
  if (a.pass === 'rank' && b.pass === 'rank') return { pass: 'rank', tally: mergeTallies(a.tally, b.tally) }
  if (a.pass === 'count' && b.pass === 'count')
    return { pass: 'count', events: addArrays(a.events, b.events), people: addArrays(a.people, b.people) }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** The people with an event in any of the marked cells, ascending by the workspace's number. */
export function selectTrend(log: EventLog, people: PersonRange, plan: TrendPlan, marks: readonly Mark[]): Uint32Array {
  const { buckets } = plan
  const groupCount = plan.keys.length
  const wanted = new Uint8Array((groupCount + 1) * (buckets.length + 1))
  for (const mark of marks) {
    if (mark.kind !== 'point') continue
    const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : groupCount
    const bucket = mark.bucket === undefined ? buckets.length : buckets.findIndex((b) => b.key === mark.bucket)
    if (group >= 0 && bucket >= 0) wanted[group * (buckets.length + 1) + bucket] = 1
  }
  const found: number[] = []
  const width = buckets.length + 1
  const isWanted = (group: number, bucket: number) =>
    wanted[group * width + bucket] === 1 || wanted[group * width + buckets.length] === 1
  const add = (person: number) => {
    if (found[found.length - 1] !== person) found.push(person)
  }
  eachMatch(log, people, plan, (_row, _slot, person, bucket, groups) => {
    if (isWanted(groupCount, bucket)) add(person)
    else if (groups) for (let i = 0; i < groups.length; i++) if (isWanted(groups.found[i], bucket)) add(person)
  })
  return Uint32Array.from(found)
}

type Visit = (row: number, slot: number, person: number, bucket: number, groups: GroupReader | null) => void

/** Visits every event that matches the plan, person by person in order, with its groups already read. */
function eachMatch(log: EventLog, people: PersonRange, plan: TrendPlan, visit: Visit): void {
  const { grid, among } = plan
  const { offsets, time, hidden, slot: slots } = log
  const tests: (RowTest | null)[] = []
  const readers: (GroupReader | null)[] = []
  const counted = new Uint8Array(log.rowsOfType.length)
  for (const type of plan.types) {
    if (type >= counted.length) continue
    counted[type] = 1
    tests[type] = bindTest(plan.test, log, type)
    readers[type] = plan.groups ? bindGroups(plan.groups, log, type) : null
  }
  const one = plan.types.length === 1 ? log.rowsOfType[plan.types[0]] : undefined
  if (plan.types.length === 1 && !one) return
  let cursor = one ? lowerBound(one, offsets[people.from]) : 0

  for (let index = people.from; index < people.to; index++) {
    const end = offsets[index + 1]
    const person = log.person[index]
    const skip = hidden?.[index] === 1 || (among && among[person] !== 1)
    if (one) {
      const type = plan.types[0]
      const test = tests[type]
      const reader = readers[type]
      for (; cursor < one.length && one[cursor] < end; cursor++) {
        if (skip) continue
        const row = one[cursor]
        const at = time[row]
        if (at < grid.from || at >= grid.until || (test && !test(row, cursor, person))) continue
        reader?.read(row, cursor, person)
        visit(row, cursor, person, bucketAt(grid, at), reader)
      }
      continue
    }
    if (skip) continue
    for (let row = offsets[index]; row < end; row++) {
      const type = log.type[row]
      const at = time[row]
      if (counted[type] !== 1 || at < grid.from || at >= grid.until) continue
      const slot = slots[row]
      const test = tests[type]
      if (test && !test(row, slot, person)) continue
      const reader = readers[type]
      reader?.read(row, slot, person)
      visit(row, slot, person, bucketAt(grid, at), reader)
    }
  }
}

/** The first index whose value is at least `least`, in an ascending array. */
function lowerBound(values: Uint32Array, least: number): number {
  let low = 0
  let high = values.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < least) low = middle + 1
    else high = middle
  }
  return low
}

function rankGroupsOf(log: EventLog, people: PersonRange, shared: TrendPlan): TrendPart {
  // Numbers get their groups as they turn up, so each scan works on a plan of its own.
  const groups = { ...shared.groups!, ofNumber: new Map<number, number>() }
  const fixed = groups.count
  const events: number[] = new Array<number>(fixed).fill(0)
  const persons: number[] = new Array<number>(fixed).fill(0)
  const seen: number[] = new Array<number>(fixed).fill(-1)
  eachMatch(log, people, { ...shared, groups }, (_row, _slot, person, _bucket, reader) => {
    for (let i = 0; i < reader!.length; i++) {
      const group = reader!.found[i]
      events[group] = (events[group] ?? 0) + 1
      if (seen[group] !== person) {
        seen[group] = person
        persons[group] = (persons[group] ?? 0) + 1
      }
    }
  })
  return { pass: 'rank', tally: tallyOf(groups, fixed, events, persons) }
}

function countGroups(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  const all = plan.keys.length
  const whole = plan.buckets.length
  const width = whole + 1
  const events = new Float64Array((all + 1) * width)
  const persons = new Float64Array((all + 1) * width)
  const seen = new Int32Array((all + 1) * width).fill(-1)
  const count = (cell: number, person: number) => {
    events[cell]++
    if (seen[cell] !== person) {
      seen[cell] = person
      persons[cell]++
    }
  }
  eachMatch(log, people, plan, (_row, _slot, person, bucket, reader) => {
    for (let i = 0; i < reader!.length; i++) {
      const first = reader!.found[i] * width
      count(first + bucket, person)
      count(first + whole, person)
    }
    count(all * width + bucket, person)
    count(all * width + whole, person)
  })
  return { pass: 'count', events, people: persons }
}

function countAll(log: EventLog, people: PersonRange, plan: TrendPlan): TrendPart {
  const whole = plan.buckets.length
  const events = new Float64Array(whole + 1)
  const persons = new Float64Array(whole + 1)
  const single = plan.types.length === 1 && !plan.test && !plan.among && !log.hidden
  const rows = single ? log.rowsOfType[plan.types[0]] : undefined
  if (rows) {
    countUnfiltered(log, people, plan, rows, events, persons)
  } else {
    let lastPerson = -1
    let lastBucket = -1
    eachMatch(log, people, plan, (_row, _slot, person, bucket) => {
      events[bucket]++
      if (person !== lastPerson) {
        lastPerson = person
        lastBucket = -1
        persons[whole]++
      }
      // A person's events are in order of time, so a bucket once left does not come again.
      if (bucket !== lastBucket) {
        lastBucket = bucket
        persons[bucket]++
      }
    })
  }
  for (let bucket = 0; bucket < whole; bucket++) events[whole] += events[bucket]
  return { pass: 'count', events, people: persons }
}

/** The loop of `countAll` over one event type without any filter, written out: the commonest question of all. */
function countUnfiltered(
  { offsets, time }: EventLog,
  people: PersonRange,
  { grid, buckets }: TrendPlan,
  rows: Uint32Array,
  events: Float64Array,
  persons: Float64Array,
): void {
  const { from, until, origin, bucketOfQuarter } = grid
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
    const at = time[row]
    if (at < from || at >= until) continue
    const bucket = bucketOfQuarter[((at - origin) / 900_000) | 0]
    events[bucket]++
    if (bucket !== lastBucket) {
      if (lastBucket === -1) persons[buckets.length]++
      lastBucket = bucket
      persons[bucket]++
    }
  }
}
