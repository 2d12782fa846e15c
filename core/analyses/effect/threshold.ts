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
