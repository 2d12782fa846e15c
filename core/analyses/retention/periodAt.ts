import type { RetentionQuestion } from './question.js'
import type { RetentionResult } from './finish.js'

/**
 * The period that is looked at by itself: the chosen one; else the fourth after the start, or the last that at least two
 * cohorts have behind them.
 */
export function periodAt({ show }: RetentionQuestion, { periods, all }: RetentionResult): number {
  const last = periods.length - 1
  if (show.at !== undefined) return Math.min(show.at, last)
  const known = all.line.reduce((found, { cohorts, people }, k) => (cohorts > 1 && people > 0 ? k : found), 0)
  return Math.min(4, Math.max(known, Math.min(1, last)))
}
