import { readsEvent } from '../../questions/groupedBy.js'
import { limitMs } from '../../questions/limits.js'
import { planCuts } from '../../sessions/cuts.js'
import type { EntryPlan, FunnelPlan } from './shape.js'
import { findProperty, type CompileContext } from '../../filters/compile.js'
import { nextGrouped, planGrouped, type FoundGroups } from '../../groups/grouped.js'
import type { Fault } from '../../questions/faults.js'
import type { EventPick } from '../../questions/parts.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS } from '../../time/buckets.js'
import { spanOf, type Span, type Unit } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { beforePeriod } from '../../time/comparison.js'
import { planPick } from '../../filters/picks.js'
import type { FunnelTally } from './tally.js'
import { planJump, type JumpTally } from './jump.js'
import { planLook, type LookTally } from './look.js'
import { requiredSteps, showOf, type EntryTest, type FunnelQuestion } from './question.js'

export type FunnelPart =
  | FoundGroups
  /** by span: a tally for each group, then one for all together */
  | { pass: 'count'; spans: FunnelTally[][]; look: LookTally | null }
  | { pass: 'jump'; tally: JumpTally }

export function planFunnel(question: FunnelQuestion, context: QueryContext, faults: Fault[]): FunnelPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, schema } = context
  const span = spanOf(question.range, now, calendar)
  const pick = (each: EventPick, ...path: (string | number)[]) => planPick(each, compile, path)
  const show = showOf(question)
  const every = show.form === 'over time' && show.every ? show.every : usualUnit(span)
  const buckets = countBuckets(span, every) > MOST_BUCKETS ? [] : bucketsOf(span, every, now, calendar)
  if (buckets.length === 0 && span.until > span.from)
    faults.push({ path: ['show', 'every'], code: 'invalid', want: `at most ${MOST_BUCKETS} ${every}s` })
  const steps = question.steps.map((step, i) => ({
    ...pick(step, 'steps', i),
    optional: step.optional === true,
    entry: (step.entry ?? []).flatMap((test, k) => planEntry(test, compile, ['steps', i, 'entry', k]) ?? []),
  }))
  const last = steps.length - 1
  const [from, to] = show.form === 'time' ? [show.from ?? 0, show.to ?? last] : [0, last]
  const spans = [{ from: span.from, until: span.until }, ...(question.compare ? [spanBefore(question, context)] : [])]
  return {
    ...planGrouped(question.breakdowns, compile, Math.min(...spans.map(({ from }) => from))),
    steps,
    required: requiredSteps(question.steps),
    rules: {
      order: question.order ?? 'one after another',
      attempts: question.count === 'attempts',
      first: question.first === true,
      same: (question.same && findProperty(question.same, compile, ['same'])?.column) ?? null,
      forbidden: (question.forbidden ?? []).map((each, i) => ({
        ...pick(each, 'forbidden', i),
        after: each.after ?? -1,
      })),
      passive: Uint8Array.from(schema.types, (type) => (type.passive ? 1 : 0)),
    },
    windowMs: limitMs(question.window),
    spans,
    now,
    among: context.among,
    readAt: readsEvent(question.breakdowns) ? Math.min(question.readAt ?? 0, last) : 0,
    unreached: false,
    grid: gridOf(span, buckets),
    buckets,
    every,
    groupsOverTime: show.form === 'over time',
    between: show.form === 'time' && last > 0 ? [from, to] : null,
    repeats: show.form === 'repeats',
    look: planLook(
      show,
      steps,
      question.steps.map(({ event }) => 'activity' in event),
      schema,
      planCuts(calendar.sessions, schema),
    ),
    jump: null,
  }
}

function spanBefore({ range, compare }: FunnelQuestion, { now, calendar }: QueryContext) {
  const { from, until } = beforePeriod(range, compare!, 'day', now, calendar).span
  return { from, until }
}

const DAY = 86_400_000

/** Over how long a time attempts are gathered where nobody said. */
function usualUnit({ from, until }: Span): Unit {
  const days = (until - from) / DAY
  return days <= 3 ? 'hour' : days <= 45 ? 'day' : days <= 800 ? 'week' : 'month'
}

function planEntry(test: EntryTest, compile: CompileContext, path: (string | number)[]): EntryPlan | null {
  const own = findProperty(test.property, compile, [...path, 'property'])
  const entry = findProperty(test.entry, compile, [...path, 'entry'])
  if (!own || !entry) return null
  const codes = new Map(own.dictionary.values.map((value, code) => [JSON.stringify(value), code]))
  const entryCodes = Uint32Array.from(entry.dictionary.values, (value) =>
    value === null ? 0 : (codes.get(JSON.stringify(value)) ?? 0),
  )
  return { column: own.column, op: test.op, entry: entry.column, entryCodes }
}

/**
 * After the ranking pass: the plan that counts the kept groups, which are ranked by step 1. After that: a look at what
 * goes with a step whose loss rose, where one did.
 */
export function nextFunnel(
  part: FunnelPart,
  plan: FunnelPlan,
  question: FunnelQuestion,
  context: QueryContext,
): FunnelPlan | null {
  if (part.pass === 'count') {
    // Who splits by something is looking for it already.
    if (plan.split) return null
    const jump = planJump(part.spans[0][plan.keys.length], plan, context.schema)
    return jump && { ...plan, pass: 'jump', jump }
  }
  if (part.pass === 'jump' || !plan.split) return null
  const next: FunnelPlan = { ...plan, ...nextGrouped(part, plan, question.breakdowns!, context) }
  if (next.pass !== 'count' || plan.readAt === 0) return next
  return { ...next, keys: [...next.keys, { unreached: true }], unreached: true }
}
