import { digitsFor } from '../../words/format.js'
import { groupWords, type Words } from '../../words/words.js'
import type { GroupKey } from '../../questions/parts.js'
import { MEASURES, type MeasureUnit } from './measures.js'
import type { TrendLine, TrendResult, TrendRow, TrendRows } from './finish.js'
import type { TrendQuestion, TrendReading } from './question.js'
import { lineWords } from './sentence.js'

/** One line of the chart and one row of the table: a group of a series or formula, as it is read. */
export interface ShownLine {
  /** stays the same when the range moves on */
  id: string
  /** of the series or formula */
  name: string
  /** with its group */
  label: string
  line: TrendLine
  row: TrendRow
  key: GroupKey | null
  rest: boolean
  unit: MeasureUnit | 'index'
  /** decimals of its numbers, the same for all that stand in a row */
  digits: number
  /** as read: shares, index, added up, smoothed; null = a gap */
  values: (number | null)[]
  total: number | null
  /** of the period beside it, by bucket */
  before: { values: (number | null)[]; total: number | null } | null
}

/** The lines that are shown, in order: series by series, group by group. */
export function visibleLines(result: TrendResult): TrendLine[] {
  const shown = result.lines.filter(({ hidden }) => !hidden)
  return shown.length > 0 ? shown : result.lines.slice(0, 1)
}

/** How the question's numbers can be read, beside as they are. */
export function readingsFor(question: TrendQuestion): TrendReading[] {
  const shown = question.series.filter(({ hidden }) => !hidden)
  const plain = (question.formulas?.length ?? 0) === 0
  const readings: TrendReading[] = ['number']
  if (plain && question.breakdowns?.length && shown.every(({ measure }) => MEASURES[measure].shares))
    readings.push('share')
  readings.push('index')
  if (plain && shown.every(({ measure }) => MEASURES[measure].adds)) readings.push('running total')
  return readings
}

/** The reading in force: one that does not go with the measures is not. */
export function readingOf(question: TrendQuestion): TrendReading {
  return readingsFor(question).includes(question.show.as) ? question.show.as : 'number'
}

/** The result as it is read, line by line: chart, table and downloads all show this. */
export function shownLines(result: TrendResult, question: TrendQuestion, words: Words): ShownLine[] {
  return visibleLines(result).flatMap((line) => {
    const grouped = line.groups.length > 0
    return (grouped ? line.groups : [line.all]).map((row, index) =>
      shownRow(
        result,
        question,
        words,
        line,
        row,
        line.before && (grouped ? line.before.groups[index] : line.before.all),
      ),
    )
  })
}

/** All groups of a line together, as it is read. */
export function shownAll(result: TrendResult, question: TrendQuestion, words: Words, line: TrendLine): ShownLine {
  return shownRow(result, question, words, line, line.all, line.before?.all ?? null)
}

function shownRow(
  result: TrendResult,
  question: TrendQuestion,
  words: Words,
  line: TrendLine,
  row: TrendRow,
  before: TrendRow | null,
): ShownLine {
  const as = readingOf(question)
  const many = visibleLines(result).length > 1
  const name = lineWords(question, line.of, words)
  const group = row.key && groupWords(row.key, result.rest)
  const read = (own: TrendRow, all: TrendRow | undefined) => ({
    values: smoothed(readValues(own.values, as, all?.values), question.smooth),
    total: as === 'share' ? shareOf(own.total, all?.total) : as === 'index' ? null : own.total,
  })
  const own = read(row, line.all)
  return {
    id: `${'series' in line.of ? `s${line.of.series}` : `f${line.of.formula}`} ${JSON.stringify(row.key)}`,
    name,
    label: group ? (many ? `${name}, ${group}` : group) : name,
    ...{ line, row, key: row.key },
    rest: row.key !== null && 'rest' in row.key,
    unit: as === 'share' ? 'percent' : as === 'index' ? 'index' : line.unit,
    ...own,
    digits: digitsFor([...own.values, own.total]),
    before: before && read(before, line.before?.all),
  }
}

function shareOf(part: number | null, whole: number | null | undefined): number | null {
  return part === null || !whole ? null : part / whole
}

function readValues(
  values: readonly (number | null)[],
  as: TrendReading,
  all: readonly (number | null)[] | undefined,
): (number | null)[] {
  switch (as) {
    case 'number':
      return [...values]
    case 'share':
      return values.map((value, bucket) => shareOf(value, all?.[bucket]))
    case 'index': {
      const first = values.find((value) => value !== null && value !== 0)
      return values.map((value) => (value === null || !first ? null : (value / first) * 100))
    }
    case 'running total': {
      let sum = 0
      return values.map((value) => (sum += value ?? 0))
    }
  }
}

/** Trailing mean of k buckets: gaps are skipped, and there are fewer at the start. */
export function smoothed(values: readonly (number | null)[], k: number | undefined): (number | null)[] {
  if (!k || k < 2) return [...values]
  return values.map((_, at) => {
    const window = values.slice(Math.max(0, at - k + 1), at + 1).filter((value) => value !== null)
    return window.length > 0 ? window.reduce((sum, value) => sum + value, 0) / window.length : null
  })
}

/** The result with its points smoothed, where the question has them so; figures of the whole time are not. */
export function smoothedResult(result: TrendResult, { smooth }: TrendQuestion): TrendResult {
  if (!smooth) return result
  const row = (each: TrendRow): TrendRow => ({ ...each, values: smoothed(each.values, smooth) })
  const rows = ({ groups, all }: TrendRows): TrendRows => ({ groups: groups.map(row), all: row(all) })
  return {
    ...result,
    lines: result.lines.map((line) => ({ ...line, ...rows(line), before: line.before && rows(line.before) })),
  }
}
