import { groupId } from '../../questions/groupId.js'
import type { TrendPlan } from './shape.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { eachCounted, type Walk } from './visit.js'
import type { TrendMark } from './marks.js'

/** The people counted in any of the marked cells, ascending by the workspace's number. */
export function selectTrend(
  log: EventLog,
  people: PersonRange,
  plan: TrendPlan,
  marks: readonly TrendMark[],
): Uint32Array {
  const found = new Set<number>()
  for (const mark of marks) {
    if (mark.kind !== 'point') continue
    const counted = countedIn(log, people, plan, mark, mark.bucket)
    if (mark.not !== undefined)
      for (const person of countedIn(log, people, plan, mark, mark.not)) counted.delete(person)
    for (const person of counted) found.add(person)
  }
  return Uint32Array.from(found).sort()
}

/** The first event that is counted in one of the marks. */
export function momentOfTrend(
  log: EventLog,
  index: number,
  plan: TrendPlan,
  marks: readonly TrendMark[],
): number | null {
  for (const mark of marks) {
    if (mark.kind !== 'point') continue
    let moment: number | null = null
    const people = { from: index, to: index + 1 }
    eachInMark(log, people, plan, mark, mark.bucket, (row) => (moment ??= row))
    if (moment !== null) return moment
  }
  return null
}

function countedIn(
  log: EventLog,
  people: PersonRange,
  plan: TrendPlan,
  mark: TrendMark,
  bucketKey: string | undefined,
): Set<number> {
  const found = new Set<number>()
  eachInMark(log, people, plan, mark, bucketKey, (_row, person) => found.add(person))
  return found
}

/** Visits the events that are counted in a mark's cell. */
function eachInMark(
  log: EventLog,
  people: PersonRange,
  plan: TrendPlan,
  mark: TrendMark,
  bucketKey: string | undefined,
  visit: (row: number, person: number) => void,
): void {
  const period = plan.periods[mark.before ? 1 : 0]
  if (!period) return
  const bucket = bucketKey === undefined ? null : period.buckets.findIndex(({ key }) => key === bucketKey)
  const group = mark.group ? plan.keys.findIndex((key) => groupId(key) === groupId(mark.group)) : null
  if (bucket === -1 || group === -1) return
  for (const index of seriesOf(plan, mark)) {
    const series = plan.series[index]
    if (!series) continue
    const walk: Walk = { period, index, split: group === null ? null : plan.split, combinations: null }
    eachCounted(log, people, series, plan, walk, (row, _slot, person, reader, first, last, whole) => {
      if (bucket === null ? !whole : bucket < first || bucket > last) return
      if (group !== null) {
        let is = false
        for (let i = 0; i < reader!.length; i++) is ||= reader!.found[i] === group
        if (!is) return
      }
      visit(row, person)
    })
  }
}

/** A formula's people are those of every series that it uses. */
function seriesOf(plan: TrendPlan, { series, formula }: TrendMark): readonly number[] {
  return formula === undefined ? [series ?? 0] : (plan.formulas[formula]?.uses ?? [])
}
