import { analysisOf, type AnalysisKind } from './analyses/registry.js'
import type { EventLog, PersonRange } from './log/log.js'
import type { AnyMark } from './questions/study.js'
import { mergeMembers, scanMembers, selectMembers, type MembersPart } from './segments/scan.js'
import type { MembersPlan } from './segments/plan.js'

/** What threads scan people for: a kind of study, or who is in a segment. */
export type ScanKind = AnalysisKind | 'members'

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

export function scannerOf(kind: ScanKind): Scanner {
  return kind === 'members' ? members : analysisOf(kind)
}
