import jStat from 'jstat'
import { mean } from '../../stats/quantile.js'

/**
 * A change is told of under this p-value, after adjusting for all that was looked at: of a hundred times in which nothing
 * changes at most one says otherwise, also where weeks are alike because the same people come in them.
 */
export const CLEAR = 0.003
/** Whole buckets on each side of a change of level, at least. */
export const LEAST_SIDE = 3
/** Whole buckets within a time that came and went, before it and after it, at least. */
const LEAST_SPAN = 2
/** Of more buckets than this there are too many times that may have come and gone: only changes of level are looked for. */
const MOST_SPAN_BUCKETS = 400
/** Changes smaller than this share are not worth a sentence. */
export const LEAST_CHANGE = 0.1

/** A run of buckets whose level is another than that of all others. */
export interface Span {
  /** place of its first bucket, and of the first after it: the end where it has not gone back */
  from: number
  until: number
  inside: number
  outside: number
  /** two-sided, multiplied by the number of spans and rows that were looked at */
  p: number
}

/** How many spans of so many buckets are looked at. */
export function spansOf(many: number): { from: number; until: number }[] {
  const spans: { from: number; until: number }[] = []
  for (let from = LEAST_SIDE; from + LEAST_SIDE <= many; from++) spans.push({ from, until: many })
  if (many > MOST_SPAN_BUCKETS) return spans
  for (let from = LEAST_SPAN; from < many; from++)
    for (let until = from + LEAST_SPAN; until + LEAST_SPAN <= many; until++) spans.push({ from, until })
  return spans
}

/**
 * The clearest span of a row: one level inside, one outside, by the F statistic of the two-level model with their common
 * variance (of counts at least their mean, as chance makes it).
 * @param rows how many rows are looked at together (Bonferroni, with the spans)
 */
export function clearestSpan(values: readonly number[], isCount: boolean, rows: number): Span | null {
  const n = values.length
  const sums = [0]
  const squares = [0]
  values.forEach((x, i) => {
    sums.push(sums[i] + x)
    squares.push(squares[i] + x * x)
  })
  const spans = spansOf(n)
  // All have as many degrees of freedom, so the clearest is the one of the largest F: its p alone is worked out.
  let best: { from: number; until: number; inside: number; outside: number; f: number } | null = null
  for (const { from, until } of spans) {
    const many = until - from
    const sum = sums[until] - sums[from]
    const inside = sum / many
    const outside = (sums[n] - sum) / (n - many)
    const within = squares[n] - many * inside ** 2 - (n - many) * outside ** 2
    const variance = Math.max(within / (n - 2), isCount ? sums[n] / n : 0)
    const between = (inside - outside) ** 2 / (1 / many + 1 / (n - many))
    const f = variance > 0 ? between / variance : between > 0 ? Infinity : 0
    const relative = outside > 0 ? Math.abs(inside / outside - 1) : 1
    if (relative >= LEAST_CHANGE && (!best || f > best.f)) best = { from, until, inside, outside, f }
  }
  if (!best) return null
  const { f, ...span } = best
  const p = f === Infinity ? 0 : Math.min(1, 2 * jStat.studentt.cdf(-Math.sqrt(f), n - 2) * spans.length * rows)
  return p < CLEAR ? { ...span, p } : null
}

/** Normal quantiles: 19 in 20 lie within, and 999 in 1,000. */
const OFTEN = 1.96
const HARDLY = 3.29

/**
 * Whether two buckets of a line, so many apart, differ by no more than such pairs usually do: by their earlier
 * differences (t distribution), of counts at least as chance makes them. Without earlier pairs, and for counts, only what
 * chance alone would often give is usual, and only what it would hardly ever give is not.
 * @param values of whole buckets up to the second of the two
 * @returns null where there is nothing to tell it by
 */
export function isUsualDifference(values: readonly (number | null)[], apart: number, isCount: boolean): boolean | null {
  const last = values.length - 1
  const [a, b] = [values[last - apart] ?? null, values[last] ?? null]
  if (a === null || b === null) return null
  const differences = values.slice(0, last).flatMap((value, i) => {
    const before = values[i - apart]
    return value === null || before === null || before === undefined ? [] : [value - before]
  })
  const chance = isCount ? a + b : 0
  const far = Math.abs(b - a)
  if (differences.length < 5) {
    if (!isCount) return null
    if (far <= OFTEN * Math.sqrt(chance)) return true
    return far > HARDLY * Math.sqrt(chance) ? false : null
  }
  const own = mean(differences.map((x) => x * x))!
  const reach = own > chance ? jStat.studentt.inv(0.975, differences.length) : OFTEN
  return far <= reach * Math.sqrt(Math.max(own, chance))
}
