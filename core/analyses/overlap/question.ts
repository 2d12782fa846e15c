import type { Range } from '../../time/range.js'
import type { Side } from '../../questions/split.js'
import type { Among } from '../people.js'
import type { TrendQuestion, TrendSeries } from '../trend/question.js'

export const LEAST_OVERLAPPING = 2
export const MOST_OVERLAPPING = 5

/** "How do these segments overlap?", with a figure for each part if wanted. */
export interface OverlapQuestion {
  kind: 'overlap'
  sides: Side[]
  /** worked out over the range for each part: any measure of a trend */
  figure?: TrendSeries | undefined
  range: Range
  among?: Among | undefined
}

/** Two segments side by side that everybody has: around one event there are none yet. */
export function usualOverlap(_event: string): OverlapQuestion {
  return { kind: 'overlap', sides: [{ everybody: true }, { everybody: true }], range: { last: 12, unit: 'week' } }
}

/** The trend whose groups are the parts; its only series is the figure. */
export function figureTrend({ sides, figure, range, among }: OverlapQuestion): TrendQuestion | null {
  if (!figure) return null
  return {
    ...{ kind: 'trend', series: [figure], every: 'quarter', range },
    ...(among ? { among } : {}),
    breakdowns: [{ by: partsRef(sides), keep: 50 }],
    show: { form: 'lines', as: 'number' },
  }
}

/** What the parts are read by. */
export function partsRef(sides: Side[]) {
  return { of: 'segments' as const, sides, parts: true as const }
}
