import type { GrowthStep, GrowthResult } from './finish.js'

/** The last interval that is over; null where none is. */
export function lastFull({ steps }: GrowthResult): GrowthStep | null {
  return steps.findLast(({ open }) => !open) ?? null
}
