/** The column store's shapes: what every scan reads. Nothing here knows where the rows came from. */

/**
 * The values of one property, one entry for each slot. A slot holds at most one value, and only in one of the arrays:
 * `codes` (text, boolean or list, 0 = no such value), `numbers` or `dates` (epoch ms), where NaN = no such value.
 * An array that would hold nothing is null.
 */
export interface Column {
  codes: Uint8Array | Uint16Array | Uint32Array | null
  numbers: Float64Array | null
  dates: Float64Array | null
}

/**
 * One profile property. The value that a person has in the end stands at their number; what it was before stands behind
 * those of all people, in the same arrays, and in a last slot nothing.
 */
export interface ProfileColumn extends Column {
  /** null = nobody's value ever changed: each holds at every moment */
  past: Past | null
}

/** Which values held when. */
export interface Past {
  /** by person, and one more: their values are `starts[person]` up to, not including, `starts[person + 1]`; none = one that always held */
  starts: Uint32Array
  /** epoch ms from which a value holds, ascending within a person; −∞ = before anything is known of another */
  since: Float64Array
  /** the slot of the first; the slot after the last holds nothing */
  base: number
}

/** The slot at which a person's value as of a moment stands: the one last written at or before it. */
export function slotAt({ starts, since, base }: Past, person: number, ms: number): number {
  const from = starts[person]
  let high = starts[person + 1]
  if (from === high) return person
  let low = from
  while (low < high) {
    const middle = (low + high) >> 1
    if (since[middle] <= ms) low = middle + 1
    else high = middle
  }
  return base + (low === from ? since.length : low - 1)
}

/** Rows in no particular order: what loading from the store gives, and what `arrange` sorts. */
export interface Rows {
  /** rows in use; the arrays may be longer */
  length: number
  /** epoch ms */
  time: Float64Array
  type: Uint16Array
  /** where the row's properties stand in the columns of its event type */
  slot: Uint32Array
  /** the row number that the store gave: breaks ties of time */
  arrival: Uint32Array
  /** 0 = no source */
  source: Uint16Array
  /** by event type code, then by property code */
  columns: Map<number, Column>[]
}

/** Rows sorted by person, time, arrival. Arrays are shared between threads and never written after they are made. */
export interface EventBlock extends Rows {
  /** number of people; `offsets` has one entry more */
  people: number
  /** the workspace's number of each person in the block, ascending */
  person: Uint32Array
  /** a person's rows are `offsets[i]` up to, not including, `offsets[i + 1]` */
  offsets: Uint32Array
  /** by event type code: the rows of that type in order; `rowsOfType[t][slot]` is the row of a slot */
  rowsOfType: Uint32Array[]
  /**
   * By event type code, then slot: the quarter of an hour since 1970 that the event lies in. Every bucket begins with a
   * quarter, and one type's stand together: scans of a type read a tenth of what its rows' times are spread over.
   */
  quartersOfType: Uint32Array[]
}

/** What a scan reads: one block, with the people's profiles. */
export interface EventLog extends EventBlock {
  /** by profile property code; a slot is the workspace's number of the person, or of a value they had before */
  profiles: ProfileColumn[]
  /** by event type code, then by the code of a made property: filled in as questions need them, slots as in `columns` */
  made: Map<number, Column>[]
  /** by the code of a made property of people; a slot is the workspace's number of the person */
  madeProfiles: Map<number, ProfileColumn>
  /**
   * By event type code, then by the code of a profile property (`~code` of a made one): what the person's value was when
   * the event happened, slots as in `columns`. Filled in as questions need them, for properties with a past.
   */
  then: Map<number, Column>[]
  /** 1 for people of this block whose rows stand in a newer block: to be passed over */
  hidden: Uint8Array | null
}

/** Half-open run of people of a block, by their index in it. */
export interface PersonRange {
  from: number
  to: number
}

export const sharedFloat64 = (n: number) => new Float64Array(new SharedArrayBuffer(n * 8))
export const sharedInt32 = (n: number) => new Int32Array(new SharedArrayBuffer(n * 4))
export const sharedUint32 = (n: number) => new Uint32Array(new SharedArrayBuffer(n * 4))
export const sharedUint16 = (n: number) => new Uint16Array(new SharedArrayBuffer(n * 2))
export const sharedUint8 = (n: number) => new Uint8Array(new SharedArrayBuffer(n))

/** The narrowest shared array of zeros that holds codes up to `max`. */
export function sharedCodes(n: number, max: number): Uint8Array | Uint16Array | Uint32Array {
  return max < 256 ? sharedUint8(n) : max < 65536 ? sharedUint16(n) : sharedUint32(n)
}

/** Bytes that a block's arrays take. */
export function blockBytes(block: EventBlock): number {
  let bytes = block.person.byteLength + block.offsets.byteLength
  for (const array of [block.time, block.type, block.slot, block.arrival, block.source]) bytes += array.byteLength
  for (const arrays of [block.rowsOfType, block.quartersOfType])
    for (const array of arrays) bytes += array?.byteLength ?? 0
  for (const byProperty of block.columns)
    for (const column of byProperty?.values() ?? [])
      bytes += (column.codes?.byteLength ?? 0) + (column.numbers?.byteLength ?? 0) + (column.dates?.byteLength ?? 0)
  return bytes
}

/**
 * Cuts a block's people into runs of about `rowsEach` rows, so that threads get equal work.
 * @returns runs in order that cover everybody once; none for an empty block
 */
export function cutPeople(block: EventBlock, rowsEach: number): PersonRange[] {
  const ranges: PersonRange[] = []
  let from = 0
  for (let person = 0; person < block.people; person++) {
    if (block.offsets[person + 1] - block.offsets[from] >= rowsEach) {
      ranges.push({ from, to: person + 1 })
      from = person + 1
    }
  }
  if (from < block.people) ranges.push({ from, to: block.people })
  return ranges
}
