import type { Unit } from '../../core/time/range.js'
import { formatDay, formatMonth } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'

/** A bucket as a heading by itself: `Week of 14 Sep`. */
export function bucketTitle(key: string, unit: Unit, words: Words): string {
  const lead = { week: 'Week of ', quarter: 'Quarter from ', year: 'Year ', month: '', day: '', hour: '' }[unit]
  return lead + bucketLabel(key, unit, words)
}

/** The short name of a bucket, for axes and column heads. */
export function bucketLabel(key: string, unit: Unit, words: Words): string {
  if (unit === 'hour') return `${formatDay(key.slice(0, 10), words.thisYear)} ${key.slice(11, 16)}`
  if (unit === 'month') return formatMonth(key, words.thisYear).replace(/^([A-Z][a-z]{2})[a-z]*/, '$1')
  return unit === 'year' ? key.slice(0, 4) : formatDay(key, words.thisYear)
}
