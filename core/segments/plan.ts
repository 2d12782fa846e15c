import { limitMs } from '../questions/limits.js'
import { Temporal } from 'temporal-polyfill'
import { planPick, type PickPlan } from '../filters/picks.js'
import {
  compileFilter,
  eachColumn,
  findProperty,
  isMoving,
  type ColumnRef,
  type CompileContext,
  type NumberTest,
  type Test,
} from '../filters/compile.js'
import type { GroupPlan } from '../groups/groups.js'
import type { Schema } from '../log/schema.js'
import type { Fault } from '../questions/faults.js'
import type { EventChoice, EventPick, Filter } from '../questions/parts.js'
import { dayTable, type DayTable } from '../time/dayTable.js'
import { dayOf, spanOf, startOfDay, type Calendar } from '../time/range.js'
import { isFrozen, type SavedSegment } from './resolve.js'
import {
  isGroup,
  needsProperty,
  type CountMeasure,
  type CountTest,
  type DidCondition,
  type MemberCondition,
  type NumberCompare,
  type Rule,
  type SegmentCondition,
  type SequenceCondition,
  type StudyCondition,
  type TimeCondition,
} from './rule.js'

/** A rule with its names as codes, to be read as of several moments at once. Plain data: it can be sent to a worker. */
export interface MembersPlan {
  /** epoch ms, ascending, each once; nothing after one is seen as of it */
  moments: Float64Array
  leaves: LeafPlan[]
  root: NodePlan
  /** further parts of the rule, each counted by itself */
  alone: NodePlan[]
  days: DayTable
  /** members are counted for each group of a profile property as well */
  groups: GroupPlan | null
  /** for lists of people: members as of one moment, and not as of another; as indices of `moments` */
  listed: { at: number; not: number | null }
}

/** A leaf by its index, or what groups hold. */
export type NodePlan = number | { hold: 'all' | 'any' | 'none'; of: NodePlan[] }

/** Bounds have an entry for each moment. */
export type LeafPlan =
  /** moving: what it asks of may change from one moment to another */
  | { kind: 'profile'; test: Test | null; moving: boolean }
  | DidPlan
  | { kind: 'sequence'; steps: PickPlan[]; limitMs: number; not: boolean }
  /** the moment asked about lies from `low` up to, not including, `high`; pick null = events of every type */
  | { kind: 'time'; pick: PickPlan | null; last: boolean; low: Float64Array; high: Float64Array }
  /** people by number as bits: one set, or one for each moment */
  | { kind: 'members'; sets: Uint32Array[]; not: boolean }
  /** at any of the inner plan's moments that is at or before the outer one: `upTo` says how many those are */
  | { kind: 'ever'; inner: MembersPlan; upTo: Uint32Array; not: boolean }
  /** what depends on the moment in ways of its own: a leaf for each */
  | { kind: 'each'; leaves: LeafPlan[] }

export interface DidPlan {
  kind: 'did'
  pick: PickPlan
  measure: CountMeasure
  value: { column: ColumnRef; elements: ReadonlyMap<number, readonly number[]> } | null
  test: NumberTest
  /** the window is from `low` up to, not including, `high` */
  low: Float64Array
  high: Float64Array
  /** the window begins with a moment of each person's own; pick null = first seen */
  after: { pick: PickPlan | null; ms: number } | null
}

export interface SegmentContext {
  schema: Schema
  calendar: Calendar
  /** time of the earliest event there is, epoch ms */
  firstMs: number
  /** every saved segment that the rule needs, itself or through others */
  segments: ReadonlyMap<string, SavedSegment>
  /** the members of a frozen list, as bits */
  frozen(id: string): Uint32Array
  /** the people counted in a study's marks as of each moment, as bits; null = not known yet: it is noted as needed */
  counted(condition: StudyCondition, moments: Float64Array): Uint32Array[] | null
}

/** A study whose people are needed as of these moments before the rule can be read. */
export interface StudyNeed {
  condition: StudyCondition
  moments: Float64Array
}

interface Making {
  context: SegmentContext
  moments: Float64Array
  leaves: LeafPlan[]
  faults: Fault[]
  needs: StudyNeed[]
}

/**
 * Plans a rule as of some moments.
 * @param moments epoch ms, ascending, each once
 * @param parts places in the rule of conditions and groups that are to be counted by themselves
 */
export function planMembers(
  rule: Rule,
  moments: Float64Array,
  context: SegmentContext,
  parts: readonly (string | number)[][] = [],
): { plan: MembersPlan; faults: Fault[]; needs: StudyNeed[] } {
  const making: Making = { context, moments, leaves: [], faults: [], needs: [] }
  const nodes = new Map<string, NodePlan>()
  const root = nodeOf(rule, making, [], nodes) ?? EVERYBODY_NODE
  const { firstMs, calendar } = context
  const plan: MembersPlan = {
    ...{ moments, leaves: making.leaves, root, groups: null, listed: { at: moments.length - 1, not: null } },
    alone: parts.map((path) => nodes.get(path.join('.')) ?? EVERYBODY_NODE),
    days: dayTable(Math.min(firstMs, moments[0]), moments[moments.length - 1] + 1, calendar),
  }
  return { plan, faults: making.faults, needs: making.needs }
}

const EVERYBODY_NODE: NodePlan = { hold: 'all', of: [] }

/** @returns null for what says nothing: an empty group, or what is switched off */
function nodeOf(
  rule: Rule,
  making: Making,
  path: (string | number)[],
  nodes: Map<string, NodePlan> | null,
): NodePlan | null {
  let node: NodePlan | null
  if (isGroup(rule)) {
    const of = rule.of.flatMap((inner, index) => nodeOf(inner, making, [...path, 'of', index], nodes) ?? [])
    node = of.length === 0 ? null : of.length === 1 && rule.hold !== 'none' ? of[0] : { hold: rule.hold, of }
  } else node = conditionNode(rule, making, path)
  if (node !== null) nodes?.set(path.join('.'), node)
  return rule.off ? null : node
}

function conditionNode(condition: SegmentCondition, making: Making, path: (string | number)[]): NodePlan {
  if (condition.kind === 'segment') {
    const segment = making.context.segments.get(condition.segment)
    // A live segment's rule stands in its place. What is not there was told of when segments were looked up.
    if (segment && !isFrozen(segment) && condition.since === undefined) {
      const inner = nodeOf(segment.rule, making, path, null) ?? EVERYBODY_NODE
      return condition.not ? { hold: 'none', of: [inner] } : inner
    }
  }
  const leaf = leafOf(condition, making, path)
  return making.leaves.push(leaf) - 1
}

function leafOf(condition: SegmentCondition, making: Making, path: (string | number)[]): LeafPlan {
  const { context, moments } = making
  // A filter that asks for the last days asks as of each moment.
  if (moments.length > 1 && condition.kind !== 'study' && JSON.stringify(condition).includes('"in the last"'))
    return {
      kind: 'each',
      leaves: Array.from(moments, (moment, index) =>
        leafOf(
          condition,
          { ...making, moments: Float64Array.of(moment), faults: index === 0 ? making.faults : [] },
          path,
        ),
      ),
    }
  switch (condition.kind) {
    case 'profile': {
      const compile = compileAt(moments[moments.length - 1], context, making.faults)
      const test = compileFilter(condition.where, compile, [...path, 'where'])
      let moving = false
      eachColumn(test, (column) => (moving ||= isMoving(column)))
      return { kind: 'profile', test, moving }
    }
    case 'did':
      return didLeaf(condition, making, path)
    case 'sequence':
      return sequenceLeaf(condition, making, path)
    case 'time':
      return timeLeaf(condition, making, path)
    case 'study': {
      const sets = context.counted(condition, moments)
      if (!sets) making.needs.push({ condition, moments })
      return { kind: 'members', sets: sets ?? [new Uint32Array(0)], not: condition.not === true }
    }
    case 'segment':
      return memberLeaf(condition, making)
  }
}

function compileAt(now: number, { schema, calendar }: SegmentContext, faults: Fault[]): CompileContext {
  return { schema, calendar, now, faults }
}

function planEvents(pick: EventPick, { context, moments, faults }: Making, path: (string | number)[]): PickPlan {
  return planPick(pick, compileAt(moments[moments.length - 1], context, faults), path)
}

function didLeaf(did: DidCondition, making: Making, path: (string | number)[]): DidPlan {
  const { context, faults } = making
  const { count, window } = did
  const measure = did.not ? 'times' : (count?.measure ?? 'times')
  let value: DidPlan['value'] = null
  if (needsProperty(measure)) {
    const place = [...path, 'count', 'property']
    if (!count?.property) faults.push({ path: place, code: 'no_property', got: measureName(measure) })
    else {
      const found = findProperty(count.property, { schema: context.schema, faults }, place)
      if (found) value = { column: found.column, elements: found.dictionary.elements }
    }
  }
  const test: CountTest['test'] = did.not ? { op: '=', number: 0 } : (count?.test ?? { op: '≥', number: 1 })
  const after = window && 'after' in window ? window : null
  return {
    ...{ kind: 'did', pick: planEvents(did, making, path), measure, value, test: numberTest(test) },
    ...windowBounds(window, making),
    after: after && {
      pick: after.after === 'first seen' ? null : planEvents(after.after, making, [...path, 'window', 'after']),
      ms: after.days * DAY_MS,
    },
  }
}

const DAY_MS = 86_400_000

function measureName(measure: CountMeasure): string {
  return measure === 'values' ? 'number of different values' : measure
}

export function numberTest(compare: NumberCompare): NumberTest {
  switch (compare.op) {
    case '=':
      return { low: compare.number, high: compare.number, outside: false }
    case '≠':
      return { low: compare.number, high: compare.number, outside: true }
    case '<':
      return { low: compare.number, high: Infinity, outside: true }
    case '≤':
      return { low: -Infinity, high: compare.number, outside: false }
    case '>':
      return { low: -Infinity, high: compare.number, outside: true }
    case '≥':
      return { low: compare.number, high: Infinity, outside: false }
    case 'between':
      return { low: Math.min(...compare.numbers), high: Math.max(...compare.numbers), outside: false }
  }
}

/** Where a window begins and ends as of each moment; it never reaches past the moment itself. */
function windowBounds(
  window: DidCondition['window'],
  { moments, context }: Pick<Making, 'moments' | 'context'>,
): { low: Float64Array; high: Float64Array } {
  const { zone } = context.calendar
  const low = new Float64Array(moments.length).fill(-Infinity)
  const high = moments.map((moment) => moment + 1)
  if (!window || 'after' in window) return { low, high }
  if ('from' in window) {
    const from = startOfDay(Temporal.PlainDate.from(window.from), zone)
    const until = startOfDay(Temporal.PlainDate.from(window.to).add({ days: 1 }), zone)
    return { low: low.fill(from), high: high.map((end) => Math.min(end, until)) }
  }
  moments.forEach((moment, index) => {
    const today = dayOf(moment, zone)
    const [near, far] = 'last' in window ? [1, window.last] : window.before
    low[index] = startOfDay(today.subtract({ days: far - 1 }), zone)
    if (near > 1) high[index] = startOfDay(today.subtract({ days: near - 2 }), zone)
  })
  return { low, high }
}

function sequenceLeaf(sequence: SequenceCondition, making: Making, path: (string | number)[]): LeafPlan {
  return {
    kind: 'sequence',
    steps: sequence.steps.map((step, index) => planEvents(step, making, [...path, 'steps', index])),
    limitMs: limitMs(sequence.within),
    not: sequence.not === true,
  }
}

function timeLeaf(condition: TimeCondition, making: Making, path: (string | number)[]): LeafPlan {
  const { asked, when } = condition
  const { moments, context, faults } = making
  const ofEvent = asked === 'first time' || asked === 'last time'
  let pick: PickPlan | null = null
  if (ofEvent) {
    const { event, where } = condition
    if (!event) faults.push({ path: [...path, 'event'], code: 'no_event', got: asked })
    else pick = planEvents(pickOf(event, where), making, path)
    pick ??= { types: new Uint16Array(0), test: null }
  }
  const low = new Float64Array(moments.length).fill(-Infinity)
  const high = new Float64Array(moments.length).fill(Infinity)
  const { zone } = context.calendar
  if ('before' in when) high.fill(startOfDay(Temporal.PlainDate.from(when.before), zone))
  else if ('after' in when) low.fill(startOfDay(Temporal.PlainDate.from(when.after).add({ days: 1 }), zone))
  else moments.forEach((moment, index) => (low[index] = spanOf(when, moment, context.calendar).from))
  return { kind: 'time', pick, last: asked === 'last seen' || asked === 'last time', low, high }
}

function pickOf(event: EventChoice, where: Filter | undefined): EventPick {
  return where ? { event, where } : { event }
}

function memberLeaf({ segment: id, since, not }: MemberCondition, making: Making): LeafPlan {
  const { context, moments } = making
  const segment = context.segments.get(id)
  if (!segment) return { kind: 'members', sets: [new Uint32Array(0)], not: not === true }
  if (isFrozen(segment)) return { kind: 'members', sets: [context.frozen(id)], not: not === true }
  const inner = dayEnds(since!, moments, context.calendar)
  if (inner.length === 0) return { kind: 'members', sets: [new Uint32Array(0)], not: not === true }
  const { plan, faults, needs } = planMembers(segment.rule, inner, context)
  making.needs.push(...needs)
  // Faults inside another segment are told of where it stands.
  making.faults.push(...faults.map((fault) => ({ ...fault, path: [] })))
  return { kind: 'ever', inner: plan, upTo: countUpTo(inner, moments), not: not === true }
}

/**
 * The last milliseconds of the local days from a day on up to the last moment, and the moments themselves, whose own
 * days may not be over yet.
 */
function dayEnds(since: string, moments: Float64Array, { zone }: Calendar): Float64Array {
  const first = Temporal.PlainDate.from(since)
  const start = startOfDay(first, zone)
  const last = moments[moments.length - 1]
  const ends = new Set(moments.filter((moment) => moment >= start))
  for (let day = first.add({ days: 1 }); ; day = day.add({ days: 1 })) {
    const end = startOfDay(day, zone) - 1
    if (end > last) break
    ends.add(end)
  }
  return Float64Array.from(ends).sort()
}

function countUpTo(inner: Float64Array, moments: Float64Array): Uint32Array {
  return Uint32Array.from(moments, (moment) => {
    let many = 0
    while (many < inner.length && inner[many] <= moment) many++
    return many
  })
}
