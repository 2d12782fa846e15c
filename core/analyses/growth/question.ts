import type { Range } from '../../time/range.js'
import type { EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Among } from '../people.js'

/** What a person is in an interval (how numbers are counted, 9); whoever has not done it yet is none of them. */
export const growthStates = ['new', 'retained', 'revived', 'lapsed', 'idle'] as const
export type GrowthState = (typeof growthStates)[number]

export const growthForms = ['states', 'shares', 'one', 'net', 'quick', 'kept', 'flows'] as const
/**
 * Active people above the line and lapsed ones below; shares of everyone seen so far; one state by itself; net growth;
 * quick ratio; retention rate; from which state people came.
 */
export type GrowthForm = (typeof growthForms)[number]

/** So many days, cut backwards from the end of the range; or calendar weeks or months. */
export type GrowthInterval = { days: number } | { unit: 'week' | 'month' }

export interface GrowthQuestion {
  kind: 'growth'
  start: EventPick
  interval: GrowthInterval
  range: Range
  /** of profile properties and segments; up to three */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: {
    form: GrowthForm
    /** of one state */
    state?: GrowthState | undefined
    /** of flows: the interval they lead to, by its key; left out: the last full one */
    at?: string | undefined
  }
}

export function usualGrowth(event: string): GrowthQuestion {
  return {
    kind: 'growth',
    start: { event: { names: [event] } },
    interval: { unit: 'week' },
    range: { last: 12, unit: 'week' },
    show: { form: 'states' },
  }
}
