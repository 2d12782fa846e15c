import { columnOf, isOfPerson, type AsOf } from '../filters/bind.js'
import { isMoving as isMovingColumn, type ColumnRef, type CompileContext } from '../filters/compile.js'
import type { EventLog } from '../log/log.js'
import type { Fault } from '../questions/faults.js'
import type { GroupKey } from '../questions/parts.js'
import type { Split } from '../questions/split.js'
import type { GroupReader } from './groups.js'
import {
  bindSplit,
  Combinations,
  cutPoints,
  keepSplit,
  ownSplit,
  planSplit,
  setCuts,
  waitsForCuts,
  type FoundGroup,
  type NamingContext,
  type SplitPlan,
} from './split.js'

/**
 * The groups of a question, from its breakdowns to the kept ones, as all kinds with a row for each group find them: a
 * pass over the numbers of each breakdown that is cut into ranges of its own making, one over every group there is, and
 * then only those that are kept.
 */
export interface GroupedPlan {
  /** null = everybody together only */
  split: SplitPlan | null
  /** which breakdown's numbers are collected, in the pass for cuts; −1 = none */
  cutting: number
  /** the kept groups in order, then the rest, if it is shown; empty before they are ranked */
  keys: GroupKey[]
  /** how many groups the rest stands for */
  rest: number
}

/** Which pass a question's groups begin with. */
export type GroupPass = 'cuts' | 'rank' | 'count'

/** What the first passes find. Joins by adding. */
export type FoundGroups =
  | { pass: 'cuts'; counts: Map<number, number> }
  /** how often each group was counted, by its id */
  | { pass: 'rank'; ids: string[]; counts: Float64Array }

/** Nothing is older: 1970 is the first year that is let in. */
export const FIRST_MS = 0

/** @param earliest the first moment that an event may be read from, epoch ms */
export function planGrouped(
  splits: readonly Split[] | undefined,
  context: CompileContext,
  earliest: number,
): GroupedPlan & { pass: GroupPass } {
  const split = splits?.length ? planSplit(splits, context, Math.max(earliest, FIRST_MS), ['breakdowns']) : null
  const cutting = split ? waitsForCuts(splits!, split) : -1
  return { pass: split ? (cutting >= 0 ? 'cuts' : 'rank') : 'count', split, cutting, keys: [], rest: 0 }
}

/** What is not of a person cannot make groups where people are counted over their whole time. */
export function refuseEventGroups(splits: readonly Split[] | undefined, what: string, faults: Fault[]): void {
  splits?.forEach(({ by }, index) => {
    if (by.of !== 'person' && by.of !== 'segments')
      faults.push({
        ...{ path: ['breakdowns', index, 'by'], code: 'invalid' },
        want: `${what} is told of people, so its groups are made by what is known of them, or by segments`,
      })
  })
}

/** After the pass for cuts: the plan with them, and of the next pass. */
export function withFoundCuts(
  counts: ReadonlyMap<number, number>,
  { split, cutting }: GroupedPlan,
  splits: readonly Split[],
): Pick<GroupedPlan, 'split' | 'cutting'> & { pass: 'cuts' | 'rank' } {
  const { cuts } = splits[cutting]
  const points = cuts && !('at' in cuts) ? cutPoints(cuts, counts) : []
  const next = setCuts(split!, cutting, points)
  const waiting = waitsForCuts(splits, next)
  return { split: next, cutting: waiting, pass: waiting >= 0 ? 'cuts' : 'rank' }
}

/** After the ranking pass: the kept groups. */
export function withKeptGroups(
  found: readonly FoundGroup[],
  { split }: GroupedPlan,
  splits: readonly Split[],
  context: NamingContext,
): Pick<GroupedPlan, 'split' | 'keys' | 'rest'> & { pass: 'count' } {
  const { plan, keys, rest } = keepSplit(split!, splits, found, context)
  return { split: plan, keys, rest, pass: 'count' }
}

/** What the next pass has of the groups, after one of the first ones. */
export function nextGrouped(
  part: FoundGroups,
  plan: GroupedPlan,
  splits: readonly Split[],
  context: NamingContext,
): Partial<GroupedPlan> & { pass: GroupPass } {
  if (part.pass === 'cuts') return withFoundCuts(part.counts, plan, splits)
  const found = part.ids.flatMap((id, group) => (part.counts[group] > 0 ? [{ id, rank: part.counts[group] }] : []))
  return withKeptGroups(found, plan, splits, context)
}

export function mergeFound(a: FoundGroups, b: FoundGroups): FoundGroups {
  if (a.pass === 'cuts' && b.pass === 'cuts') {
    const counts = new Map(a.counts)
    for (const [number, count] of b.counts) counts.set(number, (counts.get(number) ?? 0) + count)
    return { pass: 'cuts', counts }
  }
  if (a.pass === 'rank' && b.pass === 'rank') {
    const ids = [...a.ids]
    const at = new Map(ids.map((id, index) => [id, index]))
    const counts = [...a.counts]
    b.ids.forEach((id, index) => {
      const place = at.get(id)
      if (place === undefined) counts[ids.push(id) - 1] = b.counts[index]
      else counts[place] += b.counts[index]
    })
    return { pass: 'rank', ids, counts: Float64Array.from(counts) }
  }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** The groups of an event; the reader is used again for the next one. */
export type ReadGroups = (row: number, person: number) => GroupReader

/** Reads the kept groups of events of any type. @param combinations numbers what turns up, in a first pass */
export function bindGrouped(
  log: EventLog,
  split: SplitPlan | null,
  combinations: Combinations | null = null,
): ReadGroups | null {
  if (!split) return null
  const { type: types, slot: slots } = log
  const readers: (GroupReader | undefined)[] = []
  return (row, person) => {
    const type = types[row]
    const reader = (readers[type] ??= bindSplit(split, log, type, combinations))
    reader.read(row, slots[row], person)
    return reader
  }
}

/** The groups of a person as of a moment, epoch ms; the reader is used again for the next one. */
export type ReadPeopleGroups = (person: number, ms: number) => GroupReader

/** Reads the kept groups of people, where all breakdowns are of people. */
export function bindPeopleGroups(
  log: EventLog,
  split: SplitPlan,
  combinations: Combinations | null = null,
): ReadPeopleGroups {
  const asOf: AsOf = { ms: Infinity }
  const reader = bindSplit(split, log, -1, combinations, asOf)
  return (person, ms) => {
    asOf.ms = ms
    reader.read(-1, -1, person)
    return reader
  }
}

/** Whether people may go from one group to another in the course of time. */
export function isMoving(split: SplitPlan | null): boolean {
  return split !== null && split.parts.some(({ column }) => isMovingColumn(column))
}

/** Whether what was read last is in a group. */
export function isIn(groups: GroupReader | null, wanted: number): boolean {
  if (groups) for (let i = 0; i < groups.length; i++) if (groups.found[i] === wanted) return true
  return false
}

/** Finds what the first passes look for, in a scan: give it every event that counts, then ask for what was found. */
export interface GroupFinder {
  /** an event that counts once in each of its groups */
  meet(row: number, person: number): void
  found(): FoundGroups
}

export function groupFinder(log: EventLog, plan: GroupedPlan & { pass: string }): GroupFinder {
  if (plan.pass === 'cuts') return numberFinder(log, plan.split!.parts[plan.cutting].column)
  const { read, count, found } = rankFinder(log, plan)
  return {
    meet(row, person) {
      const groups = read(row, person)
      for (let i = 0; i < groups.length; i++) count(groups.found[i], 1)
    },
    found,
  }
}

function numberFinder(log: EventLog, column: ColumnRef | null): GroupFinder {
  const counts = new Map<number, number>()
  const { type: types, slot: slots } = log
  const byPerson = column !== null && isOfPerson(column)
  const columns: (Float64Array | null | undefined)[] = []
  return {
    meet(row, person) {
      if (!column || column.of === 'source') return
      const type = types[row]
      const numbers = (columns[type] ??= columnOf(column, log, type)?.numbers ?? null)
      const number = numbers ? numbers[byPerson ? person : slots[row]] : NaN
      if (number === number) counts.set(number, (counts.get(number) ?? 0) + 1)
    },
    found: () => ({ pass: 'cuts', counts }),
  }
}

/** Ranks groups of people by what is counted of each: they get their numbers as they turn up. */
export function rankFinder(log: EventLog, plan: GroupedPlan) {
  const split = ownSplit(plan.split!)
  const fixed = split.parts.map(({ count }) => count)
  const combinations = new Combinations(split)
  const counts: number[] = []
  return {
    read: bindGrouped(log, split, combinations)!,
    readPerson: bindPeopleGroups(log, split, combinations),
    count(group: number, by: number) {
      counts[group] = (counts[group] ?? 0) + by
    },
    found(): FoundGroups {
      const ids = combinations.ids(counts.length, fixed)
      return { pass: 'rank', ids, counts: Float64Array.from(ids, (_, group) => counts[group] ?? 0) }
    },
  }
}
