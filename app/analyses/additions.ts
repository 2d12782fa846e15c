import { tokenOf } from '../../core/analyses/splitParts.js'
import { MOST_SPLITS } from '../../core/questions/vocabulary.js'

/** Another breakdown, while there is room for one. */
export function breakdownAddition(
  { breakdowns = [] }: { breakdowns?: readonly unknown[] | undefined },
  most = MOST_SPLITS,
) {
  if (breakdowns.length >= most) return []
  return [
    {
      token: tokenOf('breakdown', breakdowns.length),
      label: breakdowns.length === 0 ? '+ for each…' : '+ and each…',
    },
  ]
}

/** The word of the question where its groups are chosen: the last breakdown, or the first that there could be. */
export function lastBreakdown({ breakdowns = [] }: { breakdowns?: readonly unknown[] | undefined }): string {
  return tokenOf('breakdown', Math.max(0, breakdowns.length - 1))
}
