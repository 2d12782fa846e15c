import type { RetentionCell, RetentionResult, RetentionRow } from '../../../core/analyses/retention/finish.js'
import type { RetentionMeasure, RetentionQuestion } from '../../../core/analyses/retention/question.js'
import { measureName } from '../../../core/analyses/retention/sentence.js'
import { periodWords } from '../../../core/analyses/retention/words.js'
import type { RetentionMark } from '../../../core/analyses/retention/marks.js'
import {
  capital,
  countOf,
  formatAs,
  formatNumber,
  formatPercent,
  shareFigure,
  type NumberUnit,
} from '../../../core/words/format.js'
import { groupWords, type Words } from '../../../core/words/words.js'
import type { ChartLine } from '../../charts/linesConfig.js'
import { bucketLabel } from '../../charts/bucketLabel.js'

/** How the figures of a measure are written. */
export function unitOf(measure: RetentionMeasure): NumberUnit {
  return measure === 'share' ? 'percent' : measure === 'people' ? 'people' : measure === 'events' ? 'count' : 'number'
}

/** A figure in a cell of the table: shares without their sign, which the heading has. */
export function cellText(value: number | null, measure: RetentionMeasure, currency: string): string {
  if (value !== null && measure === 'share') return shareFigure(value)
  return formatAs(value, unitOf(measure), currency)
}

export function rowLabel({ key }: RetentionRow, rest: number): string {
  return key === null ? 'All cohorts' : groupWords(key, rest)
}

/** A mark of a row; all together has no group. */
export function markOf(
  row: RetentionRow,
  mark: Omit<RetentionMark & { kind: 'cohort' }, 'kind' | 'group'>,
): RetentionMark {
  return { kind: 'cohort', ...mark, ...(row.key ? { group: row.key } : {}) }
}

export type Points = { lines: ChartLine[]; marks: (RetentionMark | null)[][] }

/** Shares begin with everybody who started: 100 %. */
export const beginsWhole = ({ measure }: RetentionResult) => measure === 'share'

/** The curve: all cohorts with their interval, a line for each group, or one for each cohort. */
export function curveOf(question: RetentionQuestion, result: RetentionResult, words: Words): Points {
  const { all, groups, rest, cohorts } = result
  const lines: ChartLine[] = []
  const marks: (RetentionMark | null)[][] = []
  const whole = beginsWhole(result)
  if (question.show.each && groups.length === 0) {
    cohorts.forEach(({ key }, c) => {
      if (all.started[c] === 0) return
      const cells = all.cells[c]
      lines.push({
        label: bucketLabel(key, question.every, words),
        values: [...(whole ? [1] : []), ...cells.map(({ value }) => value)],
        tells: [
          ...(whole ? [`${countOf(all.started[c], 'person', 'people')} started`] : []),
          ...cells.map((cell) => cellTells(question, result, cell, all.started[c], words)),
        ],
        dashed: [...(whole ? [false] : []), ...cells.map(({ state }) => state === 'open')],
        rest: false,
      })
      marks.push([
        ...(whole ? [markOf(all, { cohort: key, what: 'started' })] : []),
        ...cells.map(({ returned }, period) =>
          returned > 0 ? markOf(all, { cohort: key, period, what: 'returned' }) : null,
        ),
      ])
    })
    return { lines, marks }
  }
  for (const row of groups.length > 0 ? groups : [all]) {
    lines.push({
      label: rowLabel(row, rest),
      values: [...(whole ? [row.people > 0 ? 1 : null] : []), ...row.line.map(({ value }) => value)],
      tells: [
        ...(whole ? [`${countOf(row.people, 'person', 'people')} started`] : []),
        ...row.line.map(({ value, returned, people, cohorts: many, low, high }) =>
          value === null
            ? 'no cohort is old enough'
            : `${figureText(question, result, value, returned, people, words)}${low === null || high === null ? '' : ` (${formatPercent(low)} to ${formatPercent(high)})`}, ${countOf(many, 'cohort', 'cohorts')}`,
        ),
      ],
      ...(result.measure === 'share'
        ? {
            band: {
              low: [1, ...row.line.map(({ low }) => low)],
              high: [1, ...row.line.map(({ high }) => high)],
            },
          }
        : {}),
      rest: row.key !== null && 'rest' in row.key,
    })
    marks.push([
      ...(whole ? [markOf(row, { what: 'started' })] : []),
      ...row.line.map(({ returned }, period) => (returned > 0 ? markOf(row, { period, what: 'returned' }) : null)),
    ])
  }
  return { lines, marks }
}

/** One period by when people started; for each group where there are any. */
export function overTimeOf(question: RetentionQuestion, result: RetentionResult, at: number, words: Words): Points {
  const { all, groups, rest, cohorts } = result
  const rows = groups.length > 0 ? groups : [all]
  return {
    lines: rows.map((row) => ({
      label: row.key ? rowLabel(row, rest) : capital(periodWords(question, result.periods[at])),
      values: row.cells.map((cells, c) => (row.started[c] > 0 ? cells[at].value : null)),
      tells: row.cells.map((cells, c) => cellTells(question, result, cells[at], row.started[c], words)),
      dashed: row.cells.map((cells) => cells[at].state === 'open'),
      rest: row.key !== null && 'rest' in row.key,
    })),
    marks: rows.map((row) =>
      cohorts.map(({ key }, c) =>
        row.cells[c][at].returned > 0 ? markOf(row, { cohort: key, period: at, what: 'returned' }) : null,
      ),
    ),
  }
}

/** "38 %, 157 of 412 people; not over yet". */
export function cellTells(
  question: RetentionQuestion,
  result: RetentionResult,
  { value, returned, state }: RetentionCell,
  started: number,
  words: Words,
): string {
  if (state === 'ahead') return 'not begun yet'
  const open = state === 'open' ? ', not over yet for all' : ''
  return figureText(question, result, value, returned, started, words) + open
}

function figureText(
  question: RetentionQuestion,
  { measure }: RetentionResult,
  value: number | null,
  returned: number,
  started: number,
  words: Words,
): string {
  const people = `${formatNumber(returned)} of ${countOf(started, 'person', 'people')}`
  if (measure === 'share') return `${formatPercent(value)}, ${people}`
  if (measure === 'people') return people
  return `${measureName(question, words)} ${formatAs(value, unitOf(measure), words.currency)}, ${people} came back`
}
