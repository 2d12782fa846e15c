import { columnOf, isOfPerson } from '../../filters/bind.js'
import type { ColumnRef } from '../../filters/compile.js'
import type { Column, EventLog } from '../../log/log.js'

/** Values of one property by row; a list is the same as another that is equal. */
export function bindColumn(log: EventLog, ref: ColumnRef) {
  const columns: (Column | undefined | null)[] = []
  const byPerson = isOfPerson(ref)
  const { type: types, slot: slots } = log
  const column = (row: number): Column | undefined => {
    const type = types[row]
    let found = columns[type]
    if (found === undefined) columns[type] = found = columnOf(ref, log, type) ?? null
    return found ?? undefined
  }
  const at = (row: number, person: number) => (ref.of === 'source' ? row : byPerson ? person : slots[row])
  const code = (row: number, person: number) => column(row)?.codes?.[at(row, person)] ?? 0
  const number = (row: number, person: number) => column(row)?.numbers?.[at(row, person)] ?? NaN
  const date = (row: number, person: number) => column(row)?.dates?.[at(row, person)] ?? NaN
  return {
    code,
    number,
    date,
    has: (row: number, person: number): boolean =>
      code(row, person) > 0 || !Number.isNaN(number(row, person)) || !Number.isNaN(date(row, person)),
    equal: (a: number, b: number, person: number): boolean => {
      const x = code(a, person)
      if (x > 0) return x === code(b, person)
      // NaN equals nothing, so what has no value is never the same.
      return number(a, person) === number(b, person) || date(a, person) === date(b, person)
    },
  }
}
