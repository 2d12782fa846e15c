import { z } from 'zod'
import { parseLeniently, type Fault } from '../../questions/faults.js'
import { nestedKeySchema, type NestedKey } from '../../questions/parts.js'
import { splitSchema, type Split } from '../../questions/split.js'
import { rangeSchema, units, type Range, type Unit } from '../../time/range.js'
import { amongSchema, type Among } from '../people.js'
import { MOST_SERIES, seriesSchema, type TrendQuestion, type TrendSeries } from '../trend/question.js'

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

export const crosstabSchema: z.ZodType<CrosstabQuestion> = z.strictObject({
  kind: z.literal('crosstab'),
  series: z.array(seriesSchema).min(1, 'at least one measure').max(MOST_SERIES, `at most ${MOST_SERIES} measures`),
  every: z.enum(units).default('week'),
  range: rangeSchema,
  rows: z
    .array(splitSchema)
    .min(1, 'at least one property for the rows')
    .max(MOST_ROW_LEVELS, 'at most three properties for the rows'),
  column: splitSchema.optional(),
  among: amongSchema.optional(),
  show: z
    .strictObject({
      cells: z.enum(cellForms),
      beside: z.enum(besideForms),
      sort: z.strictObject({ by: z.string().max(500), up: z.literal(true).optional() }).optional(),
      locked: z.array(nestedKeySchema).max(MOST_ROW_LEVELS).optional(),
      folded: z.array(z.string().max(1500)).max(200).optional(),
    })
    .default({ cells: 'bars', beside: 'trend' }),
})

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

export function parseCrosstab(input: unknown): { question: CrosstabQuestion; faults: Fault[] } {
  return parseLeniently(crosstabSchema, input, usualCrosstab('…'))
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
