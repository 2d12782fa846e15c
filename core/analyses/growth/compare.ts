import { isSides } from '../../questions/groupedBy.js'
import { adjusted, compare, type Compared } from '../../stats/compared.js'
import type { GrowthResult, GrowthStep } from './finish.js'
import type { GrowthQuestion } from './question.js'

/**
 * Each group's retention rate in one interval beside that of all the others together; of segments side by side beside
 * the first one's. Of one interval, so that every person is in the test once. null where it is not over.
 */
export function compareKept(question: GrowthQuestion, result: GrowthResult, at: number): (Compared | null)[] {
  const { groups, steps } = result
  if (!steps[at] || steps[at].open) return groups.map(() => null)
  const rate = ({ people, before }: GrowthStep) => ({ part: people.retained, whole: before })
  const all = rate(steps[at])
  const rates = groups.map((group) => rate(group.steps[at]))
  if (isSides(question.breakdowns)) return adjusted(rates.map((own, i) => (i === 0 ? null : compare(own, rates[0]))))
  return adjusted(rates.map((own) => compare(own, { part: all.part - own.part, whole: all.whole - own.whole })))
}
