import type { SplitRef } from '../questions/split.js'
import { soundOf, type PlacedSplit, type WrongParts } from './kind.js'

interface BrokenDown<B> {
  breakdowns?: B[] | undefined
}

/** The breakdowns of a question that has them under this name, with their places. */
export function breakdownSplits({ breakdowns = [] }: BrokenDown<{ by: SplitRef }>): PlacedSplit[] {
  return breakdowns.map(({ by }, index) => ({ by, path: ['breakdowns', index, 'by'] }))
}

/** What `withoutBreakdowns` leaves out. */
export const BROKEN_DOWN = ['breakdowns', 'compare'] as const

/** A question without those of its breakdowns, and its comparison, that are not known; all else has to be. */
export function withoutBreakdowns<B, Q extends BrokenDown<B> & { compare?: unknown }>(
  question: Q,
  wrong: WrongParts,
): Q | null {
  const { breakdowns, ...plain } = question
  const left = soundOf(wrong, 'breakdowns', breakdowns)
  const rest = { ...plain, ...(left.length > 0 ? { breakdowns: left } : {}) }
  if (wrong.has('compare')) delete rest.compare
  return rest as Q
}
