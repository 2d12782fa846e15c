import type { EventLog, ProfileColumn } from '../../log/log.js'
import { slotAt } from '../../log/log.js'
import type { FeaturePlaces, PropertyPlaces } from './features.js'
import type { Gathered } from './plan.js'

const DAY = 86_400_000

/** What people had at a moment, where only what was known then counts. */
export interface ProfileMoment {
  ms: number
  /** by code of a property, then by person: 1 = its first value came later, without a time of its own */
  late: ReadonlyMap<number, Uint8Array>
}

/**
 * The slot of a person's value at a moment.
 * @returns −1 where none was known
 */
function slotOf(column: ProfileColumn, person: number, ms: number, late: Uint8Array | undefined): number {
  const slot = column.past ? slotAt(column.past, person, ms) : person
  if (late?.[person] !== 1) return slot
  const past = column.past
  // Of somebody whose first value came late, what was written since with a time of its own is known all the same.
  const isFirst = !past || slot === person || slot === past.base + past.starts[person]
  return isFirst ? -1 : slot
}

/** Reads the values of a profile property: a code (0 = none or a number), and a number, NaN = none. */
export function profileReader(log: EventLog, code: number, { ms, late }: ProfileMoment) {
  const column = log.profiles[code] as ProfileColumn | undefined
  const own = late.get(code)
  return {
    has: column !== undefined,
    /** whether there is a value that is neither a code nor a number */
    isDate: (person: number): boolean => {
      const slot = column ? slotOf(column, person, ms, own) : -1
      const date = slot >= 0 ? (column!.dates?.[slot] ?? NaN) : NaN
      return date === date
    },
    code: (person: number): number => {
      const slot = column ? slotOf(column, person, ms, own) : -1
      return slot >= 0 ? (column!.codes?.[slot] ?? 0) : 0
    },
    number: (person: number): number => {
      const slot = column ? slotOf(column, person, ms, own) : -1
      return slot >= 0 ? (column!.numbers?.[slot] ?? NaN) : NaN
    },
  }
}

/**
 * Goes through what is known of each row, save what is usual.
 * @param visit is given the column and by how much more than usual it is; columns do not come in order
 */
export function rowReader(
  log: EventLog,
  rows: Gathered,
  places: FeaturePlaces,
  moment: ProfileMoment,
  backDays: number,
): (row: number, visit: (column: number, value: number) => void) => void {
  const { starts, place, count, latest, days, first, people } = rows
  const { behaviours, seen } = places
  const properties = places.properties.map((each) => ({ ...each, read: profileReader(log, each.code, moment) }))

  function readProperty(
    { ofCode, ofList, number, usual, read }: PropertyPlaces & { read: ReturnType<typeof profileReader> },
    person: number,
    visit: (column: number, value: number) => void,
  ): void {
    const found = read.number(person)
    if (found === found) {
      if (number >= 0 && found !== usual) visit(number, found - usual)
      return
    }
    const code = read.code(person)
    if (code === 0 && read.isDate(person)) return
    if (ofCode[code] >= 0) visit(ofCode[code], 1)
    else if (ofList.has(code)) for (const column of ofList.get(code)!) visit(column, 1)
  }

  return (row, visit) => {
    for (let at = starts[row]; at < starts[row + 1]; at++) {
      const base = place[at] * 3
      if (behaviours[base] >= 0) visit(behaviours[base], Math.log1p(count[at]))
      const since = (moment.ms - latest[at]) / DAY
      if (behaviours[base + 1] >= 0 && since !== backDays) visit(behaviours[base + 1], since - backDays)
      if (behaviours[base + 2] >= 0) visit(behaviours[base + 2], Math.log1p(days[at]))
    }
    if (seen >= 0) {
      const known = (moment.ms - first[row]) / DAY
      if (known > 0) visit(seen, Math.log1p(known))
    }
    for (const property of properties) readProperty(property, people[row], visit)
  }
}
