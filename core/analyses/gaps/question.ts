import type { Range } from '../../time/range.js'
import type { EventPick } from '../../questions/parts.js'
import type { Among } from '../people.js'

export const gapForms = ['gaps', 'people'] as const
/** Every gap by itself, or each person by their median gap. */
export type GapForm = (typeof gapForms)[number]

/** "How often do people naturally do X?" */
export interface GapsQuestion {
  kind: 'gaps'
  start: EventPick
  range: Range
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
