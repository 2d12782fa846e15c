import { isSides } from '../../questions/groupedBy.js'
import { limitMs } from '../../questions/limits.js'
import type { FunnelPlan } from './shape.js'
import type { GroupKey } from '../../questions/parts.js'
import { adjusted, compare, type Compared, type Rate } from '../../stats/compared.js'
import { wilson, type Interval } from '../../stats/proportion.js'
import { mean, quantile } from '../../stats/quantile.js'
import type { Bucket } from '../../time/buckets.js'
import type { Unit } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { histogramOf, type HistogramBar } from './histogram.js'
import { finishJump, type JumpResult } from './jump.js'
import { finishLook, type LookResult } from './lookResult.js'
import type { FunnelPart } from './plan.js'
import { SHARE_BY, showOf, type FunnelQuestion } from './question.js'
import { sortedPieces, type Pieces } from '../../stats/pieces.js'
import type { FunnelTally } from './tally.js'

/** Times in ms; null where nobody got there, and for step 1. */
export interface StepTimes {
  median: number | null
  mean: number | null
  p10: number | null
  p90: number | null
}

export interface FunnelStepResult {
  /** people, or attempts where those are counted */
  people: number
  /** share of step 1, with its 95 % Wilson interval; null when nobody entered */
  ofStart: number | null
  ofStartInterval: Interval | null
  /** share of the required step before */
  ofPrevious: number | null
  ofPreviousInterval: Interval | null
  /** filled this step and not the next required one; the last step and optional ones lose nobody */
  lost: number
  /** of those lost here, how many may still go on */
  open: number
  fromPrevious: StepTimes
  fromEntry: StepTimes
  optional: boolean
}

/** How a group's conversion differs from that of those it is compared with. */
export interface Difference {
  /** its rate less theirs */
  by: number
  interval: Interval | null
  /** of the pooled two-proportion test, adjusted by Benjamini–Hochberg over the groups; null where nothing varies */
  p: number | null
  /** less of the median time from the start to the end, ms; of times compared only; null where either has none */
  sooner: number | null
}

export interface FunnelRow {
  /** null = all together */
  key: GroupKey | null
  steps: FunnelStepResult[]
  /** still open: their window is not over yet; they count as not converted */
  open: number
  /** against the others; of segments side by side, against the first; of a time, against the one it is compared with */
  difference: Difference | null
}

/** Conversion by when the attempt began. */
export interface OverTime {
  every: Unit
  buckets: Bucket[]
  lines: OverLine[]
}

export interface OverLine {
  key: GroupKey | null
  /** by bucket, then step: how many reached it, and how many of those lost there are still open */
  reached: number[][]
  open: number[][]
}

/** How long it took from one step to another. */
export interface TimeResult {
  from: number
  to: number
  lines: TimeLine[]
}

export interface TimeLine {
  key: GroupKey | null
  count: number
  median: number | null
  p90: number | null
  mean: number | null
  /** share that took as long as asked about at most; null where nobody got there */
  by: number | null
  /** of all together only */
  bars: HistogramBar[]
}

/** How often a step's event was done before going on. */
export interface RepeatsResult {
  step: number
  /** who went on */
  people: number
  /** how many did it exactly so often; the last is *or more* */
  bars: { times: number; more: boolean; people: number }[]
  mean: number | null
  median: number | null
}

export interface FunnelResult {
  kind: 'funnel'
  /** what is counted */
  counts: 'people' | 'attempts'
  all: FunnelRow
  groups: FunnelRow[]
  rest: number
  /** the step that shares are counted from where groups are compared: the one that they are read at */
  comparedFrom: number
  /** the time it is compared with, groups in the same order */
  before: { all: FunnelRow; groups: FunnelRow[] } | null
  over: OverTime | null
  time: TimeResult | null
  repeats: RepeatsResult[] | null
  look: LookResult | null
  jump: JumpResult | null
}

export function finishFunnel(
  last: FunnelPart,
  plan: FunnelPlan,
  question: FunnelQuestion,
  { schema }: QueryContext,
  earlier: readonly FunnelPart[],
): FunnelResult {
  const part = last.pass === 'jump' ? earlier.at(-1)! : last
  if (part.pass !== 'count') throw new RangeError('a ranking pass cannot be finished')
  const rows = part.spans.map((tallies) => rowsOf(tallies, plan))
  const [{ all, groups }, before = null] = rows
  const shown = groups.flatMap((row, place) =>
    isShown(row) || (before && isShown(before.groups[place])) ? [place] : [],
  )
  const bySides = isSides(question.breakdowns)
  const kept = compareGroups(
    shown.map((place) => groups[place]),
    all,
    bySides,
    plan.unreached ? plan.readAt : 0,
  )
  const tallies = part.spans[0]
  const show = showOf(question)
  const linesOf = <T>(make: (tally: FunnelTally, key: GroupKey | null) => T): T[] => [
    make(tallies[plan.keys.length], null),
    ...shown.map((place) => make(tallies[place], plan.keys[place])),
  ]
  return {
    kind: 'funnel',
    counts: plan.rules.attempts ? 'attempts' : 'people',
    all: before ? { ...all, difference: betweenTimes(all, before.all) } : all,
    groups: kept,
    rest: plan.rest,
    comparedFrom: plan.unreached ? plan.readAt : 0,
    before: before && { all: before.all, groups: shown.map((place) => before.groups[place]) },
    over:
      show.form === 'over time'
        ? { every: plan.every, buckets: plan.buckets, lines: linesOf((tally, key) => overLine(tally, key, plan)) }
        : null,
    time: plan.between && {
      from: plan.between[0],
      to: plan.between[1],
      lines: linesOf((tally, key) => timeLine(tally, key, limitMs((show.form === 'time' && show.by) || SHARE_BY))),
    },
    repeats: plan.repeats ? repeatsOf(tallies[plan.keys.length], plan) : null,
    look: part.look && plan.look && finishLook(part.look, plan.look, plan, question, schema),
    jump: last.pass === 'jump' ? finishJump(last.tally, plan, schema) : null,
  }
}

/** Those who did not get where the groups are read are no group where there are none. */
function isShown({ key, steps }: FunnelRow): boolean {
  return !(key && 'unreached' in key) || steps[0].people > 0
}

function rowsOf(tallies: readonly FunnelTally[], plan: FunnelPlan): { all: FunnelRow; groups: FunnelRow[] } {
  return {
    all: rowOf(null, tallies[plan.keys.length], plan),
    groups: plan.keys.map((key, i) => rowOf(key, tallies[i], plan)),
  }
}

function rowOf(
  key: GroupKey | null,
  { reached, open, fromPrevious, fromEntry }: FunnelTally,
  plan: FunnelPlan,
): FunnelRow {
  const start = reached[0]
  const { required } = plan
  const steps = Array.from(reached, (people, step): FunnelStepResult => {
    const optional = plan.steps[step].optional
    const earlier = required.filter((each) => each < step).at(-1)
    const next = optional ? undefined : required[required.indexOf(step) + 1]
    const before = earlier === undefined ? people : reached[earlier]
    return {
      people,
      ofStart: start > 0 ? people / start : null,
      ofStartInterval: wilson(people, start),
      ofPrevious: before > 0 ? people / before : null,
      ofPreviousInterval: wilson(people, before),
      lost: next === undefined ? 0 : people - reached[next],
      open: open[step],
      fromPrevious: timesOf(fromPrevious[step]),
      fromEntry: timesOf(fromEntry[step]),
      optional,
    }
  })
  return { key, steps, open: open.reduce((sum, x) => sum + x, 0), difference: null }
}

function timesOf(times: Pieces): StepTimes {
  const sorted = sortedPieces(times)
  return {
    median: quantile(sorted, 0.5),
    mean: mean(sorted),
    p10: quantile(sorted, 0.1),
    p90: quantile(sorted, 0.9),
  }
}

/**
 * Each group against all others, or of segments side by side against the first; p-values are adjusted over all of them.
 * @param from the step that groups are read at. Everybody in one got that far, so only what comes after it is compared,
 *   among those who got there: from the start each of them would do better than those who are in none
 */
function compareGroups(groups: FunnelRow[], all: FunnelRow, bySides: boolean, from: number): FunnelRow[] {
  const ends = ({ steps }: FunnelRow): Rate => ({ part: steps.at(-1)!.people, whole: steps[from].people })
  const without = (a: Rate, b: Rate): Rate => ({ part: a.part - b.part, whole: a.whole - b.whole })
  const unreached = groups.find(({ key }) => key && 'unreached' in key)
  const reached = unreached ? without(ends(all), { part: ends(unreached).part, whole: 0 }) : ends(all)
  const first = groups[0] && ends(groups[0])
  const compared = groups.map((row, i) => {
    if (row === unreached || from === row.steps.length - 1) return null
    if (bySides) return i === 0 ? null : compare(ends(row), first)
    return compare(ends(row), without(reached, ends(row)))
  })
  return adjusted(compared).map((each, i) => ({ ...groups[i], difference: each && asDifference(each, null) }))
}

function asDifference({ difference, interval, p }: Compared, sooner: number | null): Difference {
  return { by: difference, interval, p, sooner }
}

/** A time against the one it is compared with. */
function betweenTimes(a: FunnelRow, b: FunnelRow): Difference | null {
  const ends = ({ steps }: FunnelRow): Rate => ({ part: steps.at(-1)!.people, whole: steps[0].people })
  const compared = compare(ends(a), ends(b))
  const [x, y] = [a.steps.at(-1)!.fromEntry.median, b.steps.at(-1)!.fromEntry.median]
  return compared && asDifference(compared, x === null || y === null ? null : y - x)
}

function overLine({ over }: FunnelTally, key: GroupKey | null, { buckets, steps }: FunnelPlan): OverLine {
  const n = steps.length
  const cut = (values: Float64Array) => buckets.map((_bucket, b) => Array.from(values.subarray(b * n, (b + 1) * n)))
  return { key, reached: cut(over!.reached), open: cut(over!.open) }
}

function timeLine({ between }: FunnelTally, key: GroupKey | null, byMs: number): TimeLine {
  const sorted = sortedPieces(between!)
  const count = sorted.length
  return {
    ...{ key, count, median: quantile(sorted, 0.5), p90: quantile(sorted, 0.9), mean: mean(sorted) },
    by: count === 0 ? null : sorted.filter((ms) => ms <= byMs).length / count,
    bars: key === null ? histogramOf(sorted) : [],
  }
}

/** More often than this is told together. */
const MOST_TIMES = 12

function repeatsOf({ repeats }: FunnelTally, { required }: FunnelPlan): RepeatsResult[] {
  return required.slice(0, -1).map((step) => {
    const sorted = sortedPieces(repeats![step])
    const most = sorted.at(-1) ?? 0
    const bars = Array.from({ length: Math.min(most, MOST_TIMES) }, (_, i) => {
      const times = i + 1
      const more = times === MOST_TIMES && most > MOST_TIMES
      return { times, more, people: sorted.filter((x) => (more ? x >= times : x === times)).length }
    })
    return { step, people: sorted.length, bars, mean: mean(sorted), median: quantile(sorted, 0.5) }
  })
}
