import type { Interval } from '../stats/proportion.js'
import { SURE } from '../stats/sure.js'

/** What a metric says of a variant beside the control. */
export type Verdict = 'do not decide on this' | 'no difference worth having' | 'better' | 'worse' | 'not yet'

/** What is compared with a control, by the figures that count today. */
export interface Judged {
  difference: number
  /** 95 %; null where it cannot be told */
  interval: Interval | null
  /** adjusted for all that is tested with it; null where it cannot be told */
  p: number | null
}

/**
 * The first that holds: the split is broken; all that the difference may be is smaller than what is worth having; it is
 * sure to be one; nothing can be told yet.
 * @param smallest the smallest effect worth having, in the unit of the difference
 * @param good whether more of it is better
 */
export function verdictOf(judged: Judged | null, isBroken: boolean, smallest: number, good: 'up' | 'down'): Verdict {
  if (isBroken) return 'do not decide on this'
  if (!judged) return 'not yet'
  const { difference, interval, p } = judged
  if (interval && interval.low > -smallest && interval.high < smallest) return 'no difference worth having'
  if (p === null || p >= SURE || difference === 0) return 'not yet'
  return difference > 0 === (good === 'up') ? 'better' : 'worse'
}

/** What is said of something that must not get worse. */
export type Guard = 'holds' | 'broken' | 'undecided'

/**
 * Whether it got worse by more than is borne with. @param margin not under 0, in the unit of the difference
 * @param good whether more of it is better
 */
export function guardOf(interval: Interval | null, margin: number, good: 'up' | 'down'): Guard {
  if (!interval) return 'undecided'
  // The bad way is down, whichever way that is.
  const { low, high } = good === 'up' ? interval : { low: -interval.high, high: -interval.low }
  if (low > -margin) return 'holds'
  return high < -margin ? 'broken' : 'undecided'
}

const WORST: readonly Guard[] = ['broken', 'undecided', 'holds']

/** Of several variants: what is said of the worst of them. */
export const worstGuard = (guards: readonly Guard[]): Guard =>
  WORST.find((each) => guards.includes(each)) ?? 'undecided'
