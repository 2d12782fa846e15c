import { sidesKey } from '../segments/side.js'
import { isClock, isWeek, isNone, isPlain } from '../questions/groupedBy.js'
import { MOST_SIDES } from '../questions/vocabulary.js'
import type { AsOf } from '../filters/bind.js'
import { findProperty, type CompileContext } from '../filters/compile.js'
import type { Values } from '../log/dictionary.js'
import type { EventLog } from '../log/log.js'
import { wantedGroup } from '../questions/groupId.js'
import type { GroupKey, PropertyRef, ValueKey } from '../questions/parts.js'
import type { Cuts, SidesRef, Split } from '../questions/split.js'
import { dayOf } from '../time/range.js'
import {
  bindGroups,
  compareNames,
  compareRanks,
  keepGroups,
  ownGroups,
  planClock,
  planGroups,
  withCuts,
  type FlatGroups,
  type FoundValues,
  type GroupPlan,
  type GroupReader,
} from './groups.js'

/**
 * Groups by up to three breakdowns at once: a group is a combination of one group of each. In the first pass every
 * combination is one; in the second the kept ones are numbered, and the others share the last number.
 */
export interface SplitPlan {
  parts: GroupPlan[]
  /** second pass: by combination of the parts' groups, the first part's counting fastest: its group, -1 = not shown */
  table: Int32Array | null
}

/** The first pass's plan. @param earliest the first moment that an event may be read from, epoch ms */
export function planSplit(
  splits: readonly Split[],
  context: CompileContext,
  earliest: number,
  path: (string | number)[],
): SplitPlan | null {
  const parts = splits.map(({ by, cuts }, index) => {
    if (isClock(by)) return planClock(by.of, earliest, context.now + 1, context.calendar.zone)
    const found = planGroups(by, context, [...path, index, 'by'])
    if (!found) return null
    return cuts && 'at' in cuts ? withCuts(found.plan, cuts.at, false) : found.plan
  })
  return parts.every((part) => part !== null) ? { parts, table: null } : null
}

/** Which breakdown still waits for its cut points, which are worked out from the numbers counted; -1 = none. */
export function waitsForCuts(splits: readonly Split[], plan: SplitPlan): number {
  return splits.findIndex(({ cuts }, index) => cuts && !('at' in cuts) && plan.parts[index].cuts === null)
}

/**
 * Cut points from the numbers counted (how numbers are counted, 4): the ends of the parts, the least and the largest
 * included.
 * @param counts how often each number was counted
 */
export function cutPoints(cuts: Extract<Cuts, { equal: string }>, counts: ReadonlyMap<number, number>): number[] {
  const numbers = [...counts.keys()].sort((a, b) => a - b)
  if (numbers.length === 0) return []
  const [least, most] = [numbers[0], numbers[numbers.length - 1]]
  const { parts } = cuts
  if (cuts.equal === 'width') {
    // Numbers that hardly differ have no room for so many points between them.
    const inner = Array.from({ length: parts - 1 }, (_, i) => least + ((most - least) * (i + 1)) / parts)
    return [least, ...new Set(inner.filter((point) => point > least && point < most)), most]
  }
  const total = numbers.reduce((sum, number) => sum + counts.get(number)!, 0)
  const points = [least]
  let upTo = 0
  let next = 1
  for (const number of numbers) {
    upTo += counts.get(number)!
    // Of all of them in order, the one at place ⌈total × next ÷ parts⌉, counted from 0, begins the next part.
    while (next < parts && upTo > Math.ceil((total * next) / parts)) {
      points.push(number)
      next++
    }
  }
  const rising = [...new Set([...points, most])]
  return rising.length === 1 ? [least, most] : rising
}

/** The plan with the cut points of one breakdown. */
export function setCuts(plan: SplitPlan, index: number, at: readonly number[]): SplitPlan {
  return { ...plan, parts: plan.parts.map((part, i) => (i === index ? withCuts(part, at, true) : part)) }
}

/** A scan's own copy of the first pass's plan: numbers get their groups as they turn up. */
export function ownSplit(plan: SplitPlan): SplitPlan {
  return { ...plan, parts: plan.parts.map(ownGroups) }
}

/** Up to so many pairs are found by a table rather than a map: every scan of a run of people makes one. */
const MOST_IN_TABLE = 1 << 16

/** Numbers combinations as they turn up, and tells afterwards what they are. */
export class Combinations {
  private readonly byPair: Map<number, number>[]
  private readonly pairs: [number, number][][]
  /** of the first two parts, where they have few groups: the pair's number by left + right × lefts, -1 = not met yet */
  private readonly table: Int32Array | null
  private readonly lefts: number
  private readonly rights: number

  constructor(private readonly plan: SplitPlan) {
    this.byPair = plan.parts.slice(1).map(() => new Map())
    this.pairs = plan.parts.slice(1).map(() => [])
    this.lefts = plan.parts[0].count
    this.rights = plan.parts[1]?.count ?? 0
    const size = this.lefts * this.rights
    this.table = size > 0 && size <= MOST_IN_TABLE ? new Int32Array(size).fill(-1) : null
  }

  /** The number of a pair of an earlier combination and the next part's group. */
  pair(level: number, left: number, right: number): number {
    if (level === 0 && this.table && left < this.lefts && right < this.rights) {
      const at = left + right * this.lefts
      if (this.table[at] < 0) this.table[at] = this.pairs[0].push([left, right]) - 1
      return this.table[at]
    }
    const key = left * 67_108_864 + right
    let found = this.byPair[level].get(key)
    if (found === undefined) {
      found = this.pairs[level].push([left, right]) - 1
      this.byPair[level].set(key, found)
    }
    return found
  }

  /** @param count how many numbers there are where there is but one part */
  ids(count: number, fixed: readonly number[]): string[] {
    const names = this.plan.parts.map(
      ({ found: { numbers, days } }) =>
        new Map([
          ...[...numbers].map(([number, group]): [number, string] => [group, `n${number}`]),
          ...[...days].map(([start, group]): [number, string] => [group, `d${start}`]),
        ]),
    )
    const name = (part: number, group: number) => (group < fixed[part] ? String(group) : names[part].get(group)!)
    const unfold = (level: number, number: number): string => {
      if (level < 0) return name(0, number)
      const [left, right] = this.pairs[level][number]
      return `${unfold(level - 1, left)} ${name(level + 1, right)}`
    }
    const levels = this.plan.parts.length - 2
    const length = levels < 0 ? count : this.pairs[levels].length
    return Array.from({ length }, (_, number) => unfold(levels, number))
  }
}

/** Reads an event's groups: all combinations of the groups it has in each breakdown; of people alone, as they were `asOf`. */
export function bindSplit(
  plan: SplitPlan,
  log: EventLog,
  type: number,
  combinations: Combinations | null,
  asOf?: AsOf,
): GroupReader {
  const readers = plan.parts.map((part) => bindGroups(part, log, type, asOf))
  const { table } = plan
  if (readers.length === 1 && !table) return readers[0]
  const sizes = plan.parts.map(({ count }) => count)
  const flat = table && flatReader(readers, sizes, table)
  if (flat) return flat
  const first = readers[0]
  const second = readers.length === 2 ? readers[1] : null
  const { fill } = first
  const alone: Pick<GroupReader, 'fill'> =
    table && readers.length === 1 && fill
      ? {
          fill(slots, persons, length, groups) {
            fill(slots, persons, length, groups)
            for (let i = 0; i < length; i++) groups[i] = table[groups[i]]
          },
        }
      : {}
  const reader: GroupReader = {
    ...alone,
    length: 0,
    found: new Uint32Array(64),
    read(row, slot, person) {
      if (second) {
        // Two breakdowns, one group of each: the commonest case, without the general one's counting.
        first.read(row, slot, person)
        second.read(row, slot, person)
        if (first.length === 1 && second.length === 1) {
          const a = first.found[0]
          const b = second.found[0]
          const group = table ? table[a + b * sizes[0]] : combinations!.pair(0, a, b)
          reader.found[0] = group
          reader.length = group < 0 ? 0 : 1
          return
        }
      }
      let length = 1
      for (const part of readers) {
        part.read(row, slot, person)
        length *= part.length
      }
      if (length > reader.found.length) reader.found = new Uint32Array(length)
      let n = 0
      for (let k = 0; k < length; k++) {
        let rest = k
        let group = 0
        let stride = 1
        for (let part = 0; part < readers.length; part++) {
          const { found, length: many } = readers[part]
          const own = found[rest % many]
          rest = (rest / many) | 0
          if (table) {
            group += own * stride
            stride *= sizes[part]
          } else group = part === 0 ? own : combinations!.pair(part - 1, group, own)
        }
        if (!table) reader.found[n++] = group
        else if (table[group] >= 0) reader.found[n++] = table[group]
      }
      // Two elements of a list that are both in the rest are one group.
      reader.length = table && n > 1 ? unique(reader.found, n) : n
    },
  }
  return reader
}

/**
 * Reads the combinations of the first pass by their places, left + right × lefts, many events at once; null where
 * events may have several groups, or groups turn up by and by. `ids` names them as `Combinations` does.
 */
export function bindPlaces(
  plan: SplitPlan,
  log: EventLog,
  type: number,
): { size: number; fill: NonNullable<GroupReader['fill']>; idOf(place: number): string } | null {
  const sizes = plan.parts.map(({ count }) => count)
  const size = sizes.reduce((product, count) => product * count, 1)
  if (size > MOST_IN_TABLE) return null
  const readers = plan.parts.map((part) => bindGroups(part, log, type))
  const flat = flatReader(
    readers,
    sizes,
    Int32Array.from({ length: size }, (_, place) => place),
  )
  if (!flat) return null
  const [lefts] = sizes
  const idOf = (place: number) => (sizes.length === 1 ? String(place) : `${place % lefts} ${Math.floor(place / lefts)}`)
  return { size, fill: flat.fill!, idOf }
}

/** One or two breakdowns whose values have one group each: look-ups and a sum. null where it is not so simple. */
function flatReader(readers: readonly GroupReader[], sizes: readonly number[], table: Int32Array): GroupReader | null {
  const flats = readers.flatMap(({ flat }) => flat ?? [])
  if (readers.length > 2 || flats.length < readers.length) return null
  // What is of the person is looked up once for all of a person's events that follow each other.
  const [a, b = NO_SECOND] = flats
  const ofRow: OneOfTwo[] = []
  const ofPerson: OneOfTwo[] = []
  for (const [flat, stride] of [[a, 1] as const, [b, sizes[0]] as const])
    (flat.ofPerson ? ofPerson : ofRow).push(oneOfTwo(flat, stride))
  const [p = NOTHING, q = NOTHING] = ofPerson
  const [x = NOTHING, y = NOTHING] = ofRow
  const placeOfPerson = (person: number) => p.places[p.codes[person & p.mask]] + q.places[q.codes[person & q.mask]]
  const groupOf = (slot: number, person: number) =>
    table[x.places[x.codes[slot & x.mask]] + y.places[y.codes[slot & y.mask]] + placeOfPerson(person)]
  const found = new Uint32Array(1)
  const reader: GroupReader = {
    length: 1,
    found,
    sums: ofRow.length < 2 ? { ...x, ofPerson: placeOfPerson, table } : undefined,
    read(_row, slot, person) {
      const group = groupOf(slot, person)
      found[0] = group
      reader.length = group < 0 ? 0 : 1
    },
    fill(slots, persons, length, groups) {
      const { places, codes, mask } = x
      let before = -1
      let place = 0
      for (let i = 0; i < length; i++) {
        const person = persons[i]
        if (person !== before) {
          before = person
          place = placeOfPerson(person)
        }
        groups[i] = place + places[codes[slots[i] & mask]]
      }
      if (ofRow.length > 1) for (let i = 0; i < length; i++) groups[i] += y.places[y.codes[slots[i] & y.mask]]
      for (let i = 0; i < length; i++) groups[i] = table[groups[i]]
    },
  }
  return reader
}

/** One breakdown's share of a combination's place, by the code at a slot; where there are no codes, the mask is 0. */
interface OneOfTwo {
  codes: NonNullable<FlatGroups['codes']>
  /** by code */
  places: Uint32Array
  mask: number
}

function oneOfTwo({ codes, groups }: FlatGroups, stride: number): OneOfTwo {
  return { codes: codes ?? ONE_CODE, places: groups.map((group) => group * stride), mask: codes ? -1 : 0 }
}

const ONE_CODE = new Uint8Array(1)
const NOTHING: OneOfTwo = { codes: ONE_CODE, places: new Uint32Array(1), mask: 0 }

/** In place of a second breakdown: one group for all. */
const NO_SECOND: FlatGroups = { codes: null, groups: new Uint32Array(1), ofPerson: false }

/** Leaves each number once, in front; returns how many there are. */
export function unique(found: Uint32Array, length: number): number {
  let n = 0
  for (let i = 0; i < length; i++) {
    let known = false
    for (let j = 0; j < n; j++) known ||= found[j] === found[i]
    if (!known) found[n++] = found[i]
  }
  return n
}

/** What groups are named by. */
export type NamingContext = Pick<CompileContext, 'schema' | 'calendar' | 'sides'> & {
  /** groups that are asked for by name, by their ids: kept beside the largest */
  wanted?: ReadonlySet<string>
}

/** Of segments side by side each is a group as it is given, and who is in none of them in none. */
export function settled(split: Split): Split {
  return split.by.of === 'segments' ? { by: split.by, keep: 2 ** MOST_SIDES, hideNone: true } : split
}

/** A group that the first pass found, by its id, with what it is ranked by. */
export interface FoundGroup {
  id: string
  rank: number | null
}

/** The kept groups in the order they are shown, and the second pass's plan. */
export function keepSplit(
  plan: SplitPlan,
  asked: readonly Split[],
  found: readonly FoundGroup[],
  context: NamingContext,
): { plan: SplitPlan; keys: GroupKey[]; rest: number } {
  const splits = asked.map(settled)
  const [first] = splits
  const namers = splits.map((split, index) => namerOf(split, plan.parts[index], context))
  const all = splits.length === 1 ? withEmptySides(found, first, context) : found
  const groups = all.map(({ id, rank }) => {
    const parts = id.split(' ')
    const each = parts.map((part, index) => namers[index](part))
    return { parts, each, rank, key: keyOf(each) }
  })
  const shown = groups.filter(({ each }) => !each.some((key, index) => splits[index].hideNone && isNone(key)))
  const wanted = shown.filter(({ each }) => each.every((key, index) => isWanted(key, splits[index].only)))
  const ranked = wanted.sort((a, b) => compareRanks(a.rank, b.rank) || compareNames(a.key, b.key))
  // A week has but so many hours: where groups are made by the clock alone in two ways, all are kept.
  // Segments side by side are all shown by themselves; with others, combinations are kept as of all breakdowns.
  const keep = isWeek(splits) ? ranked.length : splits.length > 1 ? asked[0].keep : first.keep
  const kept = ranked.slice(0, keep)
  if (context.wanted)
    kept.push(...shown.filter((group) => !kept.includes(group) && context.wanted!.has(wantedGroup(group.key))))
  const rest = shown.length - kept.length
  const order = first.order ?? (splits.every(isPlain) ? 'size' : 'name')
  if (order === 'name') kept.sort((a, b) => compareNames(a.key, b.key))

  // Each part keeps the groups that some kept combination has, and *no value* where it is not to be shown.
  const partIds = splits.map((split, index) => {
    const ids = new Set(kept.map(({ parts }) => parts[index]))
    if (split.hideNone) ids.add('0')
    return [...ids]
  })
  const parts = plan.parts.map((part, index) => keepPart(part, splits[index], partIds[index], context))
  const table = new Int32Array(parts.reduce((size, { count }) => size * count, 1)).fill(rest > 0 ? kept.length : -1)
  const eachCombination = (visit: (at: number, own: number[]) => void) => {
    for (let at = 0; at < table.length; at++) {
      let left = at
      visit(
        at,
        parts.map(({ count }) => {
          const own = left % count
          left = (left / count) | 0
          return own
        }),
      )
    }
  }
  eachCombination((at, own) => {
    if (own.some((group, index) => splits[index].hideNone && partIds[index][group] === '0')) table[at] = -1
  })
  kept.forEach((group, index) => {
    let at = 0
    let stride = 1
    group.parts.forEach((id, part) => {
      at += partIds[part].indexOf(id) * stride
      stride *= parts[part].count
    })
    table[at] = index
  })
  const hideRest = splits.some((split) => split.hideRest)
  if (hideRest) for (let at = 0; at < table.length; at++) if (table[at] === kept.length) table[at] = -1
  const keys: GroupKey[] = kept.map(({ key }) => key)
  if (rest > 0 && !hideRest) keys.push({ rest: true })
  return { plan: { parts, table }, keys, rest: hideRest ? 0 : rest }
}

/** Of segments side by side each is shown, also where nobody is in it. */
export function withEmptySides(
  found: readonly FoundGroup[],
  { by }: Pick<Split, 'by'>,
  context: NamingContext,
): readonly FoundGroup[] {
  if (by.of !== 'segments' || by.parts) return found
  const known = new Set(found.map(({ id }) => id))
  const empty = dictionaryOf(by, context).values.flatMap((side, code) =>
    typeof side === 'string' && !known.has(String(code)) ? [{ id: String(code), rank: 0 }] : [],
  )
  return [...found, ...empty]
}

export function isWanted(key: ValueKey, only: readonly ValueKey[] | undefined): boolean {
  return !only || only.some((wanted) => JSON.stringify(wanted) === JSON.stringify(key))
}

function keyOf(each: ValueKey[]): GroupKey {
  return each.length === 1 ? each[0] : { each }
}

/** The second pass's plan of one breakdown: group k is `ids[k]`, and whatever is not among them comes last. */
export function keepPart(
  part: GroupPlan,
  { by }: Pick<Split, 'by'>,
  ids: readonly string[],
  context: Omit<NamingContext, 'calendar'>,
): GroupPlan {
  const dictionary = isClock(by) ? null : dictionaryOf(by, context)
  const found: FoundValues = { numbers: new Map(), days: new Map(), zone: part.found.zone }
  const kept = ids.map((id, index) => {
    // Numbers and days have no group of their own in the shared plan: each is given one that nothing else has.
    const own = id.startsWith('n') ? found.numbers : id.startsWith('d') ? found.days : null
    const group = own ? part.count + index : Number(id)
    own?.set(Number(id.slice(1)), group)
    return { key: { rest: true as const }, group, rank: null }
  })
  // Whatever is not kept is "other", whether or not there is any.
  return keepGroups(part, dictionary ?? NO_VALUES, kept, 1, found)
}

const NO_VALUES = { size: 0, elements: new Map<number, number[]>() } as unknown as Values

function dictionaryOf(by: PropertyRef | SidesRef, { schema, sides }: Omit<NamingContext, 'calendar'>) {
  return findProperty(by, { schema, sides, faults: [] }, [])!.dictionary
}

/** Tells what a part of an id stands for. */
export function namerOf({ by }: Pick<Split, 'by'>, plan: GroupPlan, context: NamingContext): (id: string) => ValueKey {
  if (isClock(by)) return (id) => (by.of === 'hour' ? { hour: Number(id) } : { weekday: Number(id) + 1 })
  const { values } = dictionaryOf(by, context)
  if (by.of === 'segments') {
    const { names } = context.sides!.get(sidesKey(by))!
    return (id) => sideOf(values[Number(id)] as string | null, names)
  }
  const ranges = new Map([...(plan.cuts?.groups ?? [])].map((group, index) => [group, index]))
  return (id) => {
    if (id.startsWith('n')) return { value: Number(id.slice(1)) }
    if (id.startsWith('d')) return { value: dayOf(Number(id.slice(1)), context.calendar.zone).toString() }
    const group = Number(id)
    const range = ranges.get(group)
    if (range !== undefined) return rangeKey(plan.cuts!, range)
    return { value: values[group] as string | boolean | null }
  }
}

/** A side's place as its group; whoever is in none of them has no value. */
export function sideOf(place: string | null, names: readonly string[]): ValueKey {
  return place === null ? { value: null } : { side: Number(place), name: names[Number(place)] }
}

function rangeKey({ at, closed }: { at: Float64Array; closed: boolean }, index: number): ValueKey {
  const bounds: [number | null, number | null] = [at[index - 1] ?? null, at[index] ?? null]
  const last = closed && index === at.length - 1
  return last ? { range: bounds, closed: true } : { range: bounds }
}
