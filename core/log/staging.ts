import type { Column, Rows } from './log.js'
import type { GrowingInfo, LogSchema } from './schema.js'
import type { Steps } from '../steps.js'
import { readDate, type Value } from './values.js'

export interface StagedColumn {
  codes: Uint32Array
  numbers: Float64Array | null
  dates: Float64Array | null
}

/**
 * Takes rows one by one, in order of arrival, into growing arrays. The person of a row is kept apart (`person`),
 * because ids may merge between the row's arrival and the sorting.
 */
export class Staging {
  length = 0
  time: Float64Array
  type: Uint16Array
  slot: Uint32Array
  arrival: Uint32Array
  source: Uint16Array
  /** whatever the caller resolves to a person later: here, the row number of an id */
  owner: Uint32Array
  private readonly counts: number[] = []
  private readonly staged: Map<number, StagedColumn>[] = []

  constructor(
    private readonly schema: LogSchema,
    private readonly dayStart: (day: string) => number,
    capacity = 1024,
  ) {
    this.time = new Float64Array(capacity)
    this.type = new Uint16Array(capacity)
    this.slot = new Uint32Array(capacity)
    this.arrival = new Uint32Array(capacity)
    this.source = new Uint16Array(capacity)
    this.owner = new Uint32Array(capacity)
  }

  /** @param dates which of the properties hold a date, where that is known; else what looks like one is one */
  add(
    row: { arrival: number; owner: number; type: number; time: number; source: number },
    properties: object,
    dates: readonly string[] | null = null,
  ): void {
    const at = this.length++
    if (at === this.time.length) this.grow()
    const slot = (this.counts[row.type] ??= 0)
    this.counts[row.type]++
    this.time[at] = row.time
    this.type[at] = row.type
    this.slot[at] = slot
    this.arrival[at] = row.arrival
    this.source[at] = row.source
    this.owner[at] = row.owner
    const columns = (this.staged[row.type] ??= new Map())
    const values = properties as Record<string, Value>
    for (const name in values) {
      const value = values[name]
      const code = this.schema.addProperty(name)
      let column = columns.get(code)
      if (!column) columns.set(code, (column = { codes: new Uint32Array(64), numbers: null, dates: null }))
      stage(column, slot, value, this.schema.properties[code], this.dayStart, dates ? dates.includes(name) : null)
    }
  }

  /** The rows as they arrived. The arrays are the staging's own: no more rows may be added after. */
  *rows(): Steps<Rows> {
    const columns: Map<number, Column>[] = []
    for (const [type, byProperty] of this.staged.entries()) {
      if (!byProperty) continue
      columns[type] = new Map()
      const count = this.counts[type]
      for (const [code, column] of byProperty) {
        columns[type].set(code, padded(column, count))
        yield
      }
    }
    for (let type = 0; type < this.schema.types.length; type++) columns[type] ??= new Map()
    const { length, time, type, slot, arrival, source } = this
    return { length, time, type, slot, arrival, source, columns }
  }

  private grow(): void {
    const capacity = this.time.length * 2
    this.time = grown(this.time, capacity)
    this.type = grown(this.type, capacity)
    this.slot = grown(this.slot, capacity)
    this.arrival = grown(this.arrival, capacity)
    this.source = grown(this.source, capacity)
    this.owner = grown(this.owner, capacity)
  }
}

/**
 * Writes a value into a growing column at a slot; what is no value leaves the slot empty.
 * Shared by event columns and profiles.
 * @param isDate whether a text is a date; null = not known: what looks like one is one
 */
export function stage(
  column: StagedColumn,
  slot: number,
  value: Value,
  info: GrowingInfo,
  dayStart: (day: string) => number,
  isDate: boolean | null,
): void {
  if (typeof value === 'number') {
    column.numbers = roomFor(column.numbers, slot)
    column.numbers[slot] = value
    return
  }
  if (typeof value === 'string') {
    const date = isDate === false ? NaN : readDate(value, dayStart)
    if (!Number.isNaN(date)) {
      column.dates = roomFor(column.dates, slot)
      column.dates[slot] = date
      info.dated = true
      return
    }
  } else if (typeof value !== 'boolean' && !Array.isArray(value)) return
  if (slot >= column.codes.length) column.codes = grown(column.codes, Math.max(slot + 1, column.codes.length * 2))
  column.codes[slot] = info.dictionary.code(value)
}

function roomFor(array: Float64Array | null, slot: number): Float64Array {
  if (array && slot < array.length) return array
  const wider = new Float64Array(Math.max(64, slot + 1, (array?.length ?? 0) * 2)).fill(NaN)
  if (array) wider.set(array)
  return wider
}

function padded(column: StagedColumn, count: number): Column {
  const fit = (array: Float64Array | null) => array && (array.length >= count ? array : roomFor(array, count - 1))
  return {
    codes: column.codes.length >= count ? column.codes : grown(column.codes, count),
    numbers: fit(column.numbers),
    dates: fit(column.dates),
  }
}

function grown<T extends Float64Array | Uint32Array | Uint16Array>(array: T, capacity: number): T {
  const wider = new (array.constructor as new (n: number) => T)(capacity)
  wider.set(array as never)
  return wider
}
