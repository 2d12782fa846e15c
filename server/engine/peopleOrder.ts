import type { PeopleSort } from './peopleSort.js'
import type { EventLog } from '../../core/log/log.js'
import type { Schema } from '../../core/log/schema.js'
import { findPerson } from './lookups.js'

/** How many events a person has up to a moment, and when the last was, epoch ms. */
export function seenOf(logs: readonly EventLog[], person: number, now: number): { events: number; lastMs: number } {
  const found = findPerson(logs, person)
  if (!found) return { events: 0, lastMs: 0 }
  const { log, from } = found
  let { to } = found
  while (to > from && log.time[to - 1]! > now) to--
  return { events: to - from, lastMs: log.time[Math.max(from, to - 1)]! }
}

/** People in another order: numbers before texts, what has no value last, equal ones by their number. */
export function sortPeople(
  list: Uint32Array,
  { by, up }: PeopleSort,
  { logs, schema, now }: { logs: readonly EventLog[]; schema: Schema; now: number },
): Uint32Array {
  const keys = typeof by === 'object' ? profileKeys(list, by.profile, logs, schema) : seenKeys(list, by, logs, now)
  const order = Uint32Array.from(list.keys())
  const sign = up ? 1 : -1
  order.sort((a, b) => {
    const [x, y] = [keys[a]!, keys[b]!]
    if (x === y || (x !== x && y !== y)) return a - b
    if (x !== x || y !== y) return x !== x ? 1 : -1
    return sign * (x - y)
  })
  return order.map((index) => list[index]!)
}

function seenKeys(list: Uint32Array, by: 'events' | 'last seen', logs: readonly EventLog[], now: number): Float64Array {
  return Float64Array.from(list, (person) => {
    const { events, lastMs } = seenOf(logs, person, now)
    return by === 'events' ? events : lastMs
  })
}

/** A number for each person by which their values sort; NaN = no value. */
function profileKeys(list: Uint32Array, name: string, logs: readonly EventLog[], schema: Schema): Float64Array {
  const made = schema.madeCode('person', name)
  const code = schema.profileCode(name)
  const column = made !== undefined ? logs[0]?.madeProfiles.get(made) : code !== undefined && logs[0]?.profiles[code]
  if (!column) return new Float64Array(list.length).fill(NaN)
  const { values } = made !== undefined ? schema.made[made]!.dictionary : schema.profile[code!]!.dictionary
  const places = [...values.keys()].sort((a, b) => compareText(String(values[a]), String(values[b])))
  const rank = new Float64Array(values.length)
  // Texts stand after all numbers and dates there are.
  places.forEach((value, place) => (rank[value] = 1e15 + place))
  return Float64Array.from(list, (person) => {
    const value = column.codes?.[person] ?? 0
    if (value > 0) return rank[value] ?? NaN
    const number = column.numbers?.[person] ?? NaN
    return Number.isNaN(number) ? (column.dates?.[person] ?? NaN) : number
  })
}

function compareText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}
