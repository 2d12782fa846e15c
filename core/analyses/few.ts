import { quantile } from '../stats/quantile.js'
import { ENOUGH } from '../stats/small.js'
import { UNIT_DAYS, type Unit } from '../time/range.js'
import { countOf } from '../words/format.js'
import { plain, strong, type Finding } from '../words/words.js'

/** People in a typical bucket, where they are too few to compare one with another, and the unit that would hold enough. */
export interface Few {
  typical: number
  /** null = none that the kind counts by */
  unit: Unit | null
}

/**
 * @param people in each full bucket
 * @param unit what they are counted by
 * @param larger the units that could be chosen, shortest first
 * @returns null where there are enough, or nobody at all
 */
export function fewIn(people: readonly number[], unit: Unit | { days: number }, larger: readonly Unit[]): Few | null {
  const typical = quantile(Float64Array.from(people).sort(), 0.5)
  if (typical === null || typical >= ENOUGH || Math.max(...people) === 0) return null
  const own = typeof unit === 'string' ? UNIT_DAYS[unit] : unit.days
  // People come again, so that a longer bucket holds fewer than the sum: twice as many make sure of it.
  const enough = larger.find((each) => UNIT_DAYS[each] > own && typical * (UNIT_DAYS[each] / own) >= 2 * ENOUGH)
  return { typical, unit: enough ?? larger.filter((each) => UNIT_DAYS[each] > own).at(-1) ?? null }
}

export function fewWords({ typical, unit }: Few, one: string): Finding {
  return [
    plain('Few people: '),
    strong(`about ${countOf(Math.round(typical), 'person', 'people')} a ${one}`),
    plain(`. One more or less says little${unit ? `; by ${unit} it would say more` : ''}.`),
  ]
}
