import { touchWords } from '../../../core/analyses/attribution/words.js'
import type { Words } from '../../../core/words/words.js'
import type { BodyProps } from '../view.js'
import { creditsOf } from '../../../core/analyses/attribution/credits.js'
import type { AttributionResult, CreditSide, GoalCredit } from '../../../core/analyses/attribution/finish.js'
import type { AttributionMark, TouchKey } from '../../../core/analyses/attribution/marks.js'
import { isOfAll, leadOf, type AttributionQuestion, type Model } from '../../../core/analyses/attribution/question.js'

/** The places of the values, those with the largest credit by a model first; everything else last. */
export function inOrder({ values }: AttributionResult, credits: readonly number[] | null): number[] {
  const places = values.map((_, place) => place)
  return places.sort((a, b) => {
    const [x, y] = ['rest' in values[a], 'rest' in values[b]]
    if (x !== y) return x ? 1 : -1
    return credits ? credits[b] - credits[a] || a - b : a - b
  })
}

/** The model that is told where a side other than all together is: those from all ways cannot be. */
export function sideModel(question: AttributionQuestion): Model | null {
  const lead = leadOf(question)
  return isOfAll(lead) ? (question.models.find((model) => !isOfAll(model)) ?? null) : lead
}

export function sideCredits(goal: GoalCredit, side: CreditSide, question: AttributionQuestion): number[] | null {
  const model = sideModel(question)
  return model && creditsOf(goal, side, model)
}

type OfCredit = Omit<Extract<AttributionMark, { kind: 'credit' }>, 'kind' | 'goal'>

/** Conversions of a goal. */
export function ofGoal(goal: number, more: OfCredit): AttributionMark {
  return { kind: 'credit', ...(goal > 0 ? { goal } : {}), ...more }
}

export const creditMark = (goal: number, value: TouchKey, more: Omit<OfCredit, 'value'>) =>
  ofGoal(goal, { value, ...more })

/** A value as its row is named. */
export const nameOf = ({ question, result, words }: Named, place: number) =>
  touchWords(result.values[place], question.by, result.restValues, words)

interface Named {
  question: AttributionQuestion
  result: AttributionResult
  words: Words
}
export type Props = BodyProps<AttributionQuestion, AttributionResult, AttributionMark>
