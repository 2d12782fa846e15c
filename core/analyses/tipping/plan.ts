import type { CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import type { CodedValue } from '../../log/dictionary.js'
import type { Fault } from '../../questions/faults.js'
import { bucketsOf, countBuckets } from '../../time/buckets.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { calendarClock, CLOCK_MS, MOST_COHORTS, type PeriodClock } from '../retention/plan.js'
import type { TippingQuestion } from './question.js'

/** When the outcome may come: in a period after the start, counted as retention does; or after the first days, for a while. */
export type OutcomePlan =
  { clock: PeriodClock; period: number; onward: boolean } | { fromMs: number; untilMs: number; times: number }

export interface TippingPlan {
  start: PickPlan
  goal: PickPlan
  /** epoch ms: the first start ever lies in it */
  from: number
  until: number
  now: number
  /** the first days, ms */
  earlyMs: number
  outcome: OutcomePlan
  /** by type: the place of the behaviour that its events are, −1 = none */
  placeOf: Int16Array
  /** by place: what its events are called, after merging */
  names: string[]
  /** properties of people that what is found is looked at within: code, name, and values by their codes, 0 = none */
  properties: { code: number; name: string; values: readonly (CodedValue | null)[] }[]
  /** what a second pass looks at more closely; null: how often each thing was done is counted yet */
  closer: CloserPlan | null
  among: Uint8Array | null
}

/** What goes with the outcome best, the best first. */
export interface CloserPlan {
  top: { place: number; times: number }[]
}

/** So many values of a property are groups that one looks through; what has more is no kind of people. */
const MOST_VALUES = 24

const DAY = 86_400_000

export function planTipping(question: TippingQuestion, context: QueryContext, faults: Fault[]): TippingPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, schema } = context
  const span = spanOf(question.range, now, context.calendar)
  const start = planPick(question.start, compile, ['start'])
  const goal = planPick(question.goal, compile, ['goal'])
  const earlyMs = question.days * DAY
  // Whatever the start or the goal names, whatever its filter, is no behaviour; any activity names none.
  const out = new Set<string>(question.leftOut)
  for (const [{ event }, { types }] of [
    [question.start, start],
    [question.goal, goal],
  ] as const)
    if ('names' in event) for (const type of types) out.add(schema.currentName(schema.types[type].name))
  const places = new Map<string, number>()
  const placeOf = Int16Array.from(schema.types, ({ name }) => {
    const current = schema.currentName(name)
    if (out.has(current)) return -1
    if (!places.has(current)) places.set(current, places.size)
    return places.get(current)!
  })
  return {
    ...{ start, goal, from: span.from, until: span.until, now, earlyMs },
    outcome: outcomePlan(question, context, faults),
    ...{ placeOf, names: [...places.keys()], among: context.among },
    ...{ properties: kindsOfPeople(context), closer: null },
  }
}

/** Properties of people by whose values they are a few kinds. */
function kindsOfPeople({ schema }: QueryContext): TippingPlan['properties'] {
  return schema.profile.flatMap(({ name, dictionary, dated }, code) =>
    !dated && dictionary.elements.size === 0 && dictionary.size > 1 && dictionary.size <= MOST_VALUES + 1
      ? [{ code, name, values: dictionary.values.slice(0, dictionary.size) }]
      : [],
  )
}

function outcomePlan({ outcome, range, days }: TippingQuestion, context: QueryContext, faults: Fault[]): OutcomePlan {
  if ('days' in outcome) return { fromMs: days * DAY, untilMs: (days + outcome.days) * DAY, times: outcome.times ?? 1 }
  const { unit, period } = outcome
  const onward = outcome.from === true
  if (outcome.by === 'clock') return { clock: { ms: CLOCK_MS[unit] }, period, onward }
  const { now, calendar } = context
  const span = spanOf(range, now, calendar)
  const many = countBuckets(span, unit)
  if (many > MOST_COHORTS) {
    faults.push({ path: ['range'], code: 'too_many_buckets', got: String(many), want: String(MOST_COHORTS) })
    return { clock: { ms: CLOCK_MS[unit] }, period, onward }
  }
  const [first] = bucketsOf(span, unit, now, calendar)
  return { clock: calendarClock(span, first?.start ?? span.from, unit, context), period, onward }
}
