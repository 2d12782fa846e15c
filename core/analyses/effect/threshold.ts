import { SURE } from '../../stats/sure.js'
import type { EffectFigures } from './finish.js'

/**
 * While people still come in it may be looked at every day. Pocock's boundary for twenty looks: of a hundred messages that
 * bring nothing at most five are said to bring something at any of them.
 */
const WHILE_OPEN = 0.0075

/** The p under which a difference is told of as one. */
export const thresholdOf = ({ rows }: Pick<EffectFigures, 'rows'>): number =>
  rows.some(({ open }) => open > 0) ? WHILE_OPEN : SURE

/**
 * What one more who does it costs, by what is sent to each who comes in and the gain of each.
 * @param cost of one that is sent
 * @returns in the unit of the cost; null where it is not told that more do it
 */
export function costOfGain({ rows, effect }: EffectFigures, cost: number): number | null {
  if (!effect || effect.few || effect.p === null || effect.difference <= 0) return null
  if (effect.p >= thresholdOf({ rows })) return null
  const variants = rows.filter(({ name }) => name !== null)
  const sum = (of: 'sent' | 'entered') => variants.reduce((total, row) => total + row[of], 0)
  return (cost * sum('sent')) / sum('entered') / effect.difference
}
