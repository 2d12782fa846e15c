import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import { shownLines, type ShownLine } from '../../core/analyses/trend/shown.js'
import type { Mark } from '../../core/questions/parts.js'
import type { Unit } from '../../core/time/range.js'
import { formatAs, formatDay, formatMonth, MISSING } from '../../core/words/format.js'
import type { Words } from '../../core/words/words.js'

/** A line with its place among all lines, which gives it its colour whether or not others are taken out. */
export interface ChartLine extends ShownLine {
  place: number
}

/** The lines of the chart: all that are shown, save those taken out by hand. */
export function chartLines(result: TrendResult, question: TrendQuestion, words: Words): ChartLine[] {
  const off = new Set(question.show.off)
  return allLines(result, question, words).filter(({ id }) => !off.has(id))
}

export function allLines(result: TrendResult, question: TrendQuestion, words: Words): ChartLine[] {
  return shownLines(result, question, words).map((line, place) => ({ ...line, place }))
}

/** The mark of a line at a bucket, or over the whole range; null where no people stand behind it. */
export function markOf(line: ShownLine, bucket?: string, before = false): Mark {
  const { of } = line.line
  return {
    kind: 'point',
    ...(bucket === undefined ? {} : { bucket }),
    ...(line.key ? { group: line.key } : {}),
    ...('formula' in of ? { formula: of.formula } : of.series > 0 ? { series: of.series } : {}),
    ...(before ? { before: true as const } : {}),
  }
}

export function formatValue(
  value: number | null,
  line: Pick<ShownLine, 'unit'> & { digits?: number },
  words: Words,
): string {
  return value === null ? MISSING : formatAs(value, line.unit, words.currency, line.digits)
}

/** A bucket as a heading by itself: `Week of 14 Sep`. */
export function bucketTitle(key: string, unit: Unit, words: Words): string {
  const lead = unit === 'week' ? 'Week of ' : unit === 'quarter' ? 'Quarter from ' : ''
  return lead + bucketLabel(key, unit, words)
}

/** The short name of a bucket, for axes and column heads. */
export function bucketLabel(key: string, unit: Unit, words: Words): string {
  if (unit === 'hour') return `${formatDay(key.slice(0, 10), words.thisYear)} ${key.slice(11, 16)}`
  if (unit === 'month') return formatMonth(key, words.thisYear).replace(/^([A-Z][a-z]{2})[a-z]*/, '$1')
  return formatDay(key, words.thisYear)
}
