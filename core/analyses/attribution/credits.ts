import { creditOf } from './credit.js'
import type { CreditSide, GoalCredit } from './finish.js'
import type { Model } from './question.js'

/** The credit of each value by a model: of all together, or of one side; null where it is told of all together only. */
export function creditsOf(goal: GoalCredit, side: CreditSide, model: Model): number[] | null {
  if (model === 'removal' || model === 'shapley') {
    if (side !== goal.all) return null
    return model === 'removal' ? (goal.removal?.map(({ value }) => value) ?? null) : goal.shapley
  }
  return side.credit.map((credit) => creditOf(credit, model)!)
}
