import type { ColumnRef, Test } from '../../filters/compile.js'
import type { GroupedPlan, GroupPass } from '../../groups/grouped.js'
import type { CutPlan } from '../../sessions/cuts.js'
import type { Bucket, Grid } from '../../time/buckets.js'
import type { Reach, TrendMeasure } from './measures.js'

/** What a trend is counted by: names as codes, filters as tables. */

/** A series with its names as codes. */
export interface SeriesPlan {
  types: Uint16Array
  test: Test | null
  measure: TrendMeasure
  reach: Reach
  /** the property of the measure; `elements` are those of its lists, by code */
  value: { column: ColumnRef; elements: ReadonlyMap<number, readonly number[]>; codes: number } | null
}

/** For measures that look back: which buckets an event counts in, by quarters of an hour. */
export interface ReachTable {
  /** start of the first quarter; earlier events count from the first bucket on, or not at all */
  origin: number
  first: Uint16Array
  /** the last bucket, by quarter; before `first` where there is none */
  last: Int32Array
  /** whether events before the table count, in all buckets */
  everBefore: boolean
  /** events from this moment on count for the whole range */
  wholeFrom: number
}

/** A stretch of time that is counted: the one asked about, or the one it stands beside. */
export interface PeriodPlan {
  grid: Grid
  buckets: Bucket[]
  /** by series; null for measures that read the range alone */
  reaches: (ReachTable | null)[]
}

/**
 * cuts = collects the numbers of a breakdown that are to be cut into ranges; rank = counts every group over the range;
 * count = counts the kept groups bucket by bucket.
 */
export interface TrendPlan extends GroupedPlan {
  pass: GroupPass
  series: SeriesPlan[]
  /** which series each formula uses */
  formulas: { uses: number[] }[]
  /** the types that count as activity, where a series needs them */
  active: Uint16Array | null
  /** the range, then the period it stands beside, if any */
  periods: PeriodPlan[]
  among: Uint8Array | null
  sessions: CutPlan
  /** epoch ms; nothing later is seen */
  now: number
}
