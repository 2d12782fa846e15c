import type { TrendPlan } from '../trend/shape.js'
import { figureOf } from '../trend/cells.js'
import { nextTrend, planTrend, type TrendPart } from '../trend/plan.js'
import { keepNested, type NestedPlan, type NestedRow } from '../../groups/nested.js'
import type { Fault } from '../../questions/faults.js'
import type { NestedKey } from '../../questions/parts.js'
import type { QueryContext } from '../analysis.js'
import type { SeriesPart } from '../trend/cells.js'
import { asTrend, type CrosstabQuestion } from './question.js'

/**
 * cuts = collects the numbers of a breakdown that are to be cut into ranges; rank = counts every group of every depth
 * over the range; count = counts the kept rows and columns bucket by bucket.
 */
export interface CrosstabPlan {
  pass: 'cuts' | 'rank' | 'count'
  /** the trend that counts the same, with the first passes' groups */
  trend: TrendPlan
  /** by depth the trends whose groups are to be ranked, then the columns' */
  ranked: TrendPlan[]
  nested: NestedPlan | null
  rows: NestedRow[]
  columns: { key: NestedKey; rest: number }[]
}

export type CrosstabPart =
  | { pass: 'cuts'; part: TrendPart }
  | { pass: 'rank'; parts: TrendPart[] }
  | { pass: 'count'; series: SeriesPart[]; active: Float64Array | null }

/** So many cells are counted at most, with all their buckets. */
const MOST_CELLS = 2_000_000
/** More rows than this nobody reads. */
const MOST_ROWS = 2000

export function planCrosstab(question: CrosstabQuestion, context: QueryContext, faults: Fault[]): CrosstabPlan {
  const found: Fault[] = []
  const trend = planTrend(asTrend(question), context, found)
  const rows = question.rows.length
  for (const fault of found) faults.push({ ...fault, path: ownPath(fault.path, rows) })
  const plan: CrosstabPlan = { pass: 'cuts', trend, ranked: [], nested: null, rows: [], columns: [] }
  // Without all of its breakdowns known nothing is counted: the faults say which is not.
  return trend.pass === 'rank' ? { ...plan, pass: 'rank', ranked: rankPlans(trend, question) } : plan
}

/** A fault's place as the crosstab names it. */
function ownPath(path: Fault['path'], rows: number): Fault['path'] {
  const [head, index, ...rest] = path
  if (head !== 'breakdowns' || typeof index !== 'number') return path
  return index < rows ? ['rows', index, ...rest] : ['column', ...rest]
}

/** A trend for each depth of rows and one for the columns, ranked by the first series. */
function rankPlans(trend: TrendPlan, { rows, column }: CrosstabQuestion): TrendPlan[] {
  const { parts } = trend.split!
  const by = (parts: TrendPlan['split'] & object) => ({ ...trend, pass: 'rank' as const, split: parts })
  const depths = rows.map((_, depth) => by({ parts: parts.slice(0, depth + 1), table: null }))
  return column ? [...depths, by({ parts: parts.slice(rows.length), table: null })] : depths
}

export function nextCrosstab(
  part: CrosstabPart,
  plan: CrosstabPlan,
  question: CrosstabQuestion,
  context: QueryContext,
): CrosstabPlan | null {
  if (part.pass === 'count') return null
  if (part.pass === 'cuts') {
    const trend = nextTrend(part.part, plan.trend, asTrend(question), context)!
    if (trend.pass === 'cuts') return { ...plan, trend }
    return { ...plan, trend, pass: 'rank', ranked: rankPlans(trend, question) }
  }
  const levels = part.parts.map((ranks, index) => {
    if (ranks.pass !== 'rank') throw new RangeError('groups are ranked before they are counted')
    const figure = figureOf(ranks.cells, plan.trend.series[0], 1, null)
    const found = ranks.ids.flatMap((id, group) =>
      ranks.cells.events[group] > 0 ? [{ id, rank: figure(group, 0) }] : [],
    )
    return { split: question.rows[index] ?? question.column!, found }
  })
  const depth = question.rows.length
  const column = question.column ? levels[depth] : null
  const width = (question.column?.keep ?? 0) + 2
  const most = Math.floor(MOST_CELLS / (width * (plan.trend.periods[0].buckets.length + 1)))
  const { parts } = plan.trend.split!
  const kept = keepNested(parts, levels.slice(0, depth), column, Math.min(MOST_ROWS, most), context)
  const { plan: nested, rows, columns } = kept
  return { ...plan, pass: 'count', nested, rows, columns }
}
