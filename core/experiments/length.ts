/** The rate at which a past period goes on is that of its last days. */
const LAST_DAYS = 7

/** What an experiment waits for. */
export interface Wanted {
  /** people first exposed on each day of the past like period, in order */
  firsts: readonly number[]
  /** the share of people that it is rolled out to, 0 to 1 */
  share: number
  /** by variant, the control first */
  weights: readonly number[]
  /** people needed, by variant */
  needed: readonly number[]
  /** the time in which what is measured counts, in days of 24 hours; rounded up to whole ones */
  withinDays: number
}

/**
 * How many days it takes: until as many were first exposed as every variant needs, as in the past like period and then at
 * the rate of its last seven days; and as long as what is measured counts.
 * @returns null where that many never come
 */
export function daysNeeded({ firsts, share, weights, needed, withinDays }: Wanted): number | null {
  const sum = weights.reduce((a, b) => a + b, 0)
  // So many have to be exposed at all before the slowest variant has its people.
  const all = Math.max(
    ...needed.map((people, i) => (people <= 0 ? 0 : weights[i] > 0 ? (people * sum) / (weights[i] * share) : Infinity)),
  )
  if (!(all < Infinity)) return null
  const after = Math.ceil(withinDays)
  let reached = 0
  for (let day = 0; day < firsts.length; day++) {
    reached += firsts[day]
    if (reached >= all) return day + 1 + after
  }
  const last = firsts.slice(-LAST_DAYS)
  const rate = last.length === 0 ? 0 : last.reduce((a, b) => a + b, 0) / last.length
  if (rate === 0) return null
  return firsts.length + Math.ceil((all - reached) / rate) + after
}
