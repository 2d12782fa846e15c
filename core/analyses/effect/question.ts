import type { TimeLimit } from '../../questions/limits.js'
import type { EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Range } from '../../time/range.js'
import type { Among } from '../people.js'

export const effectForms = ['effect', 'days'] as const
/** Each variant beside those left alone, or rates by when people came in. */
export type EffectForm = (typeof effectForms)[number]

/** "Does the message bring Ride completed within 3 days?" */
export interface EffectQuestion {
  kind: 'effect'
  /** the message's name, as its events have it */
  message: string
  /** its variants by name, in their order */
  variants: string[]
  /** nobody is left alone */
  nobodyAlone?: true | undefined
  /** the shares of the variants move, so that they are not compared one by one */
  moving?: true | undefined
  goal: EventPick
  within: TimeLimit
  /** when people came in */
  range: Range
  /** of profile properties and segments; up to three */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: { form: EffectForm }
}

export const MOST_EFFECT_VARIANTS = 5

export function usualEffect(event: string): EffectQuestion {
  return {
    ...{ kind: 'effect', message: '…', variants: ['A'], goal: { event: { names: [event] } } },
    ...{ within: { count: 7, unit: 'day' }, range: { last: 12, unit: 'week' }, show: { form: 'effect' } },
  }
}
