import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import type { TrendResult, TrendRow } from '../../core/analyses/trend/finish.js'
import type { GroupKey } from '../../core/questions/parts.js'
import { formatDay, formatMonth, formatNumber, formatPercent } from '../../core/words/format.js'
import { eventWords, groupWords, type Words } from '../../core/words/words.js'
import type { Unit } from '../../core/time/range.js'

/** One line of the chart: a group, or all together. */
export interface ChartSeries {
  label: string
  key: GroupKey | null
  rest: boolean
  /** what is drawn: numbers, or shares of all together; null = a gap */
  values: (number | null)[]
  row: TrendRow
}

/** Whether the result can be shown as shares: averages have none. */
export function canShare(question: TrendQuestion): boolean {
  return question.series[0].measure !== 'events per person' && (question.breakdowns?.length ?? 0) > 0
}

export function chartSeries(result: TrendResult, question: TrendQuestion, words: Words): ChartSeries[] {
  const asShare = question.show.as === 'share' && canShare(question)
  const rows = result.groups.length > 0 ? result.groups : [result.all]
  return rows.map((row) => ({
    label: row.key ? groupWords(row.key, result.rest) : eventWords(question.series[0].event, words),
    key: row.key,
    rest: row.key !== null && 'rest' in row.key,
    values: asShare ? row.values.map((value, b) => shareOf(value, result.all.values[b])) : row.values,
    row,
  }))
}

function shareOf(part: number | null, whole: number | null): number | null {
  return part === null || !whole ? null : part / whole
}

export function formatValue(value: number | null, question: TrendQuestion): string {
  return question.show.as === 'share' && canShare(question) ? formatPercent(value) : formatNumber(value)
}

/** The short name of a bucket, for axes and column heads. */
export function bucketLabel(key: string, unit: Unit, words: Words): string {
  if (unit === 'hour') return `${formatDay(key.slice(0, 10), words.thisYear)} ${key.slice(11, 16)}`
  if (unit === 'month') return formatMonth(key, words.thisYear).replace(/^([A-Z][a-z]{2})[a-z]*/, '$1')
  return formatDay(key, words.thisYear)
}
