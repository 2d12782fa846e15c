import type { CompileContext } from '../../filters/compile.js'
import { planPick, type PickPlan } from '../../filters/picks.js'
import { planGrouped, refuseEventGroups, type GroupedPlan, type GroupPass } from '../../groups/grouped.js'
import { LEFT_ALONE } from '../../outreach/message.js'
import { MESSAGE_EVENTS, MESSAGE_PROPERTIES, type MessageStep } from '../../outreach/events.js'
import type { Fault } from '../../questions/faults.js'
import { limitMs } from '../../questions/limits.js'
import type { Condition, Filter } from '../../questions/parts.js'
import { bucketsOf, countBuckets, gridOf, MOST_BUCKETS, type Grid } from '../../time/buckets.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import type { EffectQuestion } from './question.js'

export interface EffectPlan extends GroupedPlan {
  /** cuts, rank = looks for the groups, by people; count = counts the kept ones */
  pass: GroupPass
  /** who came in, whatever became of them */
  entered: PickPlan
  /** by variant, those left alone last: the same with its name */
  variants: PickPlan[]
  /** what the variants are called */
  names: string[]
  /** what became of a person's first entry */
  steps: Record<Exclude<MessageStep, 'entered'>, PickPlan>
  goal: PickPlan
  withinMs: number
  /** which local day of the range somebody came in */
  grid: Grid
  days: string[]
  /** epoch ms */
  now: number
  among: Uint8Array | null
}

const property = (name: string): Condition['property'] => ({ of: 'event', name })

export function planEffect(question: EffectQuestion, context: QueryContext, faults: Fault[]): EffectPlan {
  const compile: CompileContext = { ...context, faults }
  const { now, calendar, among, schema } = context
  const span = spanOf(question.range, now, calendar)
  const many = countBuckets(span, 'day')
  if (many > MOST_BUCKETS)
    faults.push({ path: ['range'], code: 'invalid', want: `at most ${MOST_BUCKETS} days, and these are ${many}` })
  const days = many > MOST_BUCKETS ? [] : bucketsOf(span, 'day', now, calendar)
  refuseEventGroups(question.breakdowns, 'What a message brings', faults)
  const of: Condition = { property: property(MESSAGE_PROPERTIES.message), op: 'is', values: [question.message] }
  // Where nothing of the kind has happened yet, that is no mistake in the question.
  const pick = (step: MessageStep, ...more: Condition[]): PickPlan => {
    const where: Filter = { all: [of, ...more] }
    const names = [MESSAGE_EVENTS[step]]
    return schema.typesNamed(names[0])
      ? planPick({ event: { names }, where }, compile, ['message'])
      : { types: new Uint16Array(0), test: null }
  }
  const first: Condition = { property: property(MESSAGE_PROPERTIES.entry), op: '=', number: 1 }
  const named = (name: string): Condition => ({
    ...{ property: property(MESSAGE_PROPERTIES.variant), op: 'is', values: [name] },
  })
  return {
    ...planGrouped(question.breakdowns, compile, span.from),
    entered: pick('entered'),
    variants: [...question.variants, LEFT_ALONE].map((name) => pick('entered', named(name))),
    names: question.variants,
    steps: {
      ...{ sent: pick('sent', first), delivered: pick('delivered', first), opened: pick('opened', first) },
      ...{ pressed: pick('pressed', first), optedOut: pick('optedOut', first) },
    },
    goal: planPick(question.goal, compile, ['goal']),
    ...{ withinMs: limitMs(question.within), grid: gridOf(span, days), days: days.map(({ key }) => key), now, among },
  }
}
