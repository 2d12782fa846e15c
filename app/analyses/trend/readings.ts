import type { TrendReading } from '../../../core/analyses/trend/question.js'

export const READINGS: Record<TrendReading, string> = {
  number: 'Number',
  share: 'Share',
  index: 'Index',
  'running total': 'Running total',
}
