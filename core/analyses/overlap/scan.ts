import { addArrays } from '../../groups/groups.js'
import type { EventLog, PersonRange } from '../../log/log.js'
import { mergeTrend, scanTrend } from '../trend/scan.js'
import type { OverlapPart, OverlapPlan } from './plan.js'
import type { OverlapMark } from './marks.js'

/** Counts people by which of the segments they are in (how numbers are counted, 12), and the figure for each part. */
export function scanOverlap(log: EventLog, people: PersonRange, plan: OverlapPlan): OverlapPart {
  const counts = new Float64Array(1 << plan.sides)
  eachPerson(log, people, plan, (_person, mask) => counts[mask]++)
  return { people: counts, trend: plan.trend && scanTrend(log, people, plan.trend) }
}

export function mergeOverlap(a: OverlapPart, b: OverlapPart): OverlapPart {
  return { people: addArrays(a.people, b.people), trend: a.trend && mergeTrend(a.trend, b.trend!) }
}

/** The people of any of the marked parts, ascending by the workspace's number. */
export function selectOverlap(
  log: EventLog,
  people: PersonRange,
  plan: OverlapPlan,
  marks: readonly OverlapMark[],
): Uint32Array {
  const wanted = new Uint8Array(1 << plan.sides)
  for (const mark of marks) {
    if (mark.kind !== 'part') continue
    const inside = maskOf(mark.in)
    for (let mask = 1; mask < wanted.length; mask++)
      if (mark.more ? (mask & inside) === inside : mask === inside) wanted[mask] = 1
  }
  const found: number[] = []
  eachPerson(log, people, plan, (person, mask) => {
    if (wanted[mask] === 1) found.push(person)
  })
  return Uint32Array.from(found)
}

export function maskOf(sides: readonly number[]): number {
  return sides.reduce((mask, side) => mask | (1 << side), 0)
}

/** Everybody who has an event by now and is asked among, with the segments they are in. */
function eachPerson(
  log: EventLog,
  people: PersonRange,
  { codes, maskOfCode, among, now }: OverlapPlan,
  visit: (person: number, mask: number) => void,
): void {
  for (let index = people.from; index < people.to; index++) {
    const person = log.person[index]
    if (log.hidden?.[index] === 1 || (among && among[person] !== 1)) continue
    if (log.time[log.offsets[index]] > now) continue
    visit(person, maskOfCode[codes[person]])
  }
}
