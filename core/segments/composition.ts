import { STEP, type Steps } from '../steps.js'
import type { Values } from '../log/dictionary.js'
import {
  bindGroups,
  candidatesOf,
  compareNames,
  keepGroups,
  planGroups,
  rankGroups,
  tallyOf,
  type GroupPlan,
  type GroupTally,
} from '../groups/groups.js'
import type { Schema } from '../log/schema.js'
import type { EventLog } from '../log/log.js'
import { hasBit } from '../log/bits.js'
import type { GroupKey, PropertyRef } from '../questions/parts.js'
import { benjaminiHochberg, twoProportions, wilson, type Interval } from '../stats/proportion.js'
import { differenceInterval } from '../stats/difference.js'
import type { Calendar } from '../time/range.js'

/** How often a value is found among a segment's members, beside all others. */
export interface CompositionRow {
  key: GroupKey
  members: number
  everyone: number
  /** of the members, with its 95 % Wilson interval; null where there are none */
  share: number | null
  interval: Interval | null
  /** of everyone; of the others, where it is said whom they stand beside */
  usual: number | null
  /** share of the members less share of those who are not: points, with the 95 % interval; null where a side is empty */
  difference: number | null
  differenceInterval: Interval | null
  /** of the two-proportion z-test against those who are not members, adjusted over all rows that are compared */
  p: number | null
}

export interface Composition {
  property: PropertyRef
  members: number
  everyone: number
  /** the commonest among the members first, then among everyone */
  rows: CompositionRow[]
}

interface Context {
  schema: Schema
  calendar: Calendar
  /** epoch ms */
  now: number
}

interface CountedValues {
  plan: GroupPlan
  dictionary: Values
  tally: GroupTally
  members: number
  everyone: number
}

/**
 * Counts people and members for each value of a profile property, as of the moment. A list puts a person in the
 * group of each element.
 * @param members as bits, by person
 * @param whole who is counted at all, as bits; null = everybody
 * @returns the groups' tally, first of everybody who has been seen, then of the members; null for an unknown property
 */
export function* countByValue(
  logs: readonly EventLog[],
  members: Uint32Array,
  property: PropertyRef,
  context: Context,
  whole: Uint32Array | null = null,
): Steps<CountedValues | null> {
  const planned = planGroups(property, { ...context, faults: [] }, [])
  if (!planned) return null
  const { plan, dictionary } = planned
  const fixed = plan.count
  const inside: number[] = []
  const all: number[] = []
  let memberCount = 0
  let everyone = 0
  for (const log of logs) {
    const reader = bindGroups(plan, log, -1, { ms: context.now })
    for (let index = 0; index < log.people; index++) {
      if (index % STEP === STEP - 1) yield
      if (log.hidden?.[index] === 1 || log.time[log.offsets[index]] > context.now) continue
      const person = log.person[index]
      const is = holds(members, person)
      if (whole !== null && !is && !holds(whole, person)) continue
      everyone++
      if (is) memberCount++
      reader.read(-1, -1, person)
      for (let i = 0; i < reader.length; i++) {
        const group = reader.found[i]
        all[group] = (all[group] ?? 0) + 1
        if (is) inside[group] = (inside[group] ?? 0) + 1
      }
    }
  }
  return { plan, dictionary, tally: tallyOf(plan, fixed, all, inside), members: memberCount, everyone }
}

const holds = (bits: Uint32Array, person: number) => person >>> 5 < bits.length && hasBit(bits, person)

/**
 * A property's values among the members beside everybody, or beside others.
 * @param members as bits, by person
 * @param others as bits; who is a member too stays one; null = everybody else
 */
export function* composition(
  logs: readonly EventLog[],
  members: Uint32Array,
  property: PropertyRef,
  context: Context,
  others: Uint32Array | null = null,
): Steps<Composition | null> {
  const counted = yield* countByValue(logs, members, property, context, others)
  if (!counted) return null
  const { dictionary, tally, everyone } = counted
  const found: CompositionRow[] = []
  const { candidates } = candidatesOf(tally, dictionary, context.calendar.zone, (all, own) => {
    found.push(rowOf({ key: { rest: true }, members: own, everyone: all }, counted.members, everyone, others !== null))
    return own
  })
  const rows = candidates.map(({ key }, index) => ({ ...found[index], key }))
  adjust(rows)
  rows.sort((a, b) => b.members - a.members || b.everyone - a.everyone || compareNames(a.key, b.key))
  return { property, members: counted.members, everyone, rows }
}

/** The groups of a property that most members are in now, and a plan that finds them; the others share the last. */
export function* largestGroups(
  logs: readonly EventLog[],
  members: Uint32Array,
  property: PropertyRef,
  keep: number,
  context: Context,
): Steps<{ plan: GroupPlan; keys: GroupKey[]; rest: number } | null> {
  const counted = yield* countByValue(logs, members, property, context)
  if (!counted) return null
  const { plan, dictionary, tally } = counted
  const zone = context.calendar.zone
  const { candidates, found } = candidatesOf(tally, dictionary, zone, (_all, own) => own)
  const { kept, rest } = rankGroups(
    candidates.filter(({ rank }) => rank !== 0),
    keep,
  )
  // Who is in no kept group now may have been a member before: there is always everything else.
  const second = keepGroups(plan, dictionary, kept, 1, found)
  return { plan: second, keys: [...kept.map(({ key }) => key), { rest: true }], rest }
}

function rowOf(
  { key, members, everyone }: { key: GroupKey; members: number; everyone: number },
  memberCount: number,
  total: number,
  apart: boolean,
): CompositionRow {
  const inside = { part: members, whole: memberCount }
  const outside = { part: everyone - members, whole: total - memberCount }
  const comparable = inside.whole > 0 && outside.whole > 0
  return {
    ...{ key, members, everyone },
    share: memberCount > 0 ? members / memberCount : null,
    interval: wilson(members, memberCount),
    usual: shareOf(apart ? outside : { part: everyone, whole: total }),
    difference: comparable ? inside.part / inside.whole - outside.part / outside.whole : null,
    differenceInterval: differenceInterval(inside, outside),
    p: twoProportions(inside, outside)?.p ?? null,
  }
}

const shareOf = ({ part, whole }: { part: number; whole: number }) => (whole > 0 ? part / whole : null)

/** Adjusts the p-values of rows that are compared together. */
export function adjust(rows: CompositionRow[]): void {
  const tested = rows.filter(({ p }) => p !== null)
  const adjusted = benjaminiHochberg(tested.map(({ p }) => p!))
  tested.forEach((row, index) => (row.p = adjusted[index]))
}

/**
 * What is found most more, and most less, often among the members than among the others: over several properties, with
 * all tests adjusted together, only what is more than noise, the surest first.
 */
export function mostApart(compositions: readonly Composition[], many: number): { more: Apart[]; less: Apart[] } {
  const rows = compositions.flatMap(({ property, rows }) =>
    // What hardly anybody has says little of anybody; and who has no value in one property mostly has none in any.
    rows
      .filter((row) => row.everyone >= 10 && row.difference !== null && !('value' in row.key && row.key.value === null))
      .map((row) => ({ property, ...row })),
  )
  const raw = rows.map((row) => testOf(row, compositions[0]))
  const adjusted = benjaminiHochberg(raw.map((test) => test?.p ?? 1))
  const clear = rows
    .map((row, index) => ({ ...row, p: adjusted[index], z: raw[index]?.z ?? 0 }))
    .filter(({ p }) => p < 0.05)
  const surest = (sign: number) =>
    clear
      .filter(({ z }) => z * sign > 0)
      .sort((a, b) => Math.abs(b.z) - Math.abs(a.z))
      .slice(0, many)
  return { more: surest(1), less: surest(-1) }
}

export type Apart = CompositionRow & { property: PropertyRef; z: number }

function testOf({ members, everyone }: CompositionRow, { members: whole, everyone: total }: Composition) {
  return twoProportions({ part: members, whole }, { part: everyone - members, whole: total - whole })
}
