import { compileFilter, findProperty, type CompileContext, type Test } from '../../filters/compile.js'
import {
  candidatesOf,
  keepGroups,
  planGroups,
  rankGroups,
  type GroupPlan,
  type GroupTally,
} from '../../groups/groups.js'
import type { Fault } from '../../questions/faults.js'
import type { GroupKey } from '../../questions/parts.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Bucket, type Grid } from '../../time/buckets.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { planTypes } from '../types.js'
import type { TrendMeasure, TrendQuestion } from './question.js'

/** rank = counts every value of the breakdown over the range; count = counts the kept groups bucket by bucket */
export interface TrendPlan {
  pass: 'rank' | 'count'
  types: Uint16Array
  test: Test | null
  among: Uint8Array | null
  grid: Grid
  buckets: Bucket[]
  groups: GroupPlan | null
  /** the kept groups in order, then the rest, if any; empty before they are ranked */
  keys: GroupKey[]
  /** how many groups the rest stands for */
  rest: number
}

/** Joins: sums over people. */
export type TrendPart =
  | { pass: 'rank'; tally: GroupTally }
  | {
      pass: 'count'
      /**
       * Cell (g, b) is `g * (buckets + 1) + b`; bucket number `buckets` is the whole range, and group number
       * `groups` is all of them together.
       */
      events: Float64Array
      people: Float64Array
    }

export function planTrend(question: TrendQuestion, context: QueryContext, faults: Fault[]): TrendPlan {
  const [series] = question.series
  const compile: CompileContext = { ...context, faults }
  const span = spanOf(question.range, context.now, context.calendar)
  const tooMany = countBuckets(span, question.every) > MOST_BUCKETS
  if (tooMany)
    faults.push({
      path: ['every'],
      code: 'too_many_buckets',
      got: String(countBuckets(span, question.every)),
      want: String(MOST_BUCKETS),
    })
  const buckets = tooMany ? [] : bucketsOf(span, question.every, context.now, context.calendar)
  const breakdown = question.breakdowns?.[0]
  const groups = breakdown ? planGroups(breakdown, compile, ['breakdowns', 0, 'by']) : null
  return {
    pass: groups ? 'rank' : 'count',
    types: planTypes(series.event, context.schema, faults, ['series', 0, 'event']),
    test: compileFilter(series.where, compile, ['series', 0, 'where']),
    among: context.among,
    grid: gridOf(span, buckets),
    buckets,
    groups: groups?.plan ?? null,
    keys: [],
    rest: 0,
  }
}

/** After the ranking pass: the plan that counts the kept groups. */
export function nextTrend(
  part: TrendPart,
  plan: TrendPlan,
  question: TrendQuestion,
  context: QueryContext,
): TrendPlan | null {
  const breakdown = question.breakdowns?.[0]
  if (part.pass !== 'rank' || !plan.groups || !breakdown) return null
  const { dictionary } = findProperty(breakdown.by, { schema: context.schema, faults: [] }, [])!
  const { measure } = question.series[0]
  const { candidates, numbers } = candidatesOf(part.tally, plan.groups, dictionary, context.calendar.zone, (e, p) =>
    measureOf(measure, e, p),
  )
  const { kept, rest } = rankGroups(candidates, breakdown.keep)
  return {
    ...plan,
    pass: 'count',
    groups: keepGroups(plan.groups, dictionary, kept, rest, numbers),
    keys: [...kept.map((candidate) => candidate.key), ...(rest > 0 ? [{ rest: true as const }] : [])],
    rest,
  }
}

/** A measure from the counts of its cell. An empty cell is 0 for counts and a gap for averages. */
export function measureOf(measure: TrendMeasure, events: number, people: number): number | null {
  switch (measure) {
    case 'events':
      return events
    case 'people':
      return people
    case 'events per person':
      return people > 0 ? events / people : null
  }
}
