import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import { MEASURES } from '../../core/analyses/trend/measures.js'
import { readingOf } from '../../core/analyses/trend/shown.js'

/** Whether the parts of what is shown add up, so that they may stand on one another. */
export function canStack(question: TrendQuestion): boolean {
  return (
    !question.formulas?.length &&
    readingOf(question) !== 'index' &&
    question.series.every(({ hidden, measure }) => hidden || MEASURES[measure].shares)
  )
}
