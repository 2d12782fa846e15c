import type { EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Comparison } from '../../time/comparison.js'
import type { Range, Unit } from '../../time/range.js'
import type { Among } from '../people.js'

export const sessionMeasures = [
  'sessions',
  'per person',
  'median length',
  'average length',
  'time per person',
  'single',
  'events',
] as const
export type SessionMeasure = (typeof sessionMeasures)[number]

export const sessionUnits = ['hour', 'day', 'week', 'month'] as const
export type SessionUnit = Extract<Unit, (typeof sessionUnits)[number]>

export const sessionForms = ['over time', 'lengths', 'ways'] as const
export type SessionForm = (typeof sessionForms)[number]

/** "How long is a typical session each week?" */
export interface SessionsQuestion {
  kind: 'sessions'
  measure: SessionMeasure
  every: SessionUnit
  range: Range
  /** only sessions that hold such an event */
  holds?: EventPick | undefined
  /** only the first session ever of each person */
  first?: true | undefined
  /** read at the first event of each session; up to two */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  compare?: Comparison | undefined
  /** what is aimed at: minutes of a length, a part of 1, a number; of sessions of one event at most so many, else at least */
  target?: number | undefined
  show: {
    form: SessionForm
    /** of lengths: which part lasts more than so many minutes */
    over?: number | undefined
  }
}

/** Minutes over which a session is long where nobody said. */
export const USUAL_OVER = 10

export function usualSessions(event = ''): SessionsQuestion {
  return {
    kind: 'sessions',
    measure: 'median length',
    every: 'week',
    range: { last: 12, unit: 'week' },
    ...(event === '' ? {} : { holds: { event: { names: [event] } } }),
    show: { form: 'over time' },
  }
}

/** The upper ends of the ranges of length, ms, each included; beyond the last one is a range of its own. */
export const LENGTHS: readonly number[] = [0, 10_000, 30_000, ...[1, 3, 10, 30, 60].map((m) => m * 60_000)]

/** The range that a length lies in, by its place. */
export function lengthAt(ms: number): number {
  for (let range = 0; range < LENGTHS.length; range++) if (ms <= LENGTHS[range]) return range
  return LENGTHS.length
}
