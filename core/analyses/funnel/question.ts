import type { Range } from '../../time/range.js'
import type { TimeLimit } from '../../questions/limits.js'
import type { EventPick, PropertyRef } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Unit } from '../../time/range.js'
import type { Among } from '../people.js'

/** More steps than this are refused. */
export const MOST_STEPS = 20
/** So many events may be forbidden. */
export const MOST_FORBIDDEN = 10

export const entryOperators = ['=', '≠', '<', '≤', '>', '≥'] as const

/** A value of the step's event compared with one of the attempt's entry: "whose Dock is the Dock of step 1". */
export interface EntryTest {
  property: PropertyRef
  op: (typeof entryOperators)[number]
  entry: PropertyRef
}

export interface FunnelStep extends EventPick {
  /** all of them hold */
  entry?: EntryTest[] | undefined
  /** shown, and not required to go on */
  optional?: true | undefined
}

/** Something that ends an attempt when it happens before its next step. */
export interface Forbidden extends EventPick {
  /** after this step, counted from 0; left out: after any step */
  after?: number | undefined
}

export const funnelForms = ['steps', 'over time', 'time', 'repeats', 'after', 'apart', 'between'] as const
export type FunnelForm = (typeof funnelForms)[number]

/** How the result is looked at. Numbers of the steps are the same in every form. */
export type FunnelShow =
  | { form: 'steps' | 'repeats' }
  /** conversion by when the attempt began: the whole way, or step by step */
  | { form: 'over time'; every?: Unit | undefined; way?: 'steps' | undefined }
  /** time between two steps, counted from 0; left out: from the first to the last. `by` = the share that took so long at most */
  | { form: 'time'; from?: number | undefined; to?: number | undefined; by?: TimeLimit | undefined }
  /** what those lost at a step did afterwards */
  | { form: 'after'; step: number; within: TimeLimit | 'session' }
  /** what goes with getting through; `without` = left out by hand, `with` = brought back */
  | { form: 'apart'; without?: Feature[] | undefined; with?: Feature[] | undefined }
  /** what lies between the first step and the last, to make steps of */
  | { form: 'between' }

/** An event, or an event with one value of a property. */
export interface Feature {
  event: string
  property?: string | undefined
  value?: string | boolean | undefined
}

/** "How many people get through these steps, one after another, within …?" */
export interface FunnelQuestion {
  kind: 'funnel'
  steps: FunnelStep[]
  window: TimeLimit
  range: Range
  /** left out: one after another */
  order?: 'back to back' | 'any order' | undefined
  /** left out: people, each by their deepest attempt */
  count?: 'attempts' | undefined
  /** only each person's first entry ever starts an attempt */
  first?: true | undefined
  /** every step carries the entry's value of it */
  same?: PropertyRef | undefined
  forbidden?: Forbidden[] | undefined
  /** up to three */
  breakdowns?: Split[] | undefined
  /** the step at which what is of an event is read for the breakdowns, counted from 0; left out: the first */
  readAt?: number | undefined
  among?: Among | undefined
  /** another time that the same is asked of, beside this one */
  compare?: { to: 'before' | 'year' } | { from: string; to: string } | undefined
  /** the share that should get through, 0 to 1 */
  target?: number | undefined
  /** left out: the steps */
  show?: FunnelShow | undefined
}

export function usualFunnel(event: string): FunnelQuestion {
  return {
    kind: 'funnel',
    steps: [{ event: { names: [event] } }],
    window: { count: 7, unit: 'day' },
    range: { last: 12, unit: 'week' },
  }
}

/** Places of the steps that must be filled to go on. */
export function requiredSteps(steps: readonly FunnelStep[]): number[] {
  return steps.flatMap((step, i) => (step.optional ? [] : [i]))
}

/** The share that took no longer is told of the times from step to step, unless another is asked. */
export const SHARE_BY: TimeLimit = { count: 1, unit: 'hour' }

/** How the result is looked at; where nothing is said, the steps. */
export function showOf({ show }: FunnelQuestion): FunnelShow {
  return show ?? { form: 'steps' }
}
