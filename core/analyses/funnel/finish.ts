import type { GroupKey } from '../../questions/parts.js'
import { wilson, type Interval } from '../../stats/proportion.js'
import { mean, quantile } from '../../stats/quantile.js'
import type { FunnelPart, FunnelPlan, FunnelTally } from './plan.js'

/** Times in ms; null where nobody got there, and for step 1. */
export interface StepTimes {
  median: number | null
  mean: number | null
  p10: number | null
  p90: number | null
}

export interface FunnelStepResult {
  people: number
  /** share of step 1, with its 95 % Wilson interval; null when nobody entered */
  ofStart: number | null
  ofStartInterval: Interval | null
  ofPrevious: number | null
  ofPreviousInterval: Interval | null
  /** filled this step and not the next; the last step loses nobody */
  lost: number
  /** of those lost here, how many may still go on */
  open: number
  fromPrevious: StepTimes
  fromEntry: StepTimes
}

export interface FunnelRow {
  /** null = all together */
  key: GroupKey | null
  steps: FunnelStepResult[]
  /** people still open: their window is not over yet; they count as not converted */
  open: number
}

export interface FunnelResult {
  kind: 'funnel'
  all: FunnelRow
  groups: FunnelRow[]
  rest: number
}

export function finishFunnel(part: FunnelPart, plan: FunnelPlan): FunnelResult {
  if (part.pass !== 'count') throw new RangeError('a ranking pass cannot be finished')
  return {
    kind: 'funnel',
    all: rowOf(null, part.tallies[plan.keys.length]),
    groups: plan.keys.map((key, i) => rowOf(key, part.tallies[i])),
    rest: plan.rest,
  }
}

function rowOf(key: GroupKey | null, { reached, open, fromPrevious, fromEntry }: FunnelTally): FunnelRow {
  const start = reached[0]
  const steps = Array.from(reached, (people, step) => {
    const before = step === 0 ? people : reached[step - 1]
    return {
      people,
      ofStart: start > 0 ? people / start : null,
      ofStartInterval: wilson(people, start),
      ofPrevious: before > 0 ? people / before : null,
      ofPreviousInterval: wilson(people, before),
      lost: step + 1 < reached.length ? people - reached[step + 1] : 0,
      open: open[step],
      fromPrevious: timesOf(fromPrevious[step]),
      fromEntry: timesOf(fromEntry[step]),
    }
  })
  return { key, steps, open: open.reduce((sum, x) => sum + x, 0) }
}

function timesOf(times: Float64Array): StepTimes {
  const sorted = times.slice().sort()
  return {
    median: quantile(sorted, 0.5),
    mean: mean(sorted),
    p10: quantile(sorted, 0.1),
    p90: quantile(sorted, 0.9),
  }
}
