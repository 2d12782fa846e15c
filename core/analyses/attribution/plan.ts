import { columnOf } from '../../filters/bind.js'
import { compileFilter, findProperty, type ColumnRef, type CompileContext, type Test } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import {
  nextGrouped,
  planGrouped,
  refuseEventGroups,
  type FoundGroups,
  type GroupedPlan,
  type GroupPass,
} from '../../groups/grouped.js'
import { keepSplit, planSplit, type SplitPlan } from '../../groups/split.js'
import type { EventLog } from '../../log/log.js'
import type { Fault } from '../../questions/faults.js'
import { groupId, wantedGroup } from '../../questions/groupId.js'
import type { Filter, GroupKey, PropertyRef, ValueKey } from '../../questions/parts.js'
import { planCuts, type CutPlan } from '../../sessions/cuts.js'
import type { Pieces } from '../../stats/pieces.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Bucket, type Grid } from '../../time/buckets.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import type { TouchKey } from './marks.js'
import { leadOf, MOST_VALUES, USUAL_HALF_LIFE, type AttributionQuestion, type Model } from './question.js'

const DAY = 86_400_000

export interface AttributionPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups and the values that touches have; count = counts the kept ones */
  pass: GroupPass
  goals: PickPlan[]
  first: boolean
  /** where the number that a conversion is worth stands; null = it is worth 1 */
  worth: ColumnRef | null
  /** only the first conversion of a person is worth anything */
  people: boolean
  /** every value there may be is told apart: nothing had to be ranked, unless some turn up that have no name */
  guess: boolean
  /** which events are touches, where their values say so */
  touches: PickPlan
  /** whether there is a value to tell them apart by; null = there always is */
  has: Test | null
  /** what touches are told apart by; null = by their event */
  values: SplitPlan | null
  /** told apart by event: the value of each type, −1 = none that is kept */
  valueOfType: Int16Array | null
  /** by event type: what it counts as, after merging */
  names: string[]
  /** the kept values in order, then the rest, if there is any */
  keyed: TouchKey[]
  /** how many values the rest stands for */
  restValues: number
  /** by value: it is direct */
  direct: Uint8Array
  /** so far back, ms; or by sessions */
  backMs: number
  backSessions: number
  cutsPlan: CutPlan
  halfLifeMs: number
  /** the model that lists of conversions are shared by, where their marks name none */
  lead: Model
  from: number
  until: number
  now: number
  buckets: Bucket[]
  grid: Grid
  /** what is worked out from all paths at once: also of those who did not convert */
  removal: boolean
  shapley: boolean
  /** whole paths are told apart */
  ways: boolean
  among: Uint8Array | null
}

/** Of the first passes: what is found of groups and of values. */
export type AttributionPart =
  | { pass: 'cuts'; groups: FoundGroups }
  | { pass: 'rank'; groups: FoundGroups | null; values: FoundGroups }
  | {
      pass: 'count'
      goals: GoalTally[]
      example: ExamplePath | null
      /** touches of a value that is not told apart, where all should be */
      missed: number
    }

/** A real path, to show how models share. */
export interface ExamplePath {
  values: number[]
  /** ms before the conversion */
  ages: number[]
  goal: number
}

/** What is counted of one conversion asked about. Joins by adding, in order of people. */
export interface GoalTally {
  /** by FIGURES × (side × values + value) + figure; sides are the groups, all together, then the buckets; in parts of PARTS */
  credit: Float64Array
  /** by SIDE × side + figure */
  sides: Float64Array
  /** by touches before a conversion, 0 to MOST_TOLD and more: conversions */
  touches: Float64Array
  /** ms from the first touch to the conversion */
  firstAges: Pieces
  /** conversions that carry what touches are told apart by, and are the last touch before themselves */
  self: number
  /** by value: of people who more often begin a way with it than close one, or less often, how many and that difference squared */
  leaning: Float64Array
  /** steps from state to state by (from × states + to): the start, each value, converted, not */
  chain: Float64Array
  /** by step: how often it was taken, by group of people */
  draws: Map<number, Float64Array>
  /** by the set of values that a person touched, as bits: people, and those who converted */
  sets: Map<number, [people: number, converted: number]>
  /** by whole path: conversions, what they are worth, people who converted, people who did not */
  ways: Map<string, [conversions: number, worth: number, people: number, others: number]>
}

/** Credit is told in whole parts of a conversion, so that it adds up to it exactly, in any order. */
export const PARTS = 2 ** 30
export const SIDE = ['conversions', 'worth', 'people', 'noneConversions', 'none', 'nonePeople'] as const

/** Start, every value, converted, not converted. */
export const statesOf = ({ keyed }: Pick<AttributionPlan, 'keyed'>) => keyed.length + 3

export function planAttribution(
  question: AttributionQuestion,
  context: QueryContext,
  faults: Fault[],
): AttributionPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, schema } = context
  const { lookBack, worth, breakdowns, show, models, every } = question
  const span = spanOf(question.range, now, calendar)
  const { from, until } = span
  const many = every ? countBuckets(span, every) : 0
  if (many > MOST_BUCKETS)
    faults.push({ path: ['every'], code: 'too_many_buckets', got: String(many), want: String(MOST_BUCKETS) })
  const buckets = every && many <= MOST_BUCKETS ? bucketsOf(span, every, now, calendar) : []
  refuseEventGroups(breakdowns, 'who is brought', faults)
  const grouped = planGrouped(breakdowns, compile, from)
  const sum = typeof worth === 'object' ? findProperty(worth.sum, compile, ['worth', 'sum']) : null
  const plan: AttributionPlan = {
    ...grouped,
    pass: grouped.pass === 'cuts' ? 'cuts' : 'rank',
    guess: false,
    goals: question.goals.map((goal, index) => planPick(goal, compile, ['goals', index])),
    first: question.first === true,
    worth: sum?.column ?? null,
    people: worth === 'people',
    ...planTouches(question, compile),
    values: valuesOf(question, { ...compile, faults: [] }, from),
    valueOfType: null,
    names: schema.types.map(({ name }) => schema.currentName(name)),
    ...{ keyed: [], restValues: 0, direct: new Uint8Array(0) },
    backMs: lookBack.unit === 'day' ? lookBack.count * DAY : Infinity,
    backSessions: lookBack.unit === 'session' ? lookBack.count : 0,
    cutsPlan: planCuts(calendar.sessions, schema),
    halfLifeMs: (question.halfLife ?? USUAL_HALF_LIFE) * DAY,
    lead: leadOf(question),
    ...{ from, until, now, buckets, grid: gridOf(span, buckets) },
    removal: models.includes('removal'),
    shapley: models.includes('shapley'),
    ways: show.form === 'touches',
    among: context.among,
  }
  return grouped.pass === 'count' && faults.length === 0 ? guessed(plan, question, context) : plan
}

/** Of few values all are kept, which saves looking for the commonest: numbers and dates, which have no code, are not known before. */
function guessed(plan: AttributionPlan, question: AttributionQuestion, context: QueryContext): AttributionPlan {
  const { by } = question
  const found = by.of === 'event name' ? null : findProperty(by, { ...context, faults: [] }, [])
  const ids = found
    ? found.dictionary.values.flatMap((value, code) => (value === null || Array.isArray(value) ? [] : [String(code)]))
    : [...new Set(plan.names)]
  if (ids.length === 0 || ids.length > MOST_VALUES) return plan
  const values = { pass: 'rank' as const, ids, counts: new Float64Array(ids.length).fill(1) }
  return { ...plan, pass: 'count', guess: true, ...keptValues(values, plan, question, context) }
}

/** Whether a question asks for anything of those who did not convert. */
export const asksOthers = ({ removal, shapley, ways }: AttributionPlan) => removal || shapley || ways

const valuesOf = ({ by }: AttributionQuestion, compile: CompileContext, from: number) =>
  by.of === 'event name' ? null : planSplit([touchSplit(by)], compile, from, [])

/** What touches are told apart by, as breakdowns are. */
const touchSplit = (by: PropertyRef) => ({ by, keep: MOST_VALUES, hideNone: true as const, order: 'size' as const })

/** Events that carry the property, that some row of channel rules caught, and that are not left out. */
function planTouches(
  { by, touches, leftOut }: AttributionQuestion,
  compile: CompileContext,
): Pick<AttributionPlan, 'touches' | 'has'> {
  const own = touches
    ? planPick(touches, compile, ['touches'])
    : { types: Uint16Array.from(compile.schema.types, (_, type) => type), test: null }
  if (by.of === 'event name') {
    const out = new Set<unknown>(leftOut?.flatMap((key) => ('value' in key ? [key.value] : [])))
    const { schema } = compile
    const types = own.types.filter((type) => !out.has(schema.currentName(schema.types[type].name)))
    return { touches: { ...own, types }, has: null }
  }
  const rows = by.of === 'source' ? null : compile.schema.channelRows(by.of, by.name)
  const has = compileFilter({ property: by, op: 'has a value' }, compile, ['by'])
  const more = [
    // Of an unknown property one fault is enough, and its values are not looked at.
    has?.kind === 'never' ? null : compileFilter(leavingOut(by, leftOut), compile, ['leftOut']),
    rows && compileFilter({ any: rows.map(({ where }) => where) }, { ...compile, faults: [] }, []),
  ]
  const tests = [own.test, ...more].filter((test) => test !== null)
  const test: Test | null = tests.length < 2 ? (tests[0] ?? null) : { kind: 'all', tests }
  return { touches: { types: own.types, test }, has: has?.kind === 'always' ? null : has }
}

function leavingOut(property: PropertyRef, leftOut: readonly ValueKey[] | undefined): Filter | undefined {
  if (!leftOut?.length) return undefined
  const values = leftOut.flatMap((key) => ('value' in key ? [key.value] : []))
  const texts = values.filter((value) => typeof value === 'string')
  return {
    all: [
      ...(texts.length > 0 ? [{ property, op: 'is not' as const, values: texts }] : []),
      ...values.flatMap((value): Filter[] => {
        if (typeof value === 'number') return [{ property, op: '≠', number: value }]
        if (typeof value !== 'boolean') return []
        return [
          {
            any: [
              { property, op: value ? 'is false' : 'is true' },
              { property, op: 'has no value' },
            ],
          },
        ]
      }),
    ],
  }
}

export function nextAttribution(
  part: AttributionPart,
  plan: AttributionPlan,
  question: AttributionQuestion,
  context: QueryContext,
): AttributionPlan | null {
  if (part.pass === 'count')
    // What has no code turned up: the commonest have to be looked for after all.
    return plan.guess && part.missed > 0
      ? { ...plan, pass: 'rank', guess: false, values: valuesOf(question, { ...context, faults: [] }, plan.from) }
      : null
  if (part.pass === 'cuts') return { ...plan, ...nextGrouped(part.groups, plan, question.breakdowns!, context) }
  const groups = part.groups ? nextGrouped(part.groups, plan, question.breakdowns!, context) : {}
  return { ...plan, ...groups, pass: 'count', ...keptValues(part.values, plan, question, context) }
}

/** The values that are told apart: the largest, and those that the question names. */
function keptValues(
  found: FoundGroups,
  plan: AttributionPlan,
  { by, direct = [] }: AttributionQuestion,
  context: QueryContext,
): Pick<AttributionPlan, 'values' | 'valueOfType' | 'keyed' | 'restValues' | 'direct'> {
  if (found.pass !== 'rank') throw new RangeError('the values were not ranked')
  const ranked = found.ids.flatMap((id, at) => (found.counts[at] > 0 ? [{ id, rank: found.counts[at] }] : []))
  const isDirect = new Set(direct.map(groupId))
  const directOf = (keys: readonly GroupKey[]) => Uint8Array.from(keys, (key) => (isDirect.has(groupId(key)) ? 1 : 0))
  if (by.of === 'event name') {
    const names = ranked.sort((a, b) => b.rank - a.rank || (a.id < b.id ? -1 : 1)).slice(0, MOST_VALUES)
    const keyed: TouchKey[] = names.map(({ id }) => ({ value: id }))
    const rest = ranked.length - names.length
    if (rest > 0) keyed.push({ rest: true })
    const placeOf = new Map(names.map(({ id }, place) => [id, place]))
    const valueOfType = Int16Array.from(plan.names, (name) => placeOf.get(name) ?? (rest > 0 ? names.length : -1))
    return { values: null, valueOfType, keyed, restValues: rest, direct: directOf(keyed) }
  }
  const wanted = new Set([...(context.wanted ?? []), ...direct.map(wantedGroup)])
  const { plan: values, keys, rest } = keepSplit(plan.values!, [touchSplit(by)], ranked, { ...context, wanted })
  return { values, valueOfType: null, keyed: keys as TouchKey[], restValues: rest, direct: directOf(keys) }
}

/** Whether a test can hold at all of events of a type: without the property that it asks for it cannot. */
export function canHold(test: Test | null, log: EventLog, type: number): boolean {
  if (!test) return true
  switch (test.kind) {
    case 'always':
      return true
    case 'never':
      return false
    case 'all':
      return test.tests.every((each) => canHold(each, log, type))
    case 'any':
      return test.tests.some((each) => canHold(each, log, type))
    case 'value':
      return test.column.of === 'source' || columnOf(test.column, log, type) !== undefined || test.ofCode[0] === 1
  }
}
