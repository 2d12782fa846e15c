import type { TimeLimit } from '../questions/limits.js'
import type { Condition, EventChoice, EventPick, Filter, PropertyRef } from '../questions/parts.js'
import type { AnyMark, StudyDefinition } from '../questions/study.js'
import type { Unit } from '../time/range.js'

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

/** So many conditions and groups stand in one group at most, and so deep groups stand in groups. */
export const MOST_IN_GROUP = 50
export const MOST_GROUPS_DEEP = 5

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

/** Every condition of a rule with its place, groups opened, those switched off included. */
export function conditionsIn(
  rule: Rule,
  path: (string | number)[] = [],
): { condition: SegmentCondition; path: (string | number)[] }[] {
  if (!isGroup(rule)) return [{ condition: rule, path }]
  return rule.of.flatMap((inner, index) => conditionsIn(inner, [...path, 'of', index]))
}
