import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { breakdownSchema, pickSchema, type Breakdown, type EventChoice, type Filter } from '../../questions/parts.js'
import { rangeSchema, type Range } from '../../time/range.js'
import { amongSchema, type PeopleRef } from '../people.js'

export const windowUnits = ['minute', 'hour', 'day', 'week'] as const
export interface FunnelWindow {
  count: number
  unit: (typeof windowUnits)[number]
}

export interface FunnelStep {
  event: EventChoice
  where?: Filter | undefined
}

/** More steps than this are refused. */
export const MOST_STEPS = 20

/** "How many people get through these steps, one after another, within …?" */
export interface FunnelQuestion {
  kind: 'funnel'
  steps: FunnelStep[]
  window: FunnelWindow
  range: Range
  /** at most one so far; an event property is read at step 1 */
  breakdowns?: Breakdown[] | undefined
  among?: PeopleRef | undefined
}

export const funnelSchema: z.ZodType<FunnelQuestion> = z.strictObject({
  kind: z.literal('funnel'),
  steps: z.array(pickSchema).min(1, 'at least one step').max(MOST_STEPS, `at most ${MOST_STEPS} steps`),
  window: z
    .strictObject({ count: z.int().min(1).max(1000), unit: z.enum(windowUnits) })
    .default({ count: 7, unit: 'day' }),
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

const UNIT_MS = { minute: 60_000, hour: 3_600_000, day: 86_400_000, week: 604_800_000 }

/** The window in ms: a day is 24 hours whatever the clocks do. */
export function windowMs(window: FunnelWindow): number {
  return window.count * UNIT_MS[window.unit]
}
