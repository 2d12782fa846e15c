import { addArrays } from '../../groups/groups.js'

/**
 * What is counted, by row: group × cohorts + cohort, the groups' all together last; and by cell: row × periods + period.
 * Joins: numbers add up, moments are the latest and the earliest.
 */
export interface RetentionTally {
  people: Float64Array
  /** epoch ms of the latest and the earliest start; 0 and Infinity where nobody started */
  latest: Float64Array
  earliest: Float64Array
  /** people with a return */
  returned: Float64Array
  events: Float64Array
  sum: Float64Array
}

export function emptyTally(rows: number, periods: number): RetentionTally {
  return {
    people: new Float64Array(rows),
    latest: new Float64Array(rows),
    earliest: new Float64Array(rows).fill(Infinity),
    returned: new Float64Array(rows * periods),
    events: new Float64Array(rows * periods),
    sum: new Float64Array(rows * periods),
  }
}

export function joinTallies(a: RetentionTally, b: RetentionTally): RetentionTally {
  return {
    people: addArrays(a.people, b.people),
    latest: a.latest.map((at, i) => Math.max(at, b.latest[i])),
    earliest: a.earliest.map((at, i) => Math.min(at, b.earliest[i])),
    returned: addArrays(a.returned, b.returned),
    events: addArrays(a.events, b.events),
    sum: addArrays(a.sum, b.sum),
  }
}
