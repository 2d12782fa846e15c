import { bindPick } from '../../filters/picks.js'
import {
  sharedFloat64,
  sharedUint16,
  sharedUint32,
  sharedUint8,
  type EventLog,
  type PersonRange,
} from '../../log/log.js'
import { QUARTER } from '../../time/quarter.js'
import type { Gathered, GatherPlan } from './plan.js'

/** Those of the people scanned, run by run in order of people: at the cut-off, and as of now. */
export interface GatheredPart {
  pass: 'gather'
  before: Gathered[]
  now: Gathered[]
}

export function gather(log: EventLog, people: PersonRange, plan: GatherPlan): GatheredPart {
  const { hidden, person: persons } = log
  const { among, moments } = plan
  const before = moments.cutOff === null ? null : gatherer(log, plan, moments.cutOff, moments.until)
  const now = gatherer(log, plan, moments.now, null)
  for (let index = people.from; index < people.to; index++) {
    if (hidden?.[index] === 1 || (among !== null && among[persons[index]] !== 1)) continue
    before?.take(index)
    now.take(index)
  }
  return { pass: 'gather', before: before ? [before.rows()] : [], now: [now.rows()] }
}

export function mergeGathered(a: GatheredPart, b: GatheredPart): GatheredPart {
  return { pass: 'gather', before: [...a.before, ...b.before], now: [...a.now, ...b.now] }
}

/** @param until epoch ms up to which doing it is looked for; null = not at all */
function gatherer(log: EventLog, plan: GatherPlan, moment: number, until: number | null) {
  const { offsets, time, type: types, person: persons } = log
  const { placeOf, behaviours, backMs, again, lately, days } = plan
  const goals = bindPick(plan.goal, log)
  const from = moment - backMs
  const counts = new Uint32Array(behaviours)
  const dayCounts = new Uint16Array(behaviours)
  const lastDay = new Int32Array(behaviours)
  const latest = new Float64Array(behaviours)
  const met: number[] = []
  const out = {
    people: [] as number[],
    did: [] as number[],
    first: [] as number[],
    last: [] as number[],
    starts: [0],
    place: [] as number[],
    count: [] as number[],
    latest: [] as number[],
    days: [] as number[],
  }

  /** @returns the first row after the moment */
  function endOf(index: number): number {
    let [low, high] = [offsets[index], offsets[index + 1]]
    while (low < high) {
      const middle = (low + high) >> 1
      if (time[middle] <= moment) low = middle + 1
      else high = middle
    }
    return low
  }

  function countRow(row: number): void {
    const place = placeOf[types[row]]
    if (place < 0) return
    if (counts[place] === 0) {
      met.push(place)
      dayCounts[place] = 0
      lastDay[place] = -1
    }
    counts[place]++
    latest[place] = time[row]
    const day = days.day[((time[row] - days.origin) / QUARTER) | 0]
    if (day !== lastDay[place]) {
      dayCounts[place]++
      lastDay[place] = day
    }
  }

  return {
    take(index: number): void {
      const start = offsets[index]
      const end = endOf(index)
      if (end === start) return
      const person = persons[index]
      const found = goals.next(again ? end : start, offsets[index + 1], person)
      if (!again && found >= 0 && found < end) return
      if (lately && time[end - 1] <= from) return
      out.people.push(person)
      out.did.push(until !== null && found >= 0 && time[found] <= until ? 1 : 0)
      out.first.push(time[start])
      out.last.push(time[end - 1])
      let row = end
      while (row > start && time[row - 1] > from) row--
      for (; row < end; row++) countRow(row)
      for (const place of met) {
        out.place.push(place)
        out.count.push(counts[place])
        out.latest.push(latest[place])
        out.days.push(dayCounts[place])
        counts[place] = 0
      }
      met.length = 0
      out.starts.push(out.place.length)
    },
    rows: (): Gathered => ({
      people: filled(sharedUint32, out.people),
      did: filled(sharedUint8, out.did),
      first: filled(sharedFloat64, out.first),
      last: filled(sharedFloat64, out.last),
      starts: filled(sharedUint32, out.starts),
      place: filled(sharedUint16, out.place),
      count: filled(sharedUint32, out.count),
      latest: filled(sharedFloat64, out.latest),
      days: filled(sharedUint16, out.days),
    }),
  }
}

function filled<A extends { set(values: ArrayLike<number>): void }>(make: (n: number) => A, values: number[]): A {
  const array = make(values.length)
  array.set(values)
  return array
}
