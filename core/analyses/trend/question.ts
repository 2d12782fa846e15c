import type { Comparison } from '../../time/comparison.js'
import type { Range } from '../../time/range.js'
import type { EventChoice, Filter, PropertyRef } from '../../questions/parts.js'
import type { Split } from '../../questions/split.js'
import type { Unit } from '../../time/range.js'
import type { Among } from '../people.js'
import type { TrendMeasure } from './measures.js'

export const trendForms = ['lines', 'stacked', 'bars', 'side by side', 'ranked', 'ring', 'week', 'figure'] as const
export type TrendForm = (typeof trendForms)[number]
export const trendReadings = ['number', 'share', 'index', 'running total'] as const
/** How the numbers are read: as they are, as shares of all, with the first as 100, or added up from the start. */
export type TrendReading = (typeof trendReadings)[number]

/** The columns of the table that can be left out. */
export const tableColumns = ['total', 'before', 'difference', 'change', 'contribution', 'buckets'] as const
export type TableColumn = (typeof tableColumns)[number]

export interface TrendSeries {
  /** its short name, in formulas and lines of its own; left out: a letter by its place */
  name?: string | undefined
  event: EventChoice
  where?: Filter | undefined
  measure: TrendMeasure
  /** the property of a measure that needs one */
  of?: PropertyRef | undefined
  /** W of *people in the last days*; 28 where left out */
  days?: number | undefined
  /** only used by formulas, not shown itself */
  hidden?: true | undefined
}

export const formulaUnits = ['number', 'percent', 'money', 'duration'] as const
export type FormulaUnit = (typeof formulaUnits)[number]

/** Arithmetic on the short names of the series: its result is a line of its own. */
export interface TrendFormula {
  name?: string | undefined
  formula: string
  /** how it is written; a duration counts in seconds */
  unit: FormulaUnit
}

/** "How many people did X each week over …, for each …?" */
export interface TrendQuestion {
  kind: 'trend'
  series: TrendSeries[]
  formulas?: TrendFormula[] | undefined
  every: Unit
  range: Range
  /** up to three; their combinations are the groups */
  breakdowns?: Split[] | undefined
  among?: Among | undefined
  compare?: Comparison | undefined
  /** trailing mean of so many buckets */
  smooth?: number | undefined
  /** how the result is read and drawn; changes nothing that is counted */
  show: {
    form: TrendForm
    as: TrendReading
    log?: true | undefined
    /** lines that are taken out of the chart, by their ids */
    off?: string[] | undefined
    /** which dated notes are shown; left out: all */
    notes?: 'none' | { tag: string } | undefined
    /** of the table: cells shaded by their size, rows that stay on top by their ids, columns that are left out */
    heat?: true | undefined
    pinned?: string[] | undefined
    without?: TableColumn[] | undefined
  }
}

export const MOST_SERIES = 8
export const MOST_FORMULAS = 4

export function usualTrend(event: string): TrendQuestion {
  return {
    kind: 'trend',
    series: [{ event: { names: [event] }, measure: 'people' }],
    every: 'week',
    range: { last: 12, unit: 'week' },
    show: { form: 'lines', as: 'number' },
  }
}

/** The short name of a series: its own, or a letter by its place. */
export function handleOf(question: Pick<TrendQuestion, 'series'>, index: number): string {
  return question.series[index].name ?? 'abcdefgh'[index]
}

/** The short names of all series, in order. */
export function handlesOf(question: Pick<TrendQuestion, 'series'>): string[] {
  return question.series.map((_, index) => handleOf(question, index))
}

/**
 * The question without one of its series. The others keep the short names that formulas know them by, also where those
 * are letters by their places; what the chart and table remember of lines by their places is let go.
 */
export function withoutSeries(question: TrendQuestion, index: number): TrendQuestion {
  const { off: _off, pinned: _pinned, ...show } = question.show
  const named = question.formulas?.length
    ? question.series.map((series, place) => ({ ...series, name: handleOf(question, place) }))
    : question.series
  return { ...question, series: named.toSpliced(index, 1), show }
}

export const DEFAULT_DAYS = 28
