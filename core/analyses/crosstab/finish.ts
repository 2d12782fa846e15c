import type { NestedKey } from '../../questions/parts.js'
import type { Bucket } from '../../time/buckets.js'
import { figureOf } from '../trend/cells.js'
import { MEASURES, type MeasureUnit } from '../trend/measures.js'
import { handleOf } from '../trend/question.js'
import type { CrosstabPart, CrosstabPlan } from './plan.js'
import { countedSeries, type CrosstabQuestion } from './question.js'
import { groupsOf } from './scan.js'

export interface CrosstabColumn {
  /** which measure */
  series: number
  /** the group of the property across; null = all of them together */
  key: NestedKey | null
  /** how many groups everything else stands for */
  rest: number
  name: string
  unit: MeasureUnit
}

export interface CrosstabRow {
  path: NestedKey[]
  /** how many groups everything else stands for */
  rest: number
  /** by column; null = a gap */
  values: (number | null)[]
  /** distinct people by column: how many a selected cell holds */
  people: number[]
  /** by measure, across all columns: its figure by bucket */
  trends: (number | null)[][]
}

export interface CrosstabResult {
  kind: 'crosstab'
  buckets: Bucket[]
  columns: CrosstabColumn[]
  /** outer rows before the rows within them, in the order they are kept in */
  rows: CrosstabRow[]
  all: CrosstabRow
  /** a person may be in several rows or columns, so that people do not add up */
  overlap: boolean
}

export function finishCrosstab(part: CrosstabPart, plan: CrosstabPlan, question: CrosstabQuestion): CrosstabResult {
  if (part.pass !== 'count') throw new RangeError('only the last pass can be finished')
  const { buckets } = plan.trend.periods[0]
  const whole = buckets.length
  const width = plan.nested!.width
  const together = groupsOf(plan)
  const series = countedSeries(question)
  const figures = series.map((_, index) =>
    figureOf(part.series[index], plan.trend.series[index], whole + 1, part.active),
  )
  const measured = (index: number) => ({ name: handleOf(question, index), unit: MEASURES[series[index].measure].unit })
  const columns: CrosstabColumn[] = question.column
    ? [
        ...plan.columns.map(({ key, rest }) => ({ series: 0, key, rest, ...measured(0) })),
        { series: 0, key: null, rest: 0, ...measured(0) },
      ]
    : series.map((_, index) => ({ series: index, key: null, rest: 0, ...measured(index) }))
  const rowAt = (at: number): CrosstabRow => {
    const groupOf = (column: CrosstabColumn, index: number) => {
      const group = at * width + (column.key === null ? 0 : index + 1)
      return group === 0 ? together : group
    }
    const across = at === 0 ? together : at * width
    return {
      ...plan.rows[at],
      values: columns.map((column, index) => figures[column.series](groupOf(column, index), whole)),
      people: columns.map(
        (column, index) => part.series[column.series].people[groupOf(column, index) * (whole + 1) + whole],
      ),
      trends: figures.map((figure) => buckets.map((_, bucket) => figure(across, bucket))),
    }
  }
  const [all, ...rows] = depthFirst(plan.rows).map(rowAt)
  const outer = rows.filter(({ path }) => path.length === 1)
  const last = columns.length - 1
  const rowsOverlap = outer.reduce((sum, { people }) => sum + people[last], 0) > all.people[last]
  const columnsOverlap = question.column && all.people.slice(0, -1).reduce((sum, n) => sum + n, 0) > all.people[last]
  return { kind: 'crosstab', buckets, columns, rows, all, overlap: rowsOverlap || columnsOverlap === true }
}

/** The rows' numbers, each row followed by those within it. */
function depthFirst(rows: CrosstabPlan['rows']): number[] {
  const within = new Map<string, number[]>()
  const idOf = (path: readonly NestedKey[]) => JSON.stringify(path)
  rows.forEach(({ path }, index) => {
    if (path.length === 0) return
    const parent = idOf(path.slice(0, -1))
    const list = within.get(parent)
    if (list) list.push(index)
    else within.set(parent, [index])
  })
  const walk = (index: number): number[] => [index, ...(within.get(idOf(rows[index].path)) ?? []).flatMap(walk)]
  return walk(0)
}
