import { shownSides, sideName, sideRule, sidesKey } from '../core/segments/side.js'
import { asQuestion } from '../core/analyses/asQuestion.js'
import { atOnce } from '../core/steps.js'
import { setBit, sharedBits } from '../core/log/bits.js'
import { makeReady, MadeCache } from '../core/made/columns.js'
import type { Fault } from '../core/questions/faults.js'
import { planMembers, type MembersPlan, type SegmentContext } from '../core/segments/plan.js'
import { isFrozen, resolveSegments, type SavedSegment } from '../core/segments/resolve.js'
import type { Rule } from '../core/segments/rule.js'
import { mergeMembers, scanMembers, selectMembers, type MembersPart } from '../core/segments/scan.js'
import type { SidesRef } from '../core/questions/split.js'
import { sidesColumn, type SidesColumn } from '../core/segments/sides.js'
import { madeBase, NOW, peopleIn, rangesOf, UTC, type Asked, type TestLog } from './eventLog.js'

export interface SegmentAsked extends Asked {
  segments?: readonly SavedSegment[]
  /** by list: its members' names */
  frozen?: Record<string, string[]>
}

/** The faults of the segments that a rule names. */
export function unresolvedIn(rule: Rule, segments: readonly SavedSegment[]): Fault[] {
  return resolveSegments(rule, (id) => segments.find((segment) => segment.id === id)).faults
}

/** Plans a rule over a test's log, with studies in it answered as of each moment. */
export function planOf(
  test: TestLog,
  rule: Rule,
  moments: readonly number[],
  asked: SegmentAsked = {},
  parts: (string | number)[][] = [],
): { plan: MembersPlan; faults: Fault[] } {
  const { calendar = UTC, segments = [], frozen = {} } = asked
  const byId = new Map(segments.map((segment) => [segment.id, segment]))
  const { used } = resolveSegments(rule, (id) => byId.get(id))
  const rules = [...used.values()].flatMap((segment) => (isFrozen(segment) ? [] : [segment.rule]))
  atOnce(makeReady([rule, ...rules], madeBase(test, asked), new MadeCache()))
  const bits = (names: readonly string[]) => {
    const set = sharedBits(test.people.length + 1)
    for (const name of names) setBit(set, test.people.indexOf(name) + 1)
    return set
  }
  const context: SegmentContext = {
    ...{ schema: test.schema, calendar, segments: used },
    firstMs: Math.min(...test.events.map(({ time }) => time)),
    frozen: (id) => bits(frozen[id] ?? []),
    counted: ({ study, marks }, as) =>
      Array.from(as, (now) => bits(peopleIn(test, asQuestion(study), marks, { ...asked, now }))),
  }
  const { plan, faults } = planMembers(rule, Float64Array.from(moments), context, parts)
  return { plan, faults }
}

/** The names of the people for whom a rule holds as of a moment. */
export function membersIn(test: TestLog, rule: Rule, asked: SegmentAsked = {}): string[] {
  const { plan, faults } = planOf(test, rule, [asked.now ?? NOW], asked)
  if (faults.length > 0) throw new Error(JSON.stringify(faults))
  return rangesOf(test, asked)
    .flatMap((range) => [...selectMembers(test.log, range, plan)])
    .map((number) => test.people[number - 1])
}

/** The counts as of several moments, over any cut of the people. */
export function countsOf(test: TestLog, plan: MembersPlan, asked: SegmentAsked = {}): MembersPart {
  return rangesOf(test, asked)
    .map((range) => scanMembers(test.log, range, plan))
    .reduce(mergeMembers)
}

/** Who is in which of the segments side by side, for a question that breaks down by them. */
export function sidesIn(test: TestLog, by: SidesRef, asked: SegmentAsked = {}): Map<string, SidesColumn> {
  const sides = shownSides(by)
  const members = sides.map((side) => bitsOf(test, membersIn(test, sideRule(side), asked)))
  const names = sides.map((side) => sideName(side, (id) => id))
  return new Map([[sidesKey(by), sidesColumn(members, names, test.people.length + 1, by.parts)]])
}

/** People by name as bits, or as a byte each. */
export function bitsOf(test: TestLog, names: readonly string[]): Uint32Array {
  const set = sharedBits(test.people.length + 1)
  for (const name of names) setBit(set, test.people.indexOf(name) + 1)
  return set
}

export function bytesOf(test: TestLog, names: readonly string[]): Uint8Array {
  return Uint8Array.from({ length: test.people.length + 1 }, (_, number) =>
    names.includes(test.people[number - 1]) ? 1 : 0,
  )
}
