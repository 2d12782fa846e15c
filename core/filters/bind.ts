import { slotAt, type Column, type EventLog, type Past } from '../log/log.js'
import type { ColumnRef, NumberTest, Test } from './compile.js'

/** Whether an event fulfils a filter. `slot` is the row's place in the columns of its type, `person` the workspace's number. */
export type RowTest = (row: number, slot: number, person: number) => boolean

/** The moment as of which people are looked at, epoch ms: set before each look. */
export interface AsOf {
  ms: number
}

/**
 * Ties a compiled filter to the columns of one event type, once for each scan. null = everything holds.
 * @param type −1 = of people alone, whose row and slot are −1, as they were `asOf`
 */
export function bindTest(test: Test | null, log: EventLog, type: number, asOf?: AsOf): RowTest | null {
  if (!test) return null
  switch (test.kind) {
    case 'always':
      return null
    case 'never':
      return () => false
    case 'all': {
      const parts = test.tests.map((t) => bindTest(t, log, type, asOf)).filter((t) => t !== null)
      if (parts.length === 0) return null
      if (parts.length === 1) return parts[0]
      return (row, slot, person) => {
        for (const part of parts) if (!part(row, slot, person)) return false
        return true
      }
    }
    case 'any': {
      const parts = test.tests.map((t) => bindTest(t, log, type, asOf))
      if (parts.includes(null)) return null
      return (row, slot, person) => {
        for (const part of parts) if (part!(row, slot, person)) return true
        return false
      }
    }
    case 'value':
      return bindValue(test, log, type, asOf)
  }
}

function bindValue(test: Test & { kind: 'value' }, log: EventLog, type: number, asOf?: AsOf): RowTest {
  const { ofCode, ofNumber, ofDate } = test
  const none = ofCode[0] === 1
  if (test.column.of === 'source') {
    const { source } = log
    return (row) => holdsCode(ofCode, source[row])
  }
  const column = columnOf(test.column, log, type)
  if (!column) return () => none
  const { codes, numbers, dates } = column
  const byPerson = type < 0 || isOfPerson(test.column)
  const past = pastOf(test.column, log, type)
  // The common case, codes only, without the other two look-ups.
  if (codes && !numbers && !dates && !past) {
    return byPerson
      ? (_row, _slot, person) => holdsCode(ofCode, codes[person])
      : (_row, slot) => holdsCode(ofCode, codes[slot])
  }
  return (_row, slot, person) => {
    const at = past ? slotAt(past, person, asOf!.ms) : byPerson ? person : slot
    const code = codes ? codes[at] : 0
    if (code > 0) return holdsCode(ofCode, code)
    const number = numbers ? numbers[at] : NaN
    if (number === number) return holdsNumber(ofNumber, number)
    const date = dates ? dates[at] : NaN
    if (date === date) return holdsNumber(ofDate, date)
    return none
  }
}

function holdsCode(table: Uint8Array, code: number): boolean {
  return table[code | 0] === 1
}

function holdsNumber(test: NumberTest, x: number): boolean {
  return (x >= test.low && x <= test.high) !== test.outside
}

export function columnOf(ref: ColumnRef, log: EventLog, type: number): Column | undefined {
  switch (ref.of) {
    case 'event':
      return log.columns[type]?.get(ref.code)
    case 'person':
      return log.profiles[ref.code]
    case 'then':
      return type < 0 ? log.profiles[ref.code] : log.then[type]?.get(ref.code)
    case 'made then':
      return type < 0 ? log.madeProfiles.get(ref.code) : log.then[type]?.get(~ref.code)
    case 'made':
      return log.made[type]?.get(ref.code)
    case 'made person':
      return log.madeProfiles.get(ref.code)
    case 'members':
      return { codes: ref.codes, numbers: null, dates: null }
    case 'source':
      return { codes: log.source, numbers: null, dates: null }
  }
}

/** The past to look a value up in, where it is read of people alone and not of events; null = a person's number is its slot. */
export function pastOf(ref: ColumnRef, log: EventLog, type: number): Past | null {
  if (type >= 0) return null
  if (ref.of === 'then') return log.profiles[ref.code]?.past ?? null
  return ref.of === 'made then' ? (log.madeProfiles.get(ref.code)?.past ?? null) : null
}

/** Whether a column's slots are people. */
export function isOfPerson(ref: ColumnRef): boolean {
  return ref.of === 'person' || ref.of === 'made person' || ref.of === 'members'
}
