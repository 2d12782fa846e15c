import type { PeriodPlan, TrendPlan } from './shape.js'
import { parseFormula } from '../../formula/formula.js'
import type { GroupKey } from '../../questions/parts.js'
import type { Bucket } from '../../time/buckets.js'
import { figureOf, type SeriesPart } from './cells.js'
import { MEASURES, type MeasureUnit } from './measures.js'
import type { TrendPart } from './plan.js'
import { handleOf, handlesOf, type TrendQuestion } from './question.js'

export interface TrendRow {
  /** null = all together */
  key: GroupKey | null
  /** the measure by bucket; null = a gap */
  values: (number | null)[]
  /** the measure over the whole range, worked out on the range and not from its buckets */
  total: number | null
  /** distinct people by bucket and over the range: how many a selected cell holds; none for a formula */
  people: number[]
  totalPeople: number
}

export interface TrendRows {
  /** one for each group, the rest last; empty without a breakdown */
  groups: TrendRow[]
  all: TrendRow
}

/** What one series or formula gives. */
export interface TrendLine extends TrendRows {
  of: { series: number } | { formula: number }
  /** its short name */
  name: string
  unit: MeasureUnit
  /** only used by formulas */
  hidden: boolean
  /** the same in the period it stands beside, bucket k beside bucket k */
  before: TrendRows | null
}

export interface TrendResult {
  kind: 'trend'
  buckets: Bucket[]
  /** of the period it stands beside; there may be more or fewer */
  beforeBuckets: Bucket[] | null
  /** the series in order, then the formulas */
  lines: TrendLine[]
  /** the kept groups in order, then the rest; empty without a breakdown */
  keys: GroupKey[]
  /** how many groups the rest stands for */
  rest: number
  /** a person may be in several groups, so that people do not add up */
  overlap: boolean
}

export function finishTrend(part: TrendPart, plan: TrendPlan, question: TrendQuestion): TrendResult {
  if (part.pass !== 'count') throw new RangeError('only the last pass can be finished')
  const [main, before] = plan.periods.map((period, k) => {
    const { series, active } = part.periods[k]
    return series.map((each, index) => rowsOf(each, plan.series[index], plan.keys, period, active))
  })
  const lines: TrendLine[] = question.series.map(({ measure, hidden }, index) => ({
    of: { series: index },
    name: handleOf(question, index),
    unit: MEASURES[measure].unit,
    hidden: hidden === true,
    ...main[index],
    before: before?.[index] ?? null,
  }))
  const handles = handlesOf(question)
  question.formulas?.forEach(({ name, formula, unit }, index) => {
    const read = parseFormula(formula, new Set(handles))
    if ('fault' in read) return
    const inputs = (all: TrendRows[]) => read.names.map((handle) => all[handles.indexOf(handle)])
    lines.push({
      of: { formula: index },
      ...{ name: name ?? formula, unit, hidden: false },
      ...combine(inputs(main), plan.keys, plan.periods[0].buckets.length, read.evaluate),
      before: before ? combine(inputs(before), plan.keys, plan.periods[1].buckets.length, read.evaluate) : null,
    })
  })
  const [first] = lines
  const summed = first.groups.reduce((sum, row) => sum + row.totalPeople, 0)
  return {
    kind: 'trend',
    buckets: plan.periods[0].buckets,
    beforeBuckets: plan.periods[1]?.buckets ?? null,
    ...{ lines, keys: plan.keys, rest: plan.rest, overlap: summed > first.all.totalPeople },
  }
}

function rowsOf(
  part: SeriesPart,
  series: TrendPlan['series'][number],
  keys: readonly GroupKey[],
  { buckets }: PeriodPlan,
  active: Float64Array | null,
): TrendRows {
  const whole = buckets.length
  const width = whole + 1
  const figure = figureOf(part, series, width, active)
  const row = (key: GroupKey | null, group: number): TrendRow => ({
    key,
    values: buckets.map((_, bucket) => figure(group, bucket)),
    total: figure(group, whole),
    people: Array.from(part.people.subarray(group * width, group * width + whole)),
    totalPeople: part.people[group * width + whole],
  })
  return { groups: keys.map((key, group) => row(key, group)), all: row(null, keys.length) }
}

/** A formula bucket by bucket and for the whole range; a gap in any argument is a gap. */
function combine(
  inputs: readonly TrendRows[],
  keys: readonly GroupKey[],
  buckets: number,
  evaluate: (values: number[]) => number,
): TrendRows {
  const value = (parts: (number | null)[]) => {
    const result = evaluate(parts.map((part) => part ?? NaN))
    return Number.isNaN(result) ? null : result
  }
  const row = (key: GroupKey | null, of: (rows: TrendRows) => TrendRow): TrendRow => ({
    key,
    values: Array.from({ length: buckets }, (_, bucket) => value(inputs.map((rows) => of(rows).values[bucket]))),
    total: value(inputs.map((rows) => of(rows).total)),
    people: [],
    totalPeople: 0,
  })
  return { groups: keys.map((key, group) => row(key, (rows) => rows.groups[group])), all: row(null, ({ all }) => all) }
}
