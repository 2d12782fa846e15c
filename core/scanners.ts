import { analysisOf, type AnalysisKind } from './analyses/registry.js'
import type { EventLog, PersonRange } from './log/log.js'
import type { AnyMark } from './questions/study.js'
import type { Pieces } from './stats/pieces.js'
import { mergeMembers, scanMembers, selectMembers, type MembersPart } from './segments/scan.js'
import type { MembersPlan } from './segments/plan.js'

/** What threads scan people for: a kind of study, who is in a segment, or the sessions or conversions themselves that are counted. */
export type ScanKind = AnalysisKind | 'members' | 'list'

/** The part of an analysis that runs over ranges of people, with its types forgotten. */
export interface Scanner {
  scan(log: EventLog, people: PersonRange, plan: unknown): unknown
  merge(a: unknown, b: unknown): unknown
  anyOrder?: true
  select(log: EventLog, people: PersonRange, plan: unknown, marks: readonly AnyMark[]): Uint32Array
}

const members: Scanner = {
  scan: (log, people, plan) => scanMembers(log, people, plan as MembersPlan),
  merge: (a, b) => mergeMembers(a as MembersPart, b as MembersPart),
  select: (log, people, plan) => selectMembers(log, people, plan as MembersPlan),
}

/** The plan of a study, and which of what it counts is listed. */
export interface ListedPlan {
  kind: AnalysisKind
  plan: unknown
  marks: readonly AnyMark[]
}

/** In order of people, so that the same question lists them in the same order. */
const list: Scanner = {
  scan(log, people, asked) {
    const { kind, plan, marks } = asked as ListedPlan
    return analysisOf(kind).listed?.(log, people, plan, marks) ?? []
  },
  merge(a, b) {
    ;(a as Pieces).push(...(b as Pieces))
    return a
  },
  select: () => new Uint32Array(0),
}

export function scannerOf(kind: ScanKind): Scanner {
  if (kind === 'list') return list
  return kind === 'members' ? members : analysisOf(kind)
}
