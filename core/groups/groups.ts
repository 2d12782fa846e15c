import { columnOf, isOfPerson, pastOf, type AsOf } from '../filters/bind.js'
import { findProperty, type ColumnRef, type CompileContext } from '../filters/compile.js'
import type { Values } from '../log/dictionary.js'
import { slotAt, type Column, type EventLog } from '../log/log.js'
import type { GroupKey, PropertyRef } from '../questions/parts.js'
import type { SidesRef } from '../questions/split.js'
import { QUARTER } from '../time/quarter.js'
import { clockOf } from '../time/clock.js'
import { dayFinder } from '../time/dayFinder.js'
import { dayOf } from '../time/range.js'

/**
 * How a breakdown finds the groups of an event or person. In the first pass every value is a candidate and a group is
 * an index of `Candidates`; in the second only the kept ones have an index, and all others share the last: the rest.
 */
export interface GroupPlan {
  /** null = the groups are read from the event's time */
  column: ColumnRef | null
  /** by code: groups `groups[starts[code]]` up to `groups[starts[code + 1]]`; code 0 = no value */
  starts: Uint32Array
  groups: Uint32Array
  /** what has no code gets its group by what it is; first pass: filled by the scan as it turns up */
  found: FoundValues
  /** weekday or hour by quarter of an hour, and each one's group */
  clock: { origin: number; of: Uint8Array; groups: Uint32Array } | null
  /** numbers in ranges: range k is from cut k − 1 up to cut k, and each one's group; the first and last have no bound */
  cuts: { at: Float64Array; groups: Uint32Array; closed: boolean } | null
  /** how many groups there are; in the second pass the rest is the last, if there is one */
  count: number
  /** the group of whatever has no group of its own; -1 in the first pass, where a new number makes a new group */
  other: number
}

/** Groups of values without a code. */
export interface FoundValues {
  /** number → group */
  numbers: Map<number, number>
  /** first moment of a local day, epoch ms → group */
  days: Map<number, number>
  /** whose days they are */
  zone: string
}

/** A scan's own copy of a first pass's plan: what turns up in it is its own. */
export function ownGroups(plan: GroupPlan): GroupPlan {
  const { zone } = plan.found
  return { ...plan, found: { numbers: new Map(), days: new Map(), zone } }
}

/** Makes the first pass's plan: every value a group of its own, a list's elements each a group. */
export function planGroups(
  by: PropertyRef | SidesRef,
  context: CompileContext,
  path: (string | number)[],
): { plan: GroupPlan; dictionary: Values } | null {
  const found = findProperty(by, context, path)
  if (!found) return null
  const { dictionary, column } = found
  const { starts, groups } = tableOf(dictionary, (code) => code)
  const none = { clock: null, cuts: null }
  const nothing = { numbers: new Map(), days: new Map(), zone: context.calendar.zone }
  return {
    plan: { column, starts, groups, found: nothing, ...none, count: starts.length - 1, other: -1 },
    dictionary,
  }
}

/** The first pass's plan for when the event happened: a group for each weekday or hour. */
export function planClock(by: 'weekday' | 'hour', from: number, until: number, zone: string): GroupPlan {
  const clock = clockOf(from, until, zone)
  const count = by === 'weekday' ? 7 : 24
  return {
    ...{ column: null, starts: new Uint32Array(1), groups: new Uint32Array(0), cuts: null, count, other: -1 },
    found: { numbers: new Map(), days: new Map(), zone },
    clock: { origin: clock.origin, of: clock[by], groups: Uint32Array.from({ length: count }, (_, i) => i) },
  }
}

/**
 * The first pass's plan with its numbers cut into ranges; what is no number has no value there.
 * @param at ascending
 * @param closed the last cut is the largest number there is: it belongs to the range that ends there
 */
export function withCuts(plan: GroupPlan, at: readonly number[], closed: boolean): GroupPlan {
  const groups = Uint32Array.from({ length: at.length + 1 }, (_, i) => plan.count + i)
  const { starts } = plan
  const none = { starts: Uint32Array.from(starts, (_, code) => code), groups: new Uint32Array(starts.length - 1) }
  return { ...plan, ...none, cuts: { at: Float64Array.from(at), groups, closed }, count: plan.count + groups.length }
}

/** Which range a number lies in: it holds its lower end and not its upper one, save a closed last one. */
function rangeOf({ at, closed }: { at: Float64Array; closed: boolean }, number: number): number {
  let low = 0
  let high = at.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (at[middle] <= number) low = middle + 1
    else high = middle
  }
  return closed && low === at.length && number === at[at.length - 1] ? low - 1 : low
}

/** Rows of groups by code, a list's elements without repeats. */
function tableOf(dictionary: Values, groupOf: (code: number) => number) {
  // Without lists, which are few where there are many values, each code has one group.
  if (dictionary.elements.size === 0) {
    const { size } = dictionary
    return {
      starts: Uint32Array.from({ length: size + 1 }, (_, i) => i),
      groups: Uint32Array.from({ length: size }, (_, i) => groupOf(i)),
    }
  }
  const starts = new Uint32Array(dictionary.size + 1)
  const groups: number[] = []
  for (let code = 0; code < dictionary.size; code++) {
    starts[code] = groups.length
    const codes = dictionary.elements.get(code) ?? [code]
    for (const group of new Set(codes.map(groupOf))) groups.push(group)
  }
  starts[dictionary.size] = groups.length
  return { starts, groups: Uint32Array.from(groups) }
}

/** A group that was seen in the first pass, with what it is ranked by. */
export interface Candidate {
  key: GroupKey
  group: number
  /** null = a gap; such groups come last */
  rank: number | null
}

/**
 * The kept groups: the largest first, equal ones by name in code-unit order, *no value* last among equals.
 */
export function rankGroups(candidates: Candidate[], keep: number): { kept: Candidate[]; rest: number } {
  const sorted = [...candidates].sort((a, b) => compareRanks(a.rank, b.rank) || compareNames(a.key, b.key))
  return { kept: sorted.slice(0, keep), rest: Math.max(0, sorted.length - keep) }
}

/** The largest first; gaps last. */
export function compareRanks(a: number | null, b: number | null): number {
  if (a === b) return 0
  return a === null ? 1 : b === null ? -1 : b - a
}

/** By name in code-unit order; weekdays, hours and ranges in their own order before names; *no value* last. */
export function compareNames(a: GroupKey, b: GroupKey): number {
  if ('each' in a && 'each' in b) {
    for (let i = 0; i < a.each.length; i++) {
      const order = compareNames(a.each[i], b.each[i])
      if (order !== 0) return order
    }
    return 0
  }
  const [x, y] = [placeOf(a), placeOf(b)]
  if (typeof x !== typeof y) return typeof x === 'number' ? -1 : x === null ? 1 : y === null ? -1 : 1
  if (x === y || x === null || y === null) return x === y ? 0 : x === null ? 1 : -1
  return x < y ? -1 : 1
}

function placeOf(key: GroupKey): string | number | null {
  if ('weekday' in key) return key.weekday
  if ('hour' in key) return key.hour
  if ('side' in key) return key.side
  if ('range' in key) return key.range[0] ?? -Infinity
  return 'value' in key && key.value !== null ? String(key.value) : null
}

/** The second pass's plan: group k is the k-th kept one; all others, if there are any, share the next. */
export function keepGroups(
  first: GroupPlan,
  dictionary: Values,
  kept: readonly Candidate[],
  rest: number,
  found: FoundValues,
): GroupPlan {
  const other = kept.length
  const indexOf = new Map(kept.map((candidate, index) => [candidate.group, index]))
  const groupOf = (code: number) => indexOf.get(first.cuts ? 0 : code) ?? other
  const { starts, groups } = tableOf(dictionary, groupOf)
  const keptAmong = (all: ReadonlyMap<number, number>) =>
    new Map(
      [...all].flatMap(([value, group]): [number, number][] => {
        const index = indexOf.get(group)
        return index === undefined ? [] : [[value, index]]
      }),
    )
  const keptValues = { ...found, numbers: keptAmong(found.numbers), days: keptAmong(found.days) }
  const keptOf = (table: Uint32Array) => table.map((group) => indexOf.get(group) ?? other)
  const clock = first.clock && { ...first.clock, groups: keptOf(first.clock.groups) }
  const cuts = first.cuts && { ...first.cuts, groups: keptOf(first.cuts.groups) }
  const count = kept.length + (rest > 0 ? 1 : 0)
  return { ...first, starts, groups, found: keptValues, clock, cuts, count, other }
}

/** Reads the groups of events of one type; the array is reused from call to call, `length` says how many hold. */
export interface GroupReader {
  length: number
  found: Uint32Array
  read(row: number, slot: number, person: number): void
  /** where every value has one group, by its code: what reading comes down to */
  flat?: FlatGroups
  sums?: GroupSums
  /** as `read`, of many events at once: the one group of each goes to `groups`, -1 = none */
  fill?(slots: Uint32Array, persons: Uint32Array, length: number, groups: Int32Array): void
}

/**
 * One or two breakdowns whose values have one group each, at most one of them read from the event: the group is
 * `table[ofPerson(person) + places[codes[slot & mask]]]`, -1 = none.
 */
export interface GroupSums {
  codes: NonNullable<Column['codes']>
  places: Uint32Array
  mask: number
  ofPerson(person: number): number
  table: Int32Array
}

/** The group of a slot, or person, is `groups[codes[slot]]`. */
export interface FlatGroups {
  /** null = none has a value */
  codes: NonNullable<Column['codes']> | null
  groups: Uint32Array
  ofPerson: boolean
}

/** How many numbers a reader remembers the groups of; a power of two. */
const KNOWN = 1024

/** @param type −1 = of people alone, as they were `asOf` */
export function bindGroups(plan: GroupPlan, log: EventLog, type: number, asOf?: AsOf): GroupReader {
  if (plan.clock || !plan.column) return bindClock(plan, log)
  const column: Column = columnOf(plan.column, log, type) ?? { codes: null, numbers: null, dates: null }
  const { codes, numbers, dates } = column
  const { starts, groups, found: values, cuts, other } = plan
  const ofPerson = type < 0 || isOfPerson(plan.column)
  const past = pastOf(plan.column, log, type)
  const placeOf = (person: number) => (past ? slotAt(past, person, asOf!.ms) : person)
  const bySource = plan.column.of === 'source'
  if (!numbers && !dates && !bySource && !past && groups.length === starts.length - 1)
    return oneOfCode(codes, groups, ofPerson)
  const groupOfNumber = (number: number): number => {
    if (cuts) return cuts.groups[rangeOf(cuts, number)]
    return groupIn(values.numbers, number)
  }
  const groupIn = (among: Map<number, number>, value: number): number => {
    let group = among.get(value)
    if (group === undefined) {
      if (other >= 0) return other
      among.set(value, (group = plan.count++))
    }
    return group
  }
  const startOf = dates ? dayFinder(values.zone) : () => 0
  const groupOfDate = (date: number): number => (cuts ? groups[0] : groupIn(values.days, startOf(date)))
  // Numbers met lately, by a place worked out from them: a map takes ten times as long to look at.
  const knownNumbers = new Float64Array(numbers ? KNOWN : 0).fill(NaN)
  const knownGroups = new Uint32Array(numbers ? KNOWN : 0)
  /** The one group of what stands at a place, where no value is a list. */
  const oneAt = (at: number): number => {
    const code = codes ? codes[at] : 0
    if (code === 0) {
      const number = numbers ? numbers[at] : NaN
      if (number === number) {
        const place = ((number * 101) | 0) & (KNOWN - 1)
        if (knownNumbers[place] !== number) {
          knownNumbers[place] = number
          knownGroups[place] = groupOfNumber(number)
        }
        return knownGroups[place]
      }
      const date = dates ? dates[at] : NaN
      if (date === date) return groupOfDate(date)
    }
    return groups[code]
  }
  if (!bySource && groups.length === starts.length - 1) {
    const found = new Uint32Array(1)
    return {
      length: 1,
      found,
      read(_row, slot, person) {
        found[0] = oneAt(ofPerson ? placeOf(person) : slot)
      },
      fill(slots, persons, length, out) {
        const places = ofPerson ? persons : slots
        for (let i = 0; i < length; i++) out[i] = oneAt(past ? placeOf(places[i]) : places[i])
      },
    }
  }
  const reader: GroupReader = {
    length: 0,
    found: new Uint32Array(64),
    read(row, slot, person) {
      const at = bySource ? row : ofPerson ? placeOf(person) : slot
      const code = codes ? codes[at] : 0
      if (code === 0) {
        const number = numbers ? numbers[at] : NaN
        if (number === number) {
          reader.found[0] = groupOfNumber(number)
          reader.length = 1
          return
        }
        const date = dates ? dates[at] : NaN
        if (date === date) {
          reader.found[0] = groupOfDate(date)
          reader.length = 1
          return
        }
      }
      const from = starts[code]
      const length = starts[code + 1] - from
      if (length > reader.found.length) reader.found = new Uint32Array(length)
      for (let i = 0; i < length; i++) reader.found[i] = groups[from + i]
      reader.length = length
    },
  }
  return reader
}

/** Without numbers, dates and lists every value has one group, by its code. */
function oneOfCode(codes: Column['codes'], groups: Uint32Array, ofPerson: boolean): GroupReader {
  const found = new Uint32Array(1)
  const none = groups[0]
  const reader: GroupReader = { length: 1, found, read: () => {}, flat: { codes, groups, ofPerson } }
  if (!codes) found[0] = none
  else if (ofPerson)
    reader.read = (_row, _slot, person) => {
      found[0] = groups[codes[person]]
    }
  else
    reader.read = (_row, slot) => {
      found[0] = groups[codes[slot]]
    }
  return reader
}

function bindClock({ clock }: GroupPlan, { time }: EventLog): GroupReader {
  const { origin, of, groups } = clock!
  const found = new Uint32Array(1)
  return {
    length: 1,
    found,
    read(row) {
      found[0] = groups[of[((time[row] - origin) / QUARTER) | 0]]
    },
  }
}

/** What a first pass found about its groups, in a form that joins: counts of two kinds by group. */
export interface GroupTally {
  /** counts by group of the plan: values by their code */
  first: Float64Array
  second: Float64Array
  /** numbers, and local days by their first moment, are found by the scan itself: each with its [first, second] */
  numbers: Map<number, [number, number]>
  days: Map<number, [number, number]>
}

/** Cuts a scan's counts into a tally: groups up to `fixed` are the plan's, later ones are numbers and days. */
export function tallyOf(
  plan: GroupPlan,
  fixed: number,
  first: readonly number[],
  second: readonly number[],
): GroupTally {
  const countsOf = (found: ReadonlyMap<number, number>) =>
    new Map(
      [...found].map(([value, group]): [number, [number, number]] => [value, [first[group] ?? 0, second[group] ?? 0]]),
    )
  return {
    first: Float64Array.from({ length: fixed }, (_, i) => first[i] ?? 0),
    second: Float64Array.from({ length: fixed }, (_, i) => second[i] ?? 0),
    numbers: countsOf(plan.found.numbers),
    days: countsOf(plan.found.days),
  }
}

/** Sum entry by entry, into a new array. */
export function addArrays(a: Float64Array, b: Float64Array): Float64Array {
  const sum = new Float64Array(a.length)
  for (let i = 0; i < a.length; i++) sum[i] = a[i] + b[i]
  return sum
}

/** The groups that a first pass found, with their names; and the group numbers given to what has no code. */
export function candidatesOf(
  tally: GroupTally,
  dictionary: Values,
  zone: string,
  rankOf: (first: number, second: number) => number | null,
): { candidates: Candidate[]; found: FoundValues } {
  const candidates: Candidate[] = []
  const add = (group: number, key: GroupKey, first: number, second: number) => {
    if (first > 0) candidates.push({ key, group, rank: rankOf(first, second) })
  }
  dictionary.values.forEach((value, code) => {
    if (Array.isArray(value)) return
    add(code, { value: value as string | boolean | null }, tally.first[code], tally.second[code])
  })
  const found: FoundValues = { numbers: new Map(), days: new Map(), zone }
  let next = tally.first.length
  for (const [start, [first, second]] of tally.days) {
    found.days.set(start, next)
    add(next++, { value: dayOf(start, zone).toString() }, first, second)
  }
  for (const [number, [first, second]] of tally.numbers) {
    found.numbers.set(number, next)
    add(next++, { value: number }, first, second)
  }
  return { candidates, found }
}
