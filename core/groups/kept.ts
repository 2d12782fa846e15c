import { sidesKey } from '../segments/side.js'
import { findProperty, type CompileContext } from '../filters/compile.js'
import type { GroupKey } from '../questions/parts.js'
import type { Breakdown } from '../questions/split.js'
import {
  candidatesOf,
  compareNames,
  keepGroups,
  rankGroups,
  type Candidate,
  type GroupPlan,
  type GroupTally,
} from './groups.js'
import { sideOf } from './split.js'

/** The groups of one breakdown that are kept, and the plan that numbers them. */
export interface KeptGroups {
  groups: GroupPlan
  /** of the kept groups in order, and of the rest where there is one */
  keys: GroupKey[]
  /** how many groups the rest holds */
  rest: number
}

/** After a first pass over one breakdown: its largest groups; of segments side by side each as it is given. */
export function keptGroups(
  tally: GroupTally,
  first: GroupPlan,
  breakdown: Breakdown,
  context: Omit<CompileContext, 'faults'>,
): KeptGroups {
  const { dictionary } = findProperty(breakdown.by, { ...context, faults: [] }, [])!
  const { candidates, found } = candidatesOf(tally, dictionary, context.calendar.zone, (people) => people)
  const { kept, rest } = keptOf(candidates, breakdown, context)
  return {
    groups: keepGroups(first, dictionary, kept, rest, found),
    keys: [...kept.map(({ key }) => key), ...(rest > 0 ? [{ rest: true as const }] : [])],
    rest,
  }
}

function keptOf(
  candidates: Candidate[],
  { by, keep }: Breakdown,
  { sides }: Pick<CompileContext, 'sides'>,
): { kept: Candidate[]; rest: number } {
  if (by.of !== 'segments') return rankGroups(candidates, keep)
  const { names } = sides!.get(sidesKey(by))!
  const found = candidates.flatMap((candidate) => {
    const { key } = candidate
    return 'value' in key && key.value !== null ? [{ ...candidate, key: sideOf(key.value as string, names) }] : []
  })
  return { kept: found.sort((a, b) => compareNames(a.key, b.key)), rest: 0 }
}
