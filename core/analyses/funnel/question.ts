import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { pickSchema, timeLimitSchema, type EventPick, type TimeLimit } from '../../questions/parts.js'
import { breakdownSchema, type Breakdown } from '../../questions/split.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'

/** More steps than this are refused. */
export const MOST_STEPS = 20

/** "How many people get through these steps, one after another, within …?" */
export interface FunnelQuestion {
  kind: 'funnel'
  steps: EventPick[]
  window: TimeLimit
  range: Range
  /** at most one so far; an event property is read at step 1 */
  breakdowns?: Breakdown[] | undefined
  among?: Among | undefined
}

export const funnelSchema: z.ZodType<FunnelQuestion> = z.strictObject({
  kind: z.literal('funnel'),
  steps: z.array(pickSchema).min(1, 'at least one step').max(MOST_STEPS, `at most ${MOST_STEPS} steps`),
  window: timeLimitSchema.default({ count: 7, unit: 'day' }),
  range: rangeSchema,
  breakdowns: z.array(breakdownSchema).max(1, 'one breakdown at most').optional(),
  among: amongSchema.optional(),
})

export function usualFunnel(event: string): FunnelQuestion {
  return {
    kind: 'funnel',
    steps: [{ event: { names: [event] } }],
    window: { count: 7, unit: 'day' },
    range: { last: 12, unit: 'week' },
  }
}

export function parseFunnel(input: unknown): { question: FunnelQuestion; faults: Fault[] } {
  return parseLeniently(funnelSchema, input, usualFunnel('…'))
}
