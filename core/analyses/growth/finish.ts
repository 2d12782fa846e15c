import { isMoving } from '../../groups/grouped.js'
import type { QueryContext } from '../analysis.js'
import type { GroupKey } from '../../questions/parts.js'
import type { GrowthCounts, GrowthPart, GrowthPlan } from './plan.js'
import { growthStates, type GrowthQuestion, type GrowthState } from './question.js'
import { STATE, STATES, UNSEEN } from './scan.js'

export interface GrowthStep {
  key: string
  /** not over yet: who has not come may still come */
  open: boolean
  people: Record<GrowthState, number>
  /** people active in it, and in the one before */
  active: number
  before: number
  /** everybody who has done it by its end */
  seen: number
  /** new + revived − lapsed */
  net: number
  /** (new + revived) ÷ lapsed; null where nobody lapsed */
  quick: number | null
  /** retained ÷ active in the one before; null where nobody was */
  kept: number | null
  /** people by what they were in the one before, and are now; null for the first, and of a group */
  flows: { from: GrowthState | 'unseen'; to: GrowthState; people: number }[] | null
}

/** The same of one group. */
export interface GrowthRow {
  key: GroupKey
  steps: GrowthStep[]
}

export interface GrowthResult {
  kind: 'growth'
  /** of everybody together */
  steps: GrowthStep[]
  groups: GrowthRow[]
  /** how many groups everything else holds */
  rest: number
}

export function finishGrowth(
  part: GrowthPart,
  plan: GrowthPlan,
  _question: GrowthQuestion,
  _context: QueryContext,
): GrowthResult {
  if (part.pass !== 'count') throw new RangeError('the states were not counted')
  const all = plan.keys.length
  return {
    kind: 'growth',
    steps: stepsOf(part, plan, all),
    groups: plan.keys.map((key, group) => ({ key, steps: stepsOf(part, plan, group) })),
    rest: plan.rest,
  }
}

function stepsOf(part: GrowthCounts, plan: GrowthPlan, group: number): GrowthStep[] {
  const counted = group < plan.keys.length && isMoving(plan.split)
  const counts = withIdle(part, plan.intervals.length, group, counted)
  const flows = group === plan.keys.length ? withIdleFlows(part, counts) : null
  const before = [...growthStates, 'unseen' as const]
  return plan.intervals.map(({ key, open }, i): GrowthStep => {
    const people = Object.fromEntries(
      growthStates.map((state) => [state, counts[i * STATES + STATE[state]]]),
    ) as Record<GrowthState, number>
    const was = people.retained + people.lapsed
    return {
      ...{ key, open, people, before: was },
      active: people.new + people.retained + people.revived,
      seen: growthStates.reduce((sum, state) => sum + people[state], 0),
      net: people.new + people.revived - people.lapsed,
      quick: people.lapsed > 0 ? (people.new + people.revived) / people.lapsed : null,
      kept: was > 0 ? people.retained / was : null,
      flows:
        i === 0 || !flows
          ? null
          : before.flatMap((from) =>
              growthStates.flatMap((to) => {
                const place = from === 'unseen' ? UNSEEN : STATE[from]
                const n = flows[(i * (STATES + 1) + place) * STATES + STATE[to]]
                return n > 0 ? [{ from, to, people: n }] : []
              }),
            ),
    }
  })
}

/** Of one group: idle is whoever was seen before and is in no other state. @param counted that it has been counted */
function withIdle(part: GrowthCounts, many: number, group: number, counted: boolean): Float64Array {
  const counts = part.counts.slice(group * many * STATES, (group + 1) * many * STATES)
  if (counted) return counts
  const at = (i: number, state: number) => counts[i * STATES + state]
  let seen = part.seenBefore[group]
  for (let i = 0; i < many; i++) {
    counts[i * STATES + STATE.idle] = seen - at(i, STATE.retained) - at(i, STATE.revived) - at(i, STATE.lapsed)
    seen += at(i, STATE.new)
  }
  return counts
}

/** Into idle come those who had lapsed, or were idle, and were not revived. @param counts of all together, with idle */
function withIdleFlows(part: GrowthCounts, counts: Float64Array): Float64Array {
  const flows = part.flows.slice()
  for (let i = 1; i * STATES < counts.length; i++)
    for (const from of [STATE.lapsed, STATE.idle]) {
      const row = (i * (STATES + 1) + from) * STATES
      flows[row + STATE.idle] = counts[(i - 1) * STATES + from] - flows[row + STATE.revived]
    }
  return flows
}
