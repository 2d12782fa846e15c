import type { GroupKey } from '../../questions/parts.js'
import type { QueryContext } from '../analysis.js'
import type { GapsQuestion } from './question.js'
import type { GapCounts, GapsPart, GapsPlan } from './scan.js'

/** Gaps of a length, in local days from one day somebody did it to the next; both ends included. */
export interface GapBin {
  least: number
  /** null = any longer */
  most: number | null
  gaps: number
  /** people whose median gap is so long */
  people: number
}

/** Of one group, or of everybody together. */
export interface GapsFigures {
  bins: GapBin[]
  /** how many gaps there are, and of how many people */
  gaps: number
  people: number
  /** people who did it on one day only: they have no gap */
  once: number
  /** days within which 80 % of returns happen, at least; null where nobody returned */
  eighty: number | null
  /** median of all gaps, and the median of people's own medians */
  median: number | null
  medianOfMedians: number | null
  /** the interval these gaps suggest, for growth accounting and retention */
  suggested: { unit: 'day' | 'week' | 'month'; days: number } | null
}

export interface GapsRow extends GapsFigures {
  key: GroupKey
}

/** Of everybody together, and of each group. */
export interface GapsResult extends GapsFigures {
  kind: 'gaps'
  groups: GapsRow[]
  /** how many groups everything else holds */
  rest: number
}

/** Every length by itself up to here, then wider ones. */
const SINGLE = 14
const WIDE: [number, number | null][] = [
  [15, 21],
  [22, 30],
  [31, 60],
  [61, null],
]

export function finishGaps(
  part: GapsPart,
  plan: GapsPlan,
  _question: GapsQuestion,
  _context: QueryContext,
): GapsResult {
  if (part.pass !== 'count') throw new RangeError('the gaps were not counted')
  const everybody = plan.keys.length
  return {
    kind: 'gaps',
    ...figuresOf(part, plan, everybody),
    groups: plan.keys.map((key, group) => ({ key, ...figuresOf(part, plan, group) })),
    rest: plan.rest,
  }
}

function figuresOf(part: GapCounts, plan: GapsPlan, group: number): GapsFigures {
  const size = plan.days + 1
  const gaps = part.gaps.subarray(group * size, (group + 1) * size)
  const medians = part.medians.subarray(group * 2 * size, (group + 1) * 2 * size)
  const [once, all] = [part.once[group], part.all[group]]
  const spans: [number, number | null][] = [
    ...Array.from({ length: SINGLE }, (_, i): [number, number] => [i + 1, i + 1]),
    ...WIDE.filter(([least]) => least <= plan.days),
  ]
  const total = gaps.reduce((sum, n) => sum + n, 0)
  const returning = all - once
  const bins = spans.map(([least, most]): GapBin => {
    const bin = { least, most, gaps: 0, people: 0 }
    const end = most ?? gaps.length - 1
    for (let gap = least; gap <= end && gap < gaps.length; gap++) bin.gaps += gaps[gap]
    // Medians of half days belong to the span they have begun: 14.5 to 14, 21.5 to 15–21.
    for (let twice = 2 * least; twice < medians.length && (most === null || twice < 2 * (most + 1)); twice++)
      bin.people += medians[twice]
    return bin
  })
  const eighty = rankOf(gaps, 0.8 * total)
  return {
    bins,
    ...{ gaps: total, people: returning, once, eighty },
    median: middleOf(gaps, total),
    medianOfMedians: halved(middleOf(medians, returning)),
    suggested: eighty === null ? null : { unit: eighty <= 2 ? 'day' : eighty <= 10 ? 'week' : 'month', days: eighty },
  }
}

/** The least length that at least so many have, or a shorter one; null where there is none. */
function rankOf(counts: Float64Array, share: number): number | null {
  if (!(share > 0)) return null
  let before = 0
  for (let length = 0; length < counts.length; length++) {
    before += counts[length]
    if (before >= share) return length
  }
  return null
}

/** The median of so many lengths: of an even number, half way between the two in the middle. */
function middleOf(counts: Float64Array, total: number): number | null {
  const [low, high] = [rankOf(counts, Math.ceil(total / 2)), rankOf(counts, Math.floor(total / 2) + 1)]
  return low === null || high === null ? null : (low + high) / 2
}

const halved = (twice: number | null) => (twice === null ? null : twice / 2)

/** The half days that a bin of medians reaches up to. */
export function medianEnd({ most }: Pick<GapBin, 'most'>): number | undefined {
  return most === null ? undefined : most + 0.5
}
