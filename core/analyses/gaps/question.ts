import type { Range } from '../../time/range.js'
import type { EventPick } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Among } from '../people.js'

export const gapForms = ['gaps', 'people'] as const
/** Every gap by itself, or each person by their median gap. */
export type GapForm = (typeof gapForms)[number]

/** "How often do people naturally do X?" */
export interface GapsQuestion {
  kind: 'gaps'
  start: EventPick
  range: Range
  /** of profile properties and segments; up to three */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  show: { form: GapForm }
}

export function usualGaps(event: string): GapsQuestion {
  return {
    kind: 'gaps',
    start: { event: { names: [event] } },
    range: { last: 26, unit: 'week' },
    show: { form: 'gaps' },
  }
}
