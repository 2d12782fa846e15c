import type { QueryContext } from '../analysis.js'
import type { GrowthPlan } from './plan.js'
import { growthStates, type GrowthQuestion, type GrowthState } from './question.js'
import { STATE, STATES, UNSEEN, type GrowthPart } from './scan.js'

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
  /** people by what they were in the one before, and are now; null for the first */
  flows: { from: GrowthState | 'unseen'; to: GrowthState; people: number }[] | null
}

export interface GrowthResult {
  kind: 'growth'
  steps: GrowthStep[]
}

export function finishGrowth(
  part: GrowthPart,
  plan: GrowthPlan,
  _question: GrowthQuestion,
  _context: QueryContext,
): GrowthResult {
  const { counts, flows } = withIdle(part, plan.intervals.length)
  const before = [...growthStates, 'unseen' as const]
  return {
    kind: 'growth',
    steps: plan.intervals.map(({ key, open }, i): GrowthStep => {
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
          i === 0
            ? null
            : before.flatMap((from) =>
                growthStates.flatMap((to) => {
                  const place = from === 'unseen' ? UNSEEN : STATE[from]
                  const n = flows[(i * (STATES + 1) + place) * STATES + STATE[to]]
                  return n > 0 ? [{ from, to, people: n }] : []
                }),
              ),
      }
    }),
  }
}

/**
 * Idle is whoever was seen before and is in no other state; into idle come those who had lapsed, or were idle, and were
 * not revived.
 */
function withIdle(part: GrowthPart, many: number): Pick<GrowthPart, 'counts' | 'flows'> {
  const counts = part.counts.slice()
  const flows = part.flows.slice()
  const at = (i: number, state: number) => counts[i * STATES + state]
  let seen = part.seenBefore
  for (let i = 0; i < many; i++) {
    counts[i * STATES + STATE.idle] = seen - at(i, STATE.retained) - at(i, STATE.revived) - at(i, STATE.lapsed)
    if (i > 0)
      for (const from of [STATE.lapsed, STATE.idle]) {
        const row = (i * (STATES + 1) + from) * STATES
        flows[row + STATE.idle] = at(i - 1, from) - flows[row + STATE.revived]
      }
    seen += at(i, STATE.new)
  }
  return { counts, flows }
}
