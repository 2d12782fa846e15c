import { put } from '../../editors/put.js'
import {
  cumulates,
  isOfProperty,
  type RetentionMeasure,
  type RetentionQuestion,
} from '../../../core/analyses/retention/question.js'

/** Another measure: what does not go with it is let go. */
export function withMeasure(question: RetentionQuestion, measure: RetentionMeasure): RetentionQuestion {
  const next = put(question, 'measure', measure === 'share' ? undefined : measure)
  const added = cumulates(measure) ? next : put(next, 'cumulated', undefined)
  return isOfProperty(measure) ? added : put(added, 'of', undefined)
}
