import { isSides } from '../../questions/groupedBy.js'
import { adjusted, compare, type Compared, type Rate } from '../../stats/compared.js'
import type { RetentionQuestion } from './question.js'
import type { RetentionResult, RetentionRow } from './finish.js'

/** Each group's share in a period beside that of all the others together; of segments beside the first one's. */
export function compareGroups(question: RetentionQuestion, result: RetentionResult, at: number): (Compared | null)[] {
  const { groups, all } = result
  const sides = isSides(question.breakdowns)
  return adjusted(
    groups.map((group, i) => {
      if (sides) return i === 0 ? null : compare(rateOf(group, at), rateOf(groups[0], at))
      const own = rateOf(group, at, all)
      const whole = rateOf(all, at, group)
      return compare(own, { part: whole.part - own.part, whole: whole.whole - own.whole })
    }),
  )
}

/** Each complete cohort's share in a period beside that of all other complete ones together. */
export function compareCohorts({ all }: RetentionResult, at: number): (Compared | null)[] {
  const whole = rateOf(all, at)
  return adjusted(
    all.cells.map((cells, c) => {
      if (cells[at].state !== 'complete') return null
      const own = { part: cells[at].returned, whole: all.started[c] }
      return compare(own, { part: whole.part - own.part, whole: whole.whole - own.whole })
    }),
  )
}

/** The later half of the complete cohorts beside the earlier half. */
export function compareHalves({ all }: RetentionResult, at: number): Compared | null {
  const complete = all.cells.flatMap((cells, c) => (cells[at].state === 'complete' && all.started[c] > 0 ? [c] : []))
  if (complete.length < 4) return null
  const half = complete.length >> 1
  const rate = (cohorts: number[]): Rate => ({
    part: cohorts.reduce((sum, c) => sum + all.cells[c][at].returned, 0),
    whole: cohorts.reduce((sum, c) => sum + all.started[c], 0),
  })
  return compare(rate(complete.slice(-half)), rate(complete.slice(0, half)))
}

/** @param beside only cohorts that are complete in it as well */
function rateOf(row: RetentionRow, at: number, beside: RetentionRow = row): Rate {
  const rate = { part: 0, whole: 0 }
  row.cells.forEach((cells, c) => {
    if (cells[at].state !== 'complete' || beside.cells[c][at].state !== 'complete') return
    rate.part += cells[at].returned
    rate.whole += row.started[c]
  })
  return rate
}
