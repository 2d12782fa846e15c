import { Link } from 'react-router'
import type { AttributionResult, CostOfValues } from '../../../core/analyses/attribution/finish.js'
import { costEach } from '../../../core/analyses/attribution/costWords.js'
import type { AttributionQuestion } from '../../../core/analyses/attribution/question.js'
import { touchByWords } from '../../../core/analyses/attribution/words.js'
import { countOf, formatAs, formatDay, formatNumber, MISSING } from '../../../core/words/format.js'
import type { Words } from '../../../core/words/words.js'

/** What a conversion cost by a model, or how much of it came back: `12.40 € each`, `3.2 × back`. */
export function CostOf(props: {
  cost: CostOfValues
  place: number
  credit: number | null
  question: AttributionQuestion
  words: Words
}) {
  const { cost, place, credit, question, words } = props
  const amount = cost.amounts[place] ?? null
  return <small className="cost-each">{amount === null ? ' ' : costEach(amount, credit, question, words)}</small>
}

export const paid = (amount: number | null, words: Words) =>
  amount === null ? MISSING : formatAs(amount, 'money', words.currency)

/** So many values and gaps are named. */
const NAMED = 4

/** What is not known of costs, and what was paid for what brought nobody. */
export function CostNote(props: { question: AttributionQuestion; result: AttributionResult; words: Words }) {
  const { question, words, result } = props
  const { cost } = result
  if (!cost) return null
  const where = (
    <Link to="/catalog/costs" className="quiet">
      Costs
    </Link>
  )
  if (cost.missingDays === cost.days)
    return (
      <p className="hint">
        Nothing is recorded of what {touchByWords(question.by, words)} cost in this time. Bring it in under {where}.
      </p>
    )
  const day = (text: string) => formatDay(text, words.thisYear)
  return (
    <p className="hint">
      {cost.others.length > 0 &&
        `Paid for what brought nobody: ${cost.others
          .slice(0, NAMED)
          .map(({ value, amount }) => `${value} ${paid(amount, words)}`)
          .join(', ')}${cost.otherValues > NAMED ? ` and ${formatNumber(cost.otherValues - NAMED)} more` : ''}. `}
      {cost.missingDays > 0 &&
        `Nothing is recorded for ${formatNumber(cost.missingDays)} of ${countOf(cost.days, 'day', 'days')} (${cost.missing
          .slice(0, NAMED)
          .map(({ from, to }) => (from === to ? day(from) : `${day(from)} to ${day(to)}`))
          .join(', ')}${cost.missing.length > NAMED ? ' and more' : ''}): what a conversion cost is told too low. `}
      {cost.parts > 0 && 'Weeks that reach over the edge of this time count by their days in it. '}
      {where}
    </p>
  )
}
