import { z } from 'zod'
import type { Fault } from '../questions/faults.js'
import {
  eventChoiceSchema,
  filterSchema,
  pickSchema,
  profileConditionSchema,
  propertySchema,
  timeLimitSchema,
  type Condition,
  type EventChoice,
  type EventPick,
  type Filter,
  type PropertyRef,
  type TimeLimit,
} from '../questions/parts.js'
import { anyMark, anyStudy, type AnyMark, type StudyDefinition } from '../questions/study.js'
import { localDay, units, type Unit } from '../time/range.js'

/**
 * Who is in a segment (how numbers are counted, 11): a tree of conditions, always read as of a moment. The population
 * is everybody with an event at or before that moment, so what somebody did not do is asked of those alone.
 */
export type Rule = RuleGroup | SegmentCondition

/** All of these hold, any of them does, or none. An empty group, or one that is switched off, says nothing. */
export interface RuleGroup {
  hold: 'all' | 'any' | 'none'
  of: Rule[]
  off?: true | undefined
}

export type SegmentCondition =
  ProfileCondition | DidCondition | SequenceCondition | TimeCondition | StudyCondition | MemberCondition

/** Read at the profile's latest value, also of the past. */
export interface ProfileCondition {
  kind: 'profile'
  where: Condition
  off?: true | undefined
}

export interface DidCondition {
  kind: 'did'
  event: EventChoice
  where?: Filter | undefined
  /** did it 0 times */
  not?: true | undefined
  /** left out: at least once */
  count?: CountTest | undefined
  /** left out: ever */
  window?: Window | undefined
  off?: true | undefined
}

export const countMeasures = ['times', 'days', 'weeks', 'values', 'sum', 'average', 'maximum', 'minimum'] as const
/** Days and weeks are distinct ones of the calendar; values are different ones. */
export type CountMeasure = (typeof countMeasures)[number]

const NEEDS_PROPERTY: ReadonlySet<CountMeasure> = new Set(['values', 'sum', 'average', 'maximum', 'minimum'])
export function needsProperty(measure: CountMeasure): boolean {
  return NEEDS_PROPERTY.has(measure)
}

export const comparisons = ['=', '≠', '<', '≤', '>', '≥'] as const

/** What is counted of the events in the window. Of nothing, average, maximum and minimum fulfil no comparison; all else is 0. */
export interface CountTest {
  measure: CountMeasure
  /** of values, sum, average, maximum, minimum */
  property?: PropertyRef | undefined
  test: NumberCompare
}
export type NumberCompare =
  { op: (typeof comparisons)[number]; number: number } | { op: 'between'; numbers: [number, number] }

/**
 * When it happened. The last N days are the N local days that end with the moment's own, which is day 1; days M to N
 * before count the same way, so that *the last 30 days* and *days 31 to 60 before* meet. A window of N days after
 * something is N × 24 h, the end included, and holds later events only; the first event itself belongs to *after first
 * seen*.
 */
export type Window =
  | { last: number }
  | { before: [number, number] }
  | { from: string; to: string }
  | { after: 'first seen'; days: number }
  | { after: EventPick; days: number }

/** Did the first, then the second, …, all within so long of the first; by the funnel's rules. */
export interface SequenceCondition {
  kind: 'sequence'
  steps: EventPick[]
  within: TimeLimit
  not?: true | undefined
  off?: true | undefined
}

export const timesAsked = ['first seen', 'last seen', 'first time', 'last time'] as const
/** First and last seen count events of every type. */
export interface TimeCondition {
  kind: 'time'
  asked: (typeof timesAsked)[number]
  /** of first and last time */
  event?: EventChoice | undefined
  where?: Filter | undefined
  when: { before: string } | { after: string } | { last: number; unit: Unit }
  off?: true | undefined
}

/** Counted in any of a study's marks. */
export interface StudyCondition {
  kind: 'study'
  study: StudyDefinition
  marks: AnyMark[]
  not?: true | undefined
  off?: true | undefined
}

/** In another segment; with `since`, at any time since the start of a day, read at the end of each local day. */
export interface MemberCondition {
  kind: 'segment'
  segment: string
  since?: string | undefined
  not?: true | undefined
  off?: true | undefined
}

const off = z.literal(true).optional()
const not = z.literal(true).optional()
const dayCount = z.int('a whole number of days').min(1, 'at least 1 day').max(3660, 'at most 3,660 days')

const numberCompareSchema: z.ZodType<NumberCompare> = z.union([
  z.strictObject({ op: z.enum(comparisons), number: z.number() }),
  z.strictObject({ op: z.literal('between'), numbers: z.tuple([z.number(), z.number()]) }),
])

const windowSchema: z.ZodType<Window> = z.union([
  z.strictObject({ last: dayCount }),
  z.strictObject({
    before: z
      .tuple([dayCount, dayCount])
      .refine(([near, far]) => near <= far, 'the nearer day comes first, as in “days 31 to 60 before”'),
  }),
  z
    .strictObject({ from: localDay, to: localDay })
    .refine(({ from, to }) => from <= to, 'the first day must not come after the last'),
  z.strictObject({ after: z.literal('first seen'), days: dayCount }),
  z.strictObject({ after: pickSchema, days: dayCount }),
])

const filter = (filterSchema as z.ZodType<Filter>).optional()

export const conditionSchemas = [
  z.strictObject({ kind: z.literal('profile'), where: profileConditionSchema, off }),
  z
    .strictObject({
      kind: z.literal('did'),
      event: eventChoiceSchema,
      where: filter,
      not,
      count: z
        .strictObject({
          measure: z.enum(countMeasures),
          property: propertySchema.optional(),
          test: numberCompareSchema,
        })
        .optional(),
      window: windowSchema.optional(),
      off,
    })
    .refine((did) => !(did.not && did.count), {
      message: 'what somebody did not do is not counted: ask for “at most” instead',
      path: ['count'],
    }),
  z.strictObject({
    kind: z.literal('sequence'),
    steps: z.array(pickSchema).min(2, 'at least two events').max(10, 'at most ten events'),
    within: timeLimitSchema,
    not,
    off,
  }),
  z.strictObject({
    kind: z.literal('time'),
    asked: z.enum(timesAsked),
    event: eventChoiceSchema.optional(),
    where: filter,
    when: z.union([
      z.strictObject({ before: localDay }),
      z.strictObject({ after: localDay }),
      z.strictObject({ last: z.int().min(1).max(1000), unit: z.enum(units) }),
    ]),
    off,
  }),
  z.strictObject({
    kind: z.literal('study'),
    study: anyStudy,
    marks: z.array(anyMark).min(1, 'at least one mark').max(500),
    not,
    off,
  }),
  z.strictObject({
    kind: z.literal('segment'),
    segment: z.string().min(1).max(40),
    since: localDay.optional(),
    not,
    off,
  }),
] as const

/** So many conditions and groups stand in one group at most, and so deep groups stand in groups. */
export const MOST_IN_GROUP = 50
export const MOST_GROUPS_DEEP = 5

const groupSchema: z.ZodType<RuleGroup> = z.strictObject({
  hold: z.enum(['all', 'any', 'none']),
  of: z.lazy(() => z.array(ruleSchema).max(MOST_IN_GROUP)),
  off,
})

export const ruleSchema: z.ZodType<Rule> = z.lazy(() => z.union([groupSchema, ...conditionSchemas]))

export function isGroup(rule: Rule): rule is RuleGroup {
  return 'hold' in rule
}

/** The rule as a group, so that conditions can be added beside it. */
export function asGroup(rule: Rule): RuleGroup {
  return isGroup(rule) ? rule : { hold: 'all', of: [rule] }
}

/** How deep groups stand in groups: 1 for a group of conditions. */
export function depthOfGroups(rule: Rule): number {
  return isGroup(rule) ? 1 + Math.max(0, ...rule.of.map(depthOfGroups)) : 0
}

/** Everybody there is. */
export const EVERYBODY: RuleGroup = { hold: 'all', of: [] }

/** Reads a rule, keeping what is right in it: a condition that cannot be read is left out and told of, with its place. */
export function parseRule(input: unknown): { rule: RuleGroup; faults: Fault[] } {
  const faults: Fault[] = []
  const read = (node: unknown, path: (string | number)[], depth: number): Rule | null => {
    const each = node as Record<string, unknown> | null
    if (typeof each === 'object' && each !== null && 'hold' in each && Array.isArray(each.of)) {
      if (depth >= MOST_GROUPS_DEEP) {
        faults.push({ path, code: 'invalid', want: `groups stand at most ${MOST_GROUPS_DEEP} deep` })
        return null
      }
      const known = ['all', 'any', 'none'].includes(each.hold as string)
      const hold = known ? (each.hold as RuleGroup['hold']) : 'all'
      if (!known) faults.push({ path: [...path, 'hold'], code: 'invalid', want: 'all, any or none of its conditions' })
      if (each.of.length > MOST_IN_GROUP)
        faults.push({ path: [...path, 'of'], code: 'invalid', want: `at most ${MOST_IN_GROUP} conditions in a group` })
      for (const key of Object.keys(each))
        if (!['hold', 'of', 'off'].includes(key) || (key === 'off' && each.off !== true))
          faults.push({ path: [...path, key], code: 'invalid', got: key, want: 'this setting is not known' })
      const of = each.of
        .slice(0, MOST_IN_GROUP)
        .flatMap((inner, index) => read(inner, [...path, 'of', index], depth + 1) ?? [])
      return { hold, of, ...(each.off === true ? { off: true as const } : {}) }
    }
    const schema = conditionSchemas.find(({ shape }) => shape.kind.safeParse(each?.kind).success)
    if (!schema) {
      faults.push({ path, code: 'invalid', want: 'not a condition that is known' })
      return null
    }
    const parsed = schema.safeParse(each)
    if (parsed.success) return parsed.data as SegmentCondition
    const issue = parsed.error.issues[0]
    faults.push({ path: [...path, ...issue.path.map(String)], code: 'invalid', want: issue.message })
    return null
  }
  if (typeof input !== 'object' || input === null)
    return { rule: EVERYBODY, faults: [{ path: [], code: 'unreadable', want: 'it is not a rule' }] }
  const rule = read(input, [], 0)
  return { rule: rule ? asGroup(rule) : EVERYBODY, faults }
}

/** Every condition of a rule with its place, groups opened, those switched off included. */
export function conditionsIn(
  rule: Rule,
  path: (string | number)[] = [],
): { condition: SegmentCondition; path: (string | number)[] }[] {
  if (!isGroup(rule)) return [{ condition: rule, path }]
  return rule.of.flatMap((inner, index) => conditionsIn(inner, [...path, 'of', index]))
}
