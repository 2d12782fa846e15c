import { sharedCodes, sharedFloat64, sharedUint32, type Past, type ProfileColumn } from './log.js'
import type { LogSchema } from './schema.js'
import { stage, type StagedColumn } from './staging.js'
import type { Value } from './values.js'

/** One profile property of all people, in arrays that grow. */
export interface ProfileColumns extends StagedColumn {
  past: GrowingPast | null
}

/** What people had before, run by run; a person whose past is written anew gets a new run, and the old one stands idle. */
interface GrowingPast {
  values: StagedColumn
  /** by slot of `values`, epoch ms */
  since: Float64Array
  used: number
  /** slots that no run holds any more */
  idle: number
  /** by person: where their run begins, and how long it is */
  first: Uint32Array
  many: Uint32Array
}

/** A value, and the moment from which it holds: epoch ms, −∞ = always until the next. null = none. */
export interface Held {
  since: number
  value: Value | null
  /** whether a text is a date; null = not known */
  dated: boolean | null
}

/** Profile properties by person, kept up to date by one thread; scans get snapshots that no longer change. */
export class Profiles {
  private readonly columns: ProfileColumns[]
  private readonly snapshots: (ProfileColumn | undefined)[] = []
  private people = 0

  constructor(
    private readonly schema: LogSchema,
    private readonly dayStart: (day: string) => number,
    columns: ProfileColumns[] = [],
  ) {
    this.columns = columns
  }

  /** As they are now, to go on from: not copied. */
  get all(): readonly ProfileColumns[] {
    return this.columns
  }

  /** Writes the one value that a person has and always had; null takes it away. @param isDate whether a text is a date, where that is known */
  set(person: number, name: string, value: Value | null, isDate: boolean | null = null): void {
    const code = this.schema.addProfile(name)
    const column = (this.columns[code] ??= { ...newStaged(), past: null })
    if (column.past && person < column.past.many.length) {
      column.past.idle += column.past.many[person]
      column.past.many[person] = 0
    }
    this.put(code, column, person, value, isDate)
    this.snapshots[code] = undefined
  }

  /** Writes what a person had in the course of time. @param held in order of time; where one always held, it is the only one */
  setPast(person: number, name: string, held: readonly Held[]): void {
    const last = held.at(-1)
    this.set(person, name, last?.value ?? null, last?.dated)
    if (!last || (held.length === 1 && last.since === -Infinity)) return
    const code = this.schema.addProfile(name)
    this.schema.profile[code].changing = true
    const past = (this.columns[code].past ??= newPast())
    if (person >= past.first.length) {
      past.first = grown(past.first, person)
      past.many = grown(past.many, person)
    }
    past.first[person] = past.used
    past.many[person] = held.length
    for (const { since, value, dated } of held) {
      const slot = past.used++
      if (slot >= past.since.length) past.since = grown(past.since, slot)
      past.since[slot] = since
      this.put(code, past.values, slot, value, dated)
    }
    if (past.idle > 1024 && past.idle * 2 > past.used) this.columns[code].past = tidied(past)
  }

  private put(code: number, column: StagedColumn, slot: number, value: Value | null, isDate: boolean | null): void {
    if (slot < column.codes.length) column.codes[slot] = 0
    if (column.numbers && slot < column.numbers.length) column.numbers[slot] = NaN
    if (column.dates && slot < column.dates.length) column.dates[slot] = NaN
    if (value !== null) stage(column, slot, value, this.schema.profile[code], this.dayStart, isDate)
  }

  /** Columns for people 0 up to, not including, `people`. What did not change since the last call is the same column. */
  snapshot(people: number): ProfileColumn[] {
    if (people !== this.people) this.snapshots.fill(undefined)
    this.people = people
    return this.columns.map(
      (column, code) =>
        (this.snapshots[code] ??= copyOf(column, people, this.schema.profile[code].dictionary.size - 1)),
    )
  }
}

function copyOf({ codes, numbers, dates, past }: ProfileColumns, people: number, maxCode: number): ProfileColumn {
  const runs = past && past.idle < past.used ? past : null
  const held = runs ? runs.used - runs.idle : 0
  const slots = runs ? people + held + 1 : people
  const shared = sharedCodes(slots, maxCode)
  shared.set(codes.subarray(0, people))
  const numeric = (array: Float64Array | null, before: Float64Array | null | undefined) => {
    if (!array && !before) return null
    const copy = sharedFloat64(slots).fill(NaN)
    if (array) copy.set(array.subarray(0, people))
    return copy
  }
  const column = {
    codes: shared,
    numbers: numeric(numbers, runs?.values.numbers),
    dates: numeric(dates, runs?.values.dates),
  }
  if (!runs) return { ...column, past: null }
  const copied: Past = { starts: sharedUint32(people + 1), since: sharedFloat64(held), base: people }
  const { values } = runs
  let at = 0
  for (let person = 0; person < people; person++) {
    copied.starts[person] = at
    const many = runs.many[person] ?? 0
    for (let i = 0, from = runs.first[person]; i < many; i++, from++, at++) {
      copied.since[at] = runs.since[from]
      shared[people + at] = values.codes[from] ?? 0
      if (values.numbers) column.numbers![people + at] = values.numbers[from] ?? NaN
      if (values.dates) column.dates![people + at] = values.dates[from] ?? NaN
    }
  }
  copied.starts[people] = at
  return { ...column, past: copied }
}

/** The same without the runs that nobody's past holds any more. */
function tidied(past: GrowingPast): GrowingPast {
  const { values } = past
  const used = past.used - past.idle
  const pick = <T extends Uint32Array | Float64Array>(from: T, to: T, empty: number): T => {
    let at = 0
    past.many.forEach((many, person) => {
      for (let i = 0; i < many; i++) to[at++] = from[past.first[person] + i] ?? empty
    })
    return to
  }
  const numeric = (array: Float64Array | null) => array && pick(array, new Float64Array(used), NaN)
  const first = new Uint32Array(past.first.length)
  let at = 0
  past.many.forEach((many, person) => {
    first[person] = at
    at += many
  })
  return {
    ...{ used, idle: 0, first, many: past.many, since: pick(past.since, new Float64Array(used), 0) },
    values: {
      codes: pick(values.codes, new Uint32Array(Math.max(1, used)), 0),
      numbers: numeric(values.numbers),
      dates: numeric(values.dates),
    },
  }
}

const newStaged = (): StagedColumn => ({ codes: new Uint32Array(64), numbers: null, dates: null })

function newPast(): GrowingPast {
  const empty = { used: 0, idle: 0, first: new Uint32Array(64), many: new Uint32Array(64) }
  return { ...empty, values: newStaged(), since: new Float64Array(64) }
}

function grown<T extends Float64Array | Uint32Array>(array: T, slot: number): T {
  const wider = new (array.constructor as new (n: number) => T)(Math.max(slot + 1, array.length * 2))
  wider.set(array as never)
  return wider
}
