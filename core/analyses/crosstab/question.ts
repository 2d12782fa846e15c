import type { Range } from '../../time/range.js'
import type { NestedKey } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Unit } from '../../time/range.js'
import type { Among } from '../people.js'
import type { TrendQuestion, TrendSeries } from '../trend/question.js'

export const cellForms = ['bars', 'heat', 'plain'] as const
/** How large a number is shows as a bar in its cell, as the cell's shade, or not at all. */
export type CellForm = (typeof cellForms)[number]
export const besideForms = ['trend', 'figure', 'ring', 'nothing'] as const
/** What stands beside the table, of the row it follows. */
export type BesideForm = (typeof besideForms)[number]

/** "How many people did X each week over …, a row for each …, a column for each …?" */
export interface CrosstabQuestion {
  kind: 'crosstab'
  /** a column each; with a property across, only the first is asked */
  series: TrendSeries[]
  /** buckets of the trend beside the table */
  every: Unit
  range: Range
  /** up to three, each within the one before */
  rows: Split[]
  /** a column for each of its groups */
  column?: Split | undefined
  among?: Among | undefined
  show: {
    cells: CellForm
    beside: BesideForm
    /** by the rows' names, or a column by its id; largest first where not `up`. Left out: in their own order */
    sort?: { by: string; up?: true | undefined } | undefined
    /** the row that stays beside, whichever is pressed */
    locked?: NestedKey[] | undefined
    /** rows whose inner rows are folded away, by their ids */
    folded?: string[] | undefined
  }
}

export const MOST_ROW_LEVELS = 3

export function usualCrosstab(event: string): CrosstabQuestion {
  return {
    kind: 'crosstab',
    series: [{ event: { names: [event] }, measure: 'people' }],
    every: 'week',
    range: { last: 12, unit: 'week' },
    rows: [{ by: { of: 'source' }, keep: 10 }],
    show: { cells: 'bars', beside: 'trend' },
  }
}

/** The series that are counted: across the values of a property there is room for one. */
export function countedSeries({ series, column }: CrosstabQuestion): TrendSeries[] {
  return column ? series.slice(0, 1) : series
}

/** The trend that counts the same: its breakdowns are the rows, then the columns. */
export function asTrend(question: CrosstabQuestion): TrendQuestion {
  const { every, range, rows, column, among } = question
  return {
    ...{ kind: 'trend', series: countedSeries(question), every, range },
    ...(among ? { among } : {}),
    breakdowns: column ? [...rows, column] : rows,
    show: { form: 'lines', as: 'number' },
  }
}
