import type { Unit } from '../time/range.js'
import type { StudyDefinition } from './study.js'

/** The unit of a question's buckets, periods or intervals; null where it has none of the calendar's. */
export function countedBy(question: StudyDefinition): Unit | null {
  const { every, period, interval } = question as {
    every?: Unit
    period?: string
    interval?: { unit: Unit } | { days: number }
  }
  if (every) return every
  if (period) return period === 'day' || period === 'month' ? period : 'week'
  return interval && 'unit' in interval ? interval.unit : null
}
