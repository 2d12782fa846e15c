import type { CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { nextGrouped, planGrouped, type FoundGroups, type GroupedPlan, type GroupPass } from '../../groups/grouped.js'
import type { Fault } from '../../questions/faults.js'
import { planCuts, type CutPlan } from '../../sessions/cuts.js'
import type { Pieces } from '../../stats/pieces.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Bucket, type Grid } from '../../time/buckets.js'
import { beforePeriod } from '../../time/comparison.js'
import { spanOf, type Span } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { USUAL_OVER, type SessionsQuestion } from './question.js'

export interface SessionsPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by sessions; count = counts the kept ones */
  pass: GroupPass
  cutsPlan: CutPlan
  holds: PickPlan | null
  first: boolean
  /** the time asked about, then that which it is compared with */
  periods: SessionPeriod[]
  /** longer than this, ms, is told of */
  overMs: number
  now: number
  among: Uint8Array | null
  /** by event type: what it counts as, after merging */
  currentOf: Uint16Array
  names: string[]
}

export interface SessionPeriod {
  buckets: Bucket[]
  grid: Grid
}

/** Of each period. */
export type SessionsPart = FoundGroups | { pass: 'count'; counts: SessionCounts[] }

/** By group, the last being all together. Joins by adding, lengths by putting side by side. */
export interface SessionCounts {
  /** by FIGURES × (group × (buckets + 1) + bucket) + figure; after the buckets comes the whole time */
  figures: Float64Array
  /** by group × ranges of length + range */
  lengths: Float64Array
  /** by group: sessions longer than asked about */
  over: Float64Array
  /** by CLUSTERED × group: of people, their sessions and the whole seconds of those that are over, as `Clustered` */
  clusters: Float64Array
  /** of sessions that are over: group × buckets + bucket, and length, ms */
  lengthOf: Pieces
  length: Pieces
  /** of all together, by first event × types + second, and by last event × types + the one before: sessions */
  entries: Float64Array
  exits: Float64Array
  /** by first or last event: those that are over, and their ms */
  entryOver: Float64Array
  exitOver: Float64Array
  entryMs: Float64Array
  exitMs: Float64Array
}

/** What is added up for each group and bucket. */
export const FIGURES = { sessions: 0, people: 1, open: 2, ms: 3, single: 4, events: 5 } as const
export const FIGURE_COUNT = 6
export const CLUSTERED = ['people', 'n', 'y', 'nn', 'ny', 'yy'] as const

export function planSessions(question: SessionsQuestion, context: QueryContext, faults: Fault[]): SessionsPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, schema } = context
  const span = spanOf(question.range, now, calendar)
  const fits = (asked: Span, path: string): boolean => {
    const many = countBuckets(asked, question.every)
    if (many > MOST_BUCKETS)
      faults.push({ path: [path], code: 'too_many_buckets', got: String(many), want: String(MOST_BUCKETS) })
    return many <= MOST_BUCKETS
  }
  const own = { span, buckets: fits(span, 'every') ? bucketsOf(span, question.every, now, calendar) : [] }
  const before = question.compare && beforePeriod(question.range, question.compare, question.every, now, calendar)
  if (before) fits(before.span, 'compare')
  const periods = before ? [own, before] : [own]
  const earliest = Math.min(...periods.map((period) => period.span.from))
  return {
    ...planGrouped(question.breakdowns, compile, earliest),
    cutsPlan: planCuts(calendar.sessions, schema),
    holds: question.holds ? planPick(question.holds, compile, ['holds']) : null,
    first: question.first === true,
    periods: periods.map(({ span: of, buckets }) => ({ buckets, grid: gridOf(of, buckets) })),
    ...{ now, among: context.among },
    overMs: (question.show.over ?? USUAL_OVER) * 60_000,
    currentOf: Uint16Array.from(schema.types, ({ name }, type) => schema.typeCode(schema.currentName(name)) ?? type),
    names: schema.types.map(({ name }) => name),
  }
}

export function nextSessions(
  part: SessionsPart,
  plan: SessionsPlan,
  question: SessionsQuestion,
  context: QueryContext,
): SessionsPlan | null {
  if (part.pass === 'count' || !plan.split) return null
  return { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
}
