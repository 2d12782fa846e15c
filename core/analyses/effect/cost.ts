import type { EffectFigures } from './finish.js'
import { thresholdOf } from './threshold.js'

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
