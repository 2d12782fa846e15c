import { compileFilter, findProperty, type CompileContext, type Test } from '../../filters/compile.js'
import {
  candidatesOf,
  compareNames,
  keepGroups,
  planGroups,
  rankGroups,
  type Candidate,
  type GroupPlan,
  type GroupTally,
} from '../../groups/groups.js'
import type { Fault } from '../../questions/faults.js'
import { limitMs, type GroupKey } from '../../questions/parts.js'
import type { Breakdown } from '../../questions/split.js'
import { sideOf } from '../../groups/split.js'
import { sidesKey } from '../../segments/sides.js'
import { spanOf } from '../../time/range.js'
import type { QueryContext } from '../analysis.js'
import { planTypes } from '../types.js'
import type { FunnelQuestion } from './question.js'

export interface FunnelPlan {
  /** rank = counts the entering people by every value of the breakdown; count = counts the kept groups */
  pass: 'rank' | 'count'
  steps: { types: Uint16Array; test: Test | null }[]
  windowMs: number
  /** entries lie in [from, until); later steps may fall after it, up to now */
  from: number
  until: number
  now: number
  among: Uint8Array | null
  groups: GroupPlan | null
  keys: GroupKey[]
  rest: number
}

/** What is counted of one group; joins by adding and appending. */
export interface FunnelTally {
  /** people whose counted attempt filled the step */
  reached: Float64Array
  /** people still open whose counted attempt got just as far as the step */
  open: Float64Array
  /** ms from the step before, by step; nothing for step 1 */
  fromPrevious: Float64Array[]
  /** ms from the entry */
  fromEntry: Float64Array[]
}

export type FunnelPart =
  | { pass: 'rank'; tally: GroupTally }
  /** a tally for each group, then one for all together */
  | { pass: 'count'; tallies: FunnelTally[] }

export function planFunnel(question: FunnelQuestion, context: QueryContext, faults: Fault[]): FunnelPlan {
  const compile: CompileContext = { ...context, faults }
  const span = spanOf(question.range, context.now, context.calendar)
  const breakdown = question.breakdowns?.[0]
  const groups = breakdown ? planGroups(breakdown, compile, ['breakdowns', 0, 'by']) : null
  return {
    pass: groups ? 'rank' : 'count',
    steps: question.steps.map((step, i) => ({
      types: planTypes(step.event, context.schema, faults, ['steps', i, 'event']),
      test: compileFilter(step.where, compile, ['steps', i, 'where']),
    })),
    windowMs: limitMs(question.window),
    from: span.from,
    until: span.until,
    now: context.now,
    among: context.among,
    groups: groups?.plan ?? null,
    keys: [],
    rest: 0,
  }
}

/** After the ranking pass: the plan that counts the kept groups. A funnel's groups are ranked by step 1. */
export function nextFunnel(
  part: FunnelPart,
  plan: FunnelPlan,
  question: FunnelQuestion,
  context: QueryContext,
): FunnelPlan | null {
  const breakdown = question.breakdowns?.[0]
  if (part.pass !== 'rank' || !plan.groups || !breakdown) return null
  const { dictionary } = findProperty(breakdown.by, { ...context, faults: [] }, [])!
  const { candidates, numbers } = candidatesOf(
    part.tally,
    plan.groups,
    dictionary,
    context.calendar.zone,
    (people) => people,
  )
  const { kept, rest } = keptOf(candidates, breakdown, context)
  return {
    ...plan,
    pass: 'count',
    groups: keepGroups(plan.groups, dictionary, kept, rest, numbers),
    keys: [...kept.map((candidate) => candidate.key), ...(rest > 0 ? [{ rest: true as const }] : [])],
    rest,
  }
}

/** Of segments side by side each is a group as it is given; of values the largest are kept. */
function keptOf(
  candidates: Candidate[],
  { by, keep }: Breakdown,
  { sides }: QueryContext,
): { kept: Candidate[]; rest: number } {
  if (by.of !== 'segments') return rankGroups(candidates, keep)
  const { names } = sides!.get(sidesKey(by))!
  const found = candidates.flatMap((candidate) => {
    const { key } = candidate
    return 'value' in key && key.value !== null ? [{ ...candidate, key: sideOf(key.value as string, names) }] : []
  })
  return { kept: found.sort((a, b) => compareNames(a.key, b.key)), rest: 0 }
}
