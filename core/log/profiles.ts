import { sharedCodes, sharedFloat64, type Column } from './log.js'
import type { LogSchema } from './schema.js'
import { stage } from './staging.js'
import type { Value } from './values.js'

/** One profile property of all people, in arrays that grow. */
export interface ProfileColumns {
  codes: Uint32Array
  numbers: Float64Array | null
  dates: Float64Array | null
}

/** Profile properties by person, kept up to date by one thread; scans get snapshots that no longer change. */
export class Profiles {
  private readonly columns: ProfileColumns[]
  private readonly snapshots: (Column | undefined)[] = []
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

  /** Writes one value of one person; null takes it away. @param isDate whether a text is a date, where that is known */
  set(person: number, name: string, value: Value | null, isDate: boolean | null = null): void {
    const code = this.schema.addProfile(name)
    const column = (this.columns[code] ??= { codes: new Uint32Array(64), numbers: null, dates: null })
    if (person < column.codes.length) column.codes[person] = 0
    if (column.numbers && person < column.numbers.length) column.numbers[person] = NaN
    if (column.dates && person < column.dates.length) column.dates[person] = NaN
    if (value !== null) stage(column, person, value, this.schema.profile[code], this.dayStart, isDate)
    this.snapshots[code] = undefined
  }

  /** Columns for people 0 up to, not including, `people`. What did not change since the last call is the same column. */
  snapshot(people: number): Column[] {
    if (people !== this.people) this.snapshots.fill(undefined)
    this.people = people
    return this.columns.map(
      (column, code) =>
        (this.snapshots[code] ??= copyOf(column, people, this.schema.profile[code].dictionary.size - 1)),
    )
  }
}

function copyOf({ codes, numbers, dates }: ProfileColumns, people: number, maxCode: number): Column {
  const shared = sharedCodes(people, maxCode)
  shared.set(codes.subarray(0, people))
  const numeric = (array: Float64Array | null) => {
    if (!array) return null
    const copy = sharedFloat64(people).fill(NaN)
    copy.set(array.subarray(0, people))
    return copy
  }
  return { codes: shared, numbers: numeric(numbers), dates: numeric(dates) }
}
