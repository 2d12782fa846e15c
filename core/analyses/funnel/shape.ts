import type { CodedValue } from '../../log/dictionary.js'
import type { ColumnRef, Test } from '../../filters/compile.js'
import type { GroupedPlan, GroupPass } from '../../groups/grouped.js'
import type { CutPlan } from '../../sessions/cuts.js'
import type { Bucket, Grid } from '../../time/buckets.js'
import type { Unit } from '../../time/range.js'
import type { EntryTest } from './question.js'

/** What a funnel is counted by: names as codes, filters as tables. */

export interface StepPlan {
  types: Uint16Array
  test: Test | null
  optional: boolean
  entry: EntryPlan[]
}

export interface EntryPlan {
  column: ColumnRef
  op: EntryTest['op']
  entry: ColumnRef
  /** by code of the entry's value: the code of the same value of the own property; 0 = it never occurs there */
  entryCodes: Uint32Array
}

export interface Rules {
  order: 'one after another' | 'back to back' | 'any order'
  attempts: boolean
  first: boolean
  same: ColumnRef | null
  /** `after` = place of the step; −1 = any */
  forbidden: { types: Uint16Array; test: Test | null; after: number }[]
  /** by event type */
  passive: Uint8Array
}

export interface FunnelPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by who enters; count = counts the kept ones; jump = looks into one */
  pass: GroupPass | 'jump'
  steps: StepPlan[]
  /** places of the steps that must be filled */
  required: number[]
  rules: Rules
  windowMs: number
  /** the time asked about, then the one it is compared with: entries lie in [from, until); later steps up to now */
  spans: { from: number; until: number }[]
  now: number
  among: Uint8Array | null
  /** the step at which what is of an event is read for the groups */
  readAt: number
  /** the last of the keys holds those who did not get there */
  unreached: boolean
  /** when attempts began, in the time asked about */
  grid: Grid
  buckets: Bucket[]
  every: Unit
  /** each group is counted over time as well */
  groupsOverTime: boolean
  /** the two steps whose distance in time is gathered */
  between: [number, number] | null
  repeats: boolean
  look: LookPlan | null
  jump: JumpPlan | null
}

/** What is asked beside the steps' numbers: what the lost did, what goes with getting through, what lies between. */
export type LookPlan = Events &
  (
    | { form: 'after'; step: number; withinMs: number | null; sessions: CutPlan }
    | { form: 'apart'; columns: ValuesOfType[] }
    | { form: 'between' }
  )

export type LookAs<Form extends LookPlan['form']> = LookPlan & { form: Form }

export interface Events {
  /** by event type: the code it counts as, after merging */
  counts: Uint16Array
  /** the same by name */
  codes: Record<string, number>
  /** by event type: 1 = fills a step */
  skip: Uint8Array
  passive: Uint8Array
}

/** The values of a property on events of one type: feature `base + code` is the type with that value. */
export interface ValuesOfType {
  type: number
  property: number
  name: string
  base: number
  values: readonly (CodedValue | null)[]
  /** a list's code → those of its elements */
  lists: ReadonlyMap<number, readonly number[]>
}

/**
 * A run of buckets in which more were lost at a step than in all the others: found as the run, of all there are, with
 * the largest z of the two rates, its p multiplied by the number of runs looked at (Bonferroni).
 */
export interface Run {
  /** lost after this required step, before that one */
  step: number
  next: number
  /** indices of the buckets, the second not included */
  from: number
  until: number
  inside: Lost
  outside: Lost
  p: number
}

export interface Lost {
  part: number
  whole: number
}

export interface JumpPlan extends Run {
  columns: JumpColumn[]
  size: number
}

/**
 * The values of one property at one of the steps: feature `base + code`. Profiles are not looked at: theirs are the
 * latest values, which getting through may have set.
 */
export interface JumpColumn {
  /** the step whose event carries it */
  at: number
  of: 'event' | 'source'
  property: number
  base: number
  size: number
}
