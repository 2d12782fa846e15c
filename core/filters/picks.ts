import { bindTest, type RowTest } from './bind.js'
import { compileFilter, type CompileContext, type Test } from './compile.js'
import type { EventLog } from '../log/log.js'
import { lowerBound } from '../log/lowerBound.js'
import type { EventPick } from '../questions/parts.js'
import { planTypes } from './eventTypes.js'

/** Which events are meant, as codes and look-up tables. */
export interface PickPlan {
  types: Uint16Array
  test: Test | null
}

export function planPick(pick: EventPick, compile: CompileContext, path: (string | number)[]): PickPlan {
  return {
    types: planTypes(pick.event, compile.schema, compile.faults, [...path, 'event']),
    test: compileFilter(pick.where, compile, [...path, 'where']),
  }
}

/** Finds the events that are meant among a person's. Fastest where it is asked for later and later rows. */
export interface Picker {
  /** the first such row at or after `row` and before `end`; −1 = there is none */
  next(row: number, end: number, person: number): number
  /**
   * Where one type is meant and no filter: its rows in order, the quarters of an hour they lie in, and the place of the
   * first row at or after another. Loops over these look at nothing else.
   */
  plain: { rows: Uint32Array; quarters: Uint32Array; placeOf(row: number): number } | null
}

export function bindPick({ types, test }: PickPlan, log: EventLog): Picker {
  if (types.length === 1) return pickerOfType(log, types[0], bindTest(test, log, types[0]))
  const { type: typeOf, slot } = log
  const wanted = new Uint8Array(Math.max(log.rowsOfType.length, ...types.map((type) => type + 1), 1))
  const tests: (RowTest | null)[] = []
  for (const type of types) {
    wanted[type] = 1
    tests[type] = type < log.rowsOfType.length ? bindTest(test, log, type) : null
  }
  return {
    plain: null,
    next(row, end, person) {
      for (let at = row; at < end; at++) {
        const type = typeOf[at]
        if (wanted[type] === 1 && (!tests[type] || tests[type](at, slot[at], person))) return at
      }
      return -1
    },
  }
}

/** Of one type: its own rows stand together, so whatever else a person did is never looked at. */
function pickerOfType(log: EventLog, type: number, test: RowTest | null): Picker {
  const rows = log.rowsOfType[type] ?? new Uint32Array(0)
  const quarters = log.quartersOfType[type] ?? rows
  let cursor = 0
  const goTo = (row: number) => {
    // People come in order, so the next place is mostly near, and looked for in steps that grow; only a step back is looked for anew.
    if (cursor > 0 && rows[cursor - 1] >= row) cursor = lowerBound(rows, row)
    else {
      let near = 0
      while (cursor < rows.length && rows[cursor] < row && near < 8) {
        cursor++
        near++
      }
      if (cursor < rows.length && rows[cursor] < row) {
        let step = 8
        while (cursor + step < rows.length && rows[cursor + step] < row) {
          cursor += step
          step *= 2
        }
        cursor = lowerBound(rows, row, cursor + 1, Math.min(rows.length, cursor + step))
      }
    }
    return cursor
  }
  return {
    plain: test ? null : { rows, quarters, placeOf: goTo },
    next(row, end, person) {
      goTo(row)
      for (; cursor < rows.length && rows[cursor] < end; cursor++)
        if (!test || test(rows[cursor], cursor, person)) return rows[cursor]
      return -1
    },
  }
}

/** Whether rows are one of the events that are meant, asked of one row after another. */
export interface RowMatcher {
  /** by type: whether any of its rows may be meant */
  of: Uint8Array
  holds(row: number, person: number): boolean
}

export function rowMatcher({ types, test }: PickPlan, log: EventLog): RowMatcher {
  const { type: typeOf, slot } = log
  const of = new Uint8Array(Math.max(log.rowsOfType.length, ...types.map((type) => type + 1)))
  const tests: (RowTest | null)[] = []
  for (const type of types) {
    of[type] = 1
    tests[type] = bindTest(test, log, type)
  }
  return {
    of,
    holds(row, person) {
      const type = typeOf[row]
      if (of[type] === 0) return false
      const own = tests[type]
      return own === null || own(row, slot[row], person)
    },
  }
}
