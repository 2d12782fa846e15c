import { formatAs, formatNumber, MISSING } from '../../words/format.js'
import type { Words } from '../../words/words.js'
import type { AttributionQuestion } from './question.js'

/**
 * What a conversion, or a person, cost: `€12.40 each`; of conversions that are worth a number what came back for what was
 * paid: `3.2 × back`.
 */
export function costEach(
  amount: number,
  credit: number | null,
  { worth }: Pick<AttributionQuestion, 'worth'>,
  words: Words,
): string {
  if (credit === null) return MISSING
  if (typeof worth === 'object') return amount > 0 ? `${formatNumber(credit / amount)} × back` : MISSING
  return credit > 0 ? `${formatAs(amount / credit, 'money', words.currency)} each` : 'nobody'
}
