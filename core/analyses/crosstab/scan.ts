import { nestedId } from '../../questions/groupId.js'
import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import type { NestedKey } from '../../questions/parts.js'
import { mergeSeries } from '../trend/cells.js'
import { countActive, countSeries, mergeTrend, scanTrend } from '../trend/scan.js'
import { eachCounted, type Walk } from '../trend/visit.js'
import type { CrosstabPart, CrosstabPlan } from './plan.js'
import type { CrosstabMark } from './marks.js'

/**
 * Counts every measure (how numbers are counted, 5) in each row, at every depth, and each column. Totals are counted
 * like any other cell: a person in two rows is once in their total.
 */
export function scanCrosstab(log: EventLog, people: PersonRange, plan: CrosstabPlan): CrosstabPart {
  const { trend } = plan
  if (plan.pass === 'cuts') return { pass: 'cuts', part: scanTrend(log, people, trend) }
  if (plan.pass === 'rank') return { pass: 'rank', parts: plan.ranked.map((ranked) => scanTrend(log, people, ranked)) }
  const groups = groupsOf(plan)
  return {
    pass: 'count',
    series: trend.series.map((series, index) => countSeries(log, people, trend, series, walkOf(plan, index), groups)),
    active: trend.active && countActive(log, people, trend, trend.active, trend.periods[0]),
  }
}

/** How many groups are counted beside all together, which comes after them. */
export function groupsOf({ rows, nested }: CrosstabPlan): number {
  return rows.length * nested!.width
}

function walkOf({ trend, nested }: CrosstabPlan, index: number): Walk {
  return { period: trend.periods[0], index, split: nested, combinations: null }
}

export function mergeCrosstab(a: CrosstabPart, b: CrosstabPart): CrosstabPart {
  if (a.pass === 'cuts' && b.pass === 'cuts') return { pass: 'cuts', part: mergeTrend(a.part, b.part) }
  if (a.pass === 'rank' && b.pass === 'rank')
    return { pass: 'rank', parts: a.parts.map((part, index) => mergeTrend(part, b.parts[index])) }
  if (a.pass === 'count' && b.pass === 'count')
    return {
      pass: 'count',
      series: a.series.map((part, index) => mergeSeries(part, b.series[index])),
      active: a.active && addArrays(a.active, b.active!),
    }
  throw new RangeError(`parts of different passes: ${a.pass} and ${b.pass}`)
}

/** The people counted in any of the marked cells, ascending by the workspace's number. */
export function selectCrosstab(
  log: EventLog,
  people: PersonRange,
  plan: CrosstabPlan,
  marks: readonly CrosstabMark[],
): Uint32Array {
  const found = new Set<number>()
  const idOf = (path: readonly NestedKey[]) => path.map(nestedId).join(' ')
  const { width } = plan.nested!
  const { buckets } = plan.trend.periods[0]
  for (const mark of marks) {
    if (mark.kind !== 'cell') continue
    const row = plan.rows.findIndex(({ path }) => idOf(path) === idOf(mark.row))
    const column = mark.column ? plan.columns.findIndex(({ key }) => nestedId(key) === nestedId(mark.column!)) + 1 : 0
    const bucket = mark.bucket === undefined ? null : buckets.findIndex(({ key }) => key === mark.bucket)
    const index = mark.series ?? 0
    const series = plan.trend.series[index]
    if (row < 0 || (mark.column && column === 0) || bucket === -1 || !series) continue
    const group = row * width + column
    const walk = walkOf(plan, index)
    eachCounted(log, people, series, plan.trend, walk, (_row, _slot, person, reader, first, last, whole) => {
      if (bucket === null ? !whole : bucket < first || bucket > last) return
      if (group > 0) {
        let is = false
        for (let i = 0; reader && i < reader.length; i++) is ||= reader.found[i] === group
        if (!is) return
      }
      found.add(person)
    })
  }
  return Uint32Array.from(found).sort()
}
