import type { Bucket } from '../../time/buckets.js'
import type { Unit } from '../../time/range.js'

/** Days are like the same weekday, hours like the same hour: comparing a Saturday with a Monday says nothing. */
const PERIOD: Record<Unit, number> = { hour: 24, day: 7, week: 1, month: 1, quarter: 1 }

/**
 * Which buckets a change over the range is told from: the last whole one, and the earliest whole one of its kind.
 * @returns indices; null where there are no two to compare
 */
export function comparedBuckets(buckets: readonly Bucket[], every: Unit): { first: number; last: number } | null {
  const whole = buckets.flatMap((bucket, index) => (bucket.open || bucket.cut ? [] : [index]))
  const last = whole.at(-1)
  const first = whole.find((index) => (last! - index) % PERIOD[every] === 0)
  return last === undefined || first === undefined || first === last ? null : { first, last }
}
