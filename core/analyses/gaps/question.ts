import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { pickSchema, type EventPick } from '../../questions/parts.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

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

export const gapsSchema: z.ZodType<GapsQuestion> = z.strictObject({
  kind: z.literal('gaps'),
  start: pickSchema,
  range: rangeSchema,
  among: amongSchema.optional(),
  show: z.strictObject({ form: z.enum(gapForms) }).default({ form: 'gaps' }),
})

export function usualGaps(event: string): GapsQuestion {
  return {
    kind: 'gaps',
    start: { event: { names: [event] } },
    range: { last: 26, unit: 'week' },
    show: { form: 'gaps' },
  }
}

export function parseGaps(input: unknown): { question: GapsQuestion; faults: Fault[] } {
  return parseLeniently(gapsSchema, input, usualGaps('…'))
}
