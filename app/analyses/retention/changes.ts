import {
  cumulates,
  isOfProperty,
  type RetentionMeasure,
  type RetentionQuestion,
} from '../../../core/analyses/retention/question.js'

/** A setting changed, or left out. */
export function put<K extends keyof RetentionQuestion>(
  question: RetentionQuestion,
  key: K,
  value: RetentionQuestion[K] | undefined,
): RetentionQuestion {
  const { [key]: _before, ...rest } = question
  return (value === undefined ? rest : { ...rest, [key]: value }) as RetentionQuestion
}

/** Another measure: what does not go with it is let go. */
export function withMeasure(question: RetentionQuestion, measure: RetentionMeasure): RetentionQuestion {
  const next = put(question, 'measure', measure === 'share' ? undefined : measure)
  const added = cumulates(measure) ? next : put(next, 'cumulated', undefined)
  return isOfProperty(measure) ? added : put(added, 'of', undefined)
}
