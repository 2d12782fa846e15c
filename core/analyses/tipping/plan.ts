import { findProperty, type ColumnRef, type CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { planTypes } from '../../filters/eventTypes.js'
import type { CodedValue } from '../../log/dictionary.js'
import type { Fault } from '../../questions/faults.js'
import { bucketsOf, countBuckets } from '../../time/buckets.js'
import { dayTable, type DayTable } from '../../time/dayTable.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { calendarClock, CLOCK_MS, MOST_COHORTS, type PeriodClock } from '../retention/plan.js'
import { MOST_VALUES, type Done, type TippingQuestion } from './question.js'

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
  /** by place: what it is, its event's name after merging */
  behaviours: Done[]
  /** by type: what its values are read from, where it is opened */
  opened: (OpenedPlan[] | null)[]
  /** where a count is of days: the local day of every moment */
  daysOf: DayTable | null
  /** properties of people that what is found is looked at within: code, name, and values by their codes, 0 = none */
  properties: { code: number; name: string; values: readonly (CodedValue | null)[] }[]
  /** what a second pass looks at more closely; null: how often each thing was done is counted yet */
  closer: CloserPlan | null
  among: Uint8Array | null
}

/** Where the values of an event are read, and the places of the behaviours that they are. */
export interface OpenedPlan {
  column: ColumnRef
  base: number
  /** codes that have a place; 0 = how many different values is asked, at the one place `base` */
  size: number
  /** for a list's code: the codes of its elements */
  lists: ReadonlyMap<number, readonly number[]>
}

/** What goes with the outcome best, the best first. */
export interface CloserPlan {
  top: { place: number; times: number }[]
}

/** So many values of a property are groups that one looks through; what has more is no kind of people. */
const MOST_KINDS = 24

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
  const behaviours = [...places.keys()].map((event): Done => ({ event }))
  const opened = planOpened(question, compile, placeOf, behaviours)
  return {
    ...{ start, goal, from: span.from, until: span.until, now, earlyMs },
    outcome: outcomePlan(question, context, faults),
    ...{ placeOf, behaviours, opened, among: context.among },
    daysOf: question.count === 'days' ? dayTable(span.from, now + 1, context.calendar) : null,
    ...{ properties: kindsOfPeople(context), closer: null },
  }
}

/** Properties of people by whose values they are a few kinds. */
function kindsOfPeople({ schema }: QueryContext): TippingPlan['properties'] {
  return schema.profile.flatMap(({ name, dictionary, dated }, code) =>
    !dated && dictionary.elements.size === 0 && dictionary.size > 1 && dictionary.size <= MOST_KINDS + 1
      ? [{ code, name, values: dictionary.values.slice(0, dictionary.size) }]
      : [],
  )
}

/** Adds the values of the events that are opened to the behaviours. */
function planOpened(
  { open = [] }: TippingQuestion,
  compile: CompileContext,
  placeOf: Int16Array,
  behaviours: Done[],
): TippingPlan['opened'] {
  const { schema, faults } = compile
  const opened: TippingPlan['opened'] = schema.types.map(() => null)
  open.forEach(({ event, by, as }, index) => {
    const types = planTypes(event, schema, faults, ['open', index, 'event'])
    const found = findProperty(by, compile, ['open', index, 'by'])
    if (!found) return
    const { column, dictionary } = found
    const many = dictionary.size - 1
    if (!as && many > MOST_VALUES) {
      const want = `${by.name} has ${many} values, and at most ${MOST_VALUES} can be looked at one by one; ask how many different ones`
      faults.push({ path: ['open', index], code: 'invalid', want })
      return
    }
    const plan: OpenedPlan = {
      column,
      base: behaviours.length,
      size: as ? 0 : dictionary.size,
      lists: dictionary.elements,
    }
    // What is left out, the start and the goal are no behaviours by their values either.
    const looked = [...types].filter((type) => placeOf[type] >= 0)
    if (looked.length === 0) return
    const name = schema.currentName(schema.types[looked[0]].name)
    if (as) behaviours.push({ event: name, by })
    else
      for (const value of dictionary.values.slice(0, dictionary.size))
        behaviours.push({ event: name, by, is: typeof value === 'object' ? (value?.join(', ') ?? null) : value })
    for (const type of looked) (opened[type] ??= []).push(plan)
  })
  return opened
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
