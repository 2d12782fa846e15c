import type { Range } from '../../core/time/range.js'
import { inTurns } from './turns.js'
import { Temporal } from 'temporal-polyfill'
import type { PeopleRef } from '../../core/analyses/people.js'
import { operatorsFor } from '../../core/filters/operators.js'
import type { ValueKind } from '../../core/log/values.js'
import type { Fault } from '../../core/questions/faults.js'
import type { Condition, GroupKey, PropertyRef } from '../../core/questions/parts.js'
import { composition, largestGroups, mostApart, type Apart, type Composition } from '../../core/segments/composition.js'
import type { LeafPlan, MembersPlan } from '../../core/segments/plan.js'
import { isFrozen, resolveSegments } from '../../core/segments/resolve.js'
import { conditionsIn, isGroup, type Rule } from '../../core/segments/rule.js'
import { lastChange, whyMember, type Why } from '../../core/segments/why.js'
import { bucketsOf, MOST_BUCKETS, type Bucket } from '../../core/time/buckets.js'
import { dayOf, startOfDay, type Unit } from '../../core/time/range.js'
import { countMembers, makeColumns, peopleBits, planRule, readPeople, type QueryBase } from './query.js'

/** What pages ask of segments. `own` is the saved segment whose rule it is: a rule must not need itself. */
export type SegmentRequest =
  | { kind: 'segment count'; rule: Rule; own?: string }
  | { kind: 'segment size'; rule: Rule; every: SizeUnit; split?: PropertyRef | null; own?: string }
  | { kind: 'segment why'; rule: Rule; person: number; own?: string }
  /** beside everybody else, or beside others */
  | { kind: 'composition'; ref: PeopleRef; beside: PeopleRef | null; property: PropertyRef | null }
  | { kind: 'freeze'; ref: PeopleRef }
  /** whether both mean the very same people now */
  | { kind: 'same people'; a: PeopleRef; b: PeopleRef }

export type SizeUnit = Extract<Unit, 'day' | 'week' | 'month'>
type Faulty = { faults: Fault[] }

export interface SegmentCount {
  members: number
  everyone: number
  /** by condition and group of the rule, with its place: how many it holds for by itself */
  parts: { path: (string | number)[]; people: number }[]
  /** between the end of the day a week ago and now */
  week: { since: number; in: number; out: number }
  firstMs: number | null
  now: number
}

export interface SegmentSize {
  every: SizeUnit
  /** `at` is the moment the size is as of, epoch ms */
  points: { key: string; at: number; open: boolean; members: number; everyone: number }[]
  /** the groups of a profile property, by size now, and everything else */
  groups: { key: GroupKey; members: number[] }[]
  rest: number
}

export interface SegmentWhy extends Why {
  /** null = never a change, or not told: where a study's result is part of the rule, days are not gone through */
  change: { came: 'in' | 'out'; at: number } | null
  told: boolean
  now: number
}

export interface SegmentComposition {
  of: Composition | null
  more: Apart[]
  less: Apart[]
}

/** Properties with more different values than this say little when compared value by value. */
const MOST_VALUES = 60
const MOST_SIZE_GROUPS = 6

export async function answerSegment(
  request: SegmentRequest,
  base: QueryBase,
  kindOf: (property: PropertyRef) => ReadonlySet<ValueKind> | null,
): Promise<unknown> {
  switch (request.kind) {
    case 'segment count':
      return countSegment(request, base, kindOf)
    case 'segment size':
      return sizeOverTime(request, base)
    case 'segment why':
      return why(request, base)
    case 'composition':
      return compose(request, base)
    case 'freeze':
      return readPeople(request.ref, base)
    case 'same people':
      return samePeople(request.a, request.b, base)
  }
}

/** What cannot be read is the same as nothing. */
async function samePeople(a: PeopleRef, b: PeopleRef, base: QueryBase): Promise<boolean> {
  const [x, y] = [await readPeople(a, base), await readPeople(b, base)]
  if ('faults' in x || 'faults' in y || x.length !== y.length) return false
  return x.every((person, index) => person === y[index])
}

/** Conditions and groups of a rule with their places, those switched off included. */
function partsOf(rule: Rule): (string | number)[][] {
  const groups: (string | number)[][] = []
  const walk = (node: Rule, path: (string | number)[]) => {
    if (!isGroup(node)) return
    if (path.length > 0 && node.of.length > 0) groups.push(path)
    node.of.forEach((inner, index) => walk(inner, [...path, 'of', index]))
  }
  walk(rule, [])
  return [...conditionsIn(rule).map(({ path }) => path), ...groups]
}

async function countSegment(
  { rule, own }: Extract<SegmentRequest, { kind: 'segment count' }>,
  base: QueryBase,
  kindOf: (property: PropertyRef) => ReadonlySet<ValueKind> | null,
): Promise<SegmentCount | Faulty> {
  const { now, snapshot, calendar } = base
  const mismatched = wrongOperators(rule, kindOf)
  if (mismatched.length > 0) return { faults: mismatched }
  const since = startOfDay(dayOf(now, calendar.zone).subtract({ days: 6 }), calendar.zone) - 1
  const places = partsOf(rule)
  const planned = await planRule(rule, Float64Array.of(since, now), base, places, own)
  if ('faults' in planned) return planned
  const part = await countMembers({ ...planned.plan, listed: { at: 1, not: 0 } }, base)
  return {
    members: part.members[1]!,
    everyone: part.everyone[1]!,
    parts: places.map((path, index) => ({ path, people: part.alone[index * 2 + 1]! })),
    week: { since, in: part.came[0]!, out: part.came[1]! },
    firstMs: snapshot.oldestMs,
    now,
  }
}

/** Conditions that compare a property in a way that goes with no value it ever had: they would hold for nobody, silently. */
function wrongOperators(rule: Rule, kindOf: (property: PropertyRef) => ReadonlySet<ValueKind> | null): Fault[] {
  const faults: Fault[] = []
  const walk = (node: unknown, path: (string | number)[]) => {
    if (typeof node !== 'object' || node === null) return
    const { property, op } = node as Partial<Condition>
    const kinds = property && op ? kindOf(property) : null
    if (kinds && kinds.size > 0 && ![...kinds].some((kind) => operatorsFor(kind).includes(op!)))
      faults.push({ path, code: 'wrong_operator', got: op!, want: `it holds ${[...kinds].join(' and ')}` })
    // A study inside has its own page to be put right on.
    if ('study' in node) return
    for (const [key, value] of Object.entries(node)) walk(value, [...path, Array.isArray(node) ? Number(key) : key])
  }
  walk(rule, [])
  return faults
}

async function sizeOverTime(
  { rule, every, split, own }: Extract<SegmentRequest, { kind: 'segment size' }>,
  base: QueryBase,
): Promise<SegmentSize | Faulty> {
  const { now } = base
  const buckets = sizeBuckets(base, every)
  const points = buckets.map(({ key, end, open }) => ({ key, open, at: open ? now : end - 1 }))
  if (points.length === 0) return { every, points: [], groups: [], rest: 0 }
  const planned = await planRule(
    rule,
    Float64Array.from(points, ({ at }) => at),
    base,
    [],
    own,
  )
  if ('faults' in planned) return planned
  const many = points.length
  const grouped = split ? await groupedBy(split, rule, base) : null
  if (grouped && 'faults' in grouped) return grouped
  const plan: MembersPlan = { ...planned.plan, groups: grouped?.plan ?? null }
  const part = await countMembers(plan, base)
  const groups = grouped?.keys ?? []
  const all = plan.groups?.count ?? 0
  return {
    every,
    points: points.map((point, index) => ({
      ...point,
      members: part.members[all * many + index]!,
      everyone: part.everyone[index]!,
    })),
    groups: groups.map((key, index) => ({
      key,
      members: [...part.members.subarray(index * many, (index + 1) * many)],
    })),
    rest: grouped?.rest ?? 0,
  }
}

/** The calendar's days, weeks or months from the first event to now, the newest where there are too many to read. */
function sizeBuckets({ snapshot, calendar, now }: QueryBase, every: SizeUnit): Bucket[] {
  if (snapshot.oldestMs === null || snapshot.oldestMs > now) return []
  const first = dayOf(snapshot.oldestMs, calendar.zone)
  const from = every === 'day' ? later(first, dayOf(now, calendar.zone).subtract({ days: MOST_DAYS - 1 })) : first
  const range: Range = { from: from.toString() }
  const span = {
    from: startOfDay(Temporal.PlainDate.from(range.from), calendar.zone),
    until: now + 1,
    firstDay: from.toString(),
    lastDay: dayOf(now, calendar.zone).toString(),
  }
  return bucketsOf(span, every, now, calendar).slice(-MOST_BUCKETS)
}
const MOST_DAYS = 400

function later(a: Temporal.PlainDate, b: Temporal.PlainDate): Temporal.PlainDate {
  return Temporal.PlainDate.compare(a, b) > 0 ? a : b
}

/** The commonest values of a profile property among the members now, and how they are found. */
async function groupedBy(split: PropertyRef, rule: Rule, base: QueryBase) {
  const { snapshot, calendar, now } = base
  const schema = snapshot.schema.asMade()
  const bits = await peopleBits({ rule }, base)
  if ('faults' in bits) return bits
  await makeColumns(split, base)
  const steps = largestGroups(snapshot.logs, bits, split, MOST_SIZE_GROUPS, { schema, calendar, now })
  return inTurns(steps, () => base.note('largest groups'))
}

async function why(
  { rule, person, own }: Extract<SegmentRequest, { kind: 'segment why' }>,
  base: QueryBase,
): Promise<SegmentWhy | Faulty | null> {
  const { snapshot, now, calendar } = base
  const place = placeOf(snapshot, person)
  if (!place) return null
  const { log, index } = place
  const paths = conditionsIn(rule).map(({ path }) => path)
  const planned = await planRule(rule, Float64Array.of(now), base, paths, own)
  if ('faults' in planned) return planned
  const { plan } = planned
  const leaves = plan.alone.map((node): LeafPlan | null => (typeof node === 'number' ? plan.leaves[node]! : null))
  const told = !holdsStudy(rule, base)
  let change: SegmentWhy['change'] = null
  if (told && log.time[log.offsets[index]!]! <= now) {
    const daily = await planRule(rule, dayEnds(log.time[log.offsets[index]!]!, now, calendar.zone), base, [], own)
    if (!('faults' in daily)) change = lastChange(daily.plan, log, index)
  }
  return { ...whyMember(plan, paths, leaves, log, index), change, told, now }
}

/** Whether a study's result is part of a rule, itself or through another segment: asking it for each day takes too long. */
function holdsStudy(rule: Rule, { segments }: QueryBase): boolean {
  const { used } = resolveSegments(rule, segments.get, segments.nameOf)
  const rules = [rule, ...[...used.values()].flatMap((segment) => (isFrozen(segment) ? [] : [segment.rule]))]
  return rules.some((each) => conditionsIn(each).some(({ condition }) => condition.kind === 'study'))
}

/** The last milliseconds of the local days from the one of a moment to now, and now. */
function dayEnds(from: number, now: number, zone: string): Float64Array {
  const ends: number[] = []
  for (let day = dayOf(from, zone); ; day = day.add({ days: 1 })) {
    const end = startOfDay(day.add({ days: 1 }), zone) - 1
    if (end >= now) break
    ends.push(end)
  }
  return Float64Array.from([...ends, now])
}

function placeOf({ logs }: QueryBase['snapshot'], person: number) {
  for (const log of logs) {
    const index = log.person.indexOf(person)
    if (index >= 0 && log.hidden?.[index] !== 1) return { log, index }
  }
  return null
}

async function compose(
  { ref, beside, property }: Extract<SegmentRequest, { kind: 'composition' }>,
  base: QueryBase,
): Promise<SegmentComposition | Faulty> {
  const { snapshot, calendar, now } = base
  const schema = snapshot.schema.asMade()
  const bits = await peopleBits(ref, base)
  if ('faults' in bits) return bits
  const others = beside && (await peopleBits(beside, base))
  if (others && 'faults' in others) return others
  const context = { schema, calendar, now }
  const of = async (each: PropertyRef) => {
    await makeColumns(each, base)
    return inTurns(composition(snapshot.logs, bits, each, context, others), () => base.note('composition'))
  }
  const all: Composition[] = []
  for (const { name, dictionary, dated } of schema.profile) {
    // Ids, names and dates tell people apart, and not segments.
    if (dictionary.size <= 1 || dictionary.size > MOST_VALUES || dated) continue
    const found = await of({ of: 'person', name })
    if (found) all.push(found)
  }
  return { of: property && (await of(property)), ...mostApart(all, 5) }
}
