import type { TrendResult } from '../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import { shownLines, type ShownLine } from '../../core/analyses/trend/shown.js'
import type { TrendMark } from '../../core/analyses/trend/marks.js'
import { formatAs, MISSING } from '../../core/words/format.js'
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
export function markOf(line: ShownLine, bucket?: string, before = false): TrendMark {
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
