import type { SeriesPlan } from './shape.js'
import { columnOf, isOfPerson } from '../../filters/bind.js'
import { sharedFloat64, sharedUint32, type EventLog } from '../../log/log.js'
import type { SeriesPart } from './cells.js'
import { extentOf } from '../../stats/rankedCells.js'
import { MEASURES, percentileOf } from './measures.js'

/** Reads the numbers of a property, NaN where an event has none, by event type. */
export function valueReader(
  log: EventLog,
  { types }: SeriesPlan,
  ref: NonNullable<SeriesPlan['value']>['column'] | null,
) {
  const byPerson = ref !== null && isOfPerson(ref)
  const columns: (Float64Array | null)[] = []
  if (ref && ref.of !== 'source') for (const type of types) columns[type] = columnOf(ref, log, type)?.numbers ?? null
  return (type: number, slot: number, person: number) => {
    const numbers = columns[type]
    return numbers ? numbers[byPerson ? person : slot] : NaN
  }
}

/** Collects what a series' measure needs, cell by cell. */
export class CellWriter {
  events: Float64Array
  people: Float64Array
  private seen: Int32Array
  private seenUnit: Int32Array | null = null
  private numbers: SeriesPart['numbers'] = null
  private seenNumber: Int32Array | null = null
  readonly values: NumberList | null = null
  private readonly distinct: SeriesPart['distinct'] = null
  private size: number
  /** of the event at hand */
  private number = NaN
  private date = NaN
  private codes: readonly number[] = []

  constructor(
    private readonly series: SeriesPlan,
    size: number,
  ) {
    this.size = size
    this.events = new Float64Array(size)
    this.people = new Float64Array(size)
    this.seen = new Int32Array(size).fill(-1)
    const { measure } = series
    if (measure === 'sessions') this.seenUnit = new Int32Array(size).fill(-1)
    if (measure === 'distinct values') this.distinct = { codes: new Map(), numbers: new Map(), dates: new Map() }
    else if (percentileOf(measure) !== null) this.values = new NumberList()
    else if (MEASURES[measure].of === 'number') {
      this.numbers = emptyNumbers(size)
      this.seenNumber = new Int32Array(size).fill(-1)
    }
  }

  /** Makes room for cells up to, not including, `size`. */
  grow(size: number): void {
    if (size <= this.size) return
    const larger = Math.max(size, this.size * 2)
    const copy = (from: Float64Array, empty = 0) => {
      const to = new Float64Array(larger).fill(empty, from.length)
      to.set(from)
      return to
    }
    const copySeen = (from: Int32Array) => {
      const to = new Int32Array(larger).fill(-1, from.length)
      to.set(from)
      return to
    }
    this.events = copy(this.events)
    this.people = copy(this.people)
    this.seen = copySeen(this.seen)
    this.seenUnit &&= copySeen(this.seenUnit)
    this.seenNumber &&= copySeen(this.seenNumber)
    if (this.numbers) {
      const { count, sum, min, max, people } = this.numbers
      this.numbers = {
        ...{ count: copy(count), sum: copy(sum), people: copy(people) },
        ...{ min: copy(min, Infinity), max: copy(max, -Infinity) },
      }
    }
    this.size = larger
  }

  /** What reads the measure's property of the event at hand, before its cells are added to. */
  valueOf(log: EventLog, { types, value }: SeriesPlan): { read(type: number, slot: number, person: number): void } {
    if (!value) return { read: () => {} }
    const numbersOf = valueReader(log, this.series, value.column)
    if (!this.distinct)
      return {
        read: (type, slot, person) => {
          this.number = numbersOf(type, slot, person)
        },
      }
    const ofPerson = isOfPerson(value.column)
    const columns = new Map([...types].map((type) => [type, columnOf(value.column, log, type)]))
    const bySource = value.column.of === 'source'
    return {
      read: (type, slot, person) => {
        const column = columns.get(type)
        const at = ofPerson ? person : bySource ? log.rowsOfType[type][slot] : slot
        const code = column?.codes?.[at] ?? 0
        this.codes = code > 0 ? (value.elements.get(code) ?? [code]) : []
        this.number = column?.numbers?.[at] ?? NaN
        this.date = column?.dates?.[at] ?? NaN
      },
    }
  }

  /** Counts the event at hand in a cell. */
  add(cell: number, person: number, unit: number): void {
    if (this.values && this.number === this.number) this.values.push(cell, this.number)
    this.addWhole(cell, person, unit)
  }

  /** As `add`, for a cell whose list of numbers is that of other cells together. */
  addWhole(cell: number, person: number, unit: number): void {
    if (!this.seenUnit) this.events[cell]++
    else if (this.seenUnit[cell] !== unit) {
      this.seenUnit[cell] = unit
      this.events[cell]++
    }
    if (this.seen[cell] !== person) {
      this.seen[cell] = person
      this.people[cell]++
    }
    if (this.numbers && this.number === this.number) this.addNumber(this.numbers, cell, person)
    if (this.distinct) this.addDistinct(this.distinct, cell)
  }

  private addNumber(numbers: NonNullable<SeriesPart['numbers']>, cell: number, person: number): void {
    const x = this.number
    numbers.count[cell]++
    numbers.sum[cell] += x
    if (x < numbers.min[cell]) numbers.min[cell] = x
    if (x > numbers.max[cell]) numbers.max[cell] = x
    if (this.seenNumber![cell] !== person) {
      this.seenNumber![cell] = person
      numbers.people[cell]++
    }
  }

  private addDistinct(distinct: NonNullable<SeriesPart['distinct']>, cell: number): void {
    for (const code of this.codes) setOf(distinct.codes, cell).add(code)
    if (this.number === this.number) setOf(distinct.numbers, cell).add(this.number)
    if (this.date === this.date) setOf(distinct.dates, cell).add(this.date)
  }

  /** What was collected, of the first `size` cells. */
  done(size: number): SeriesPart {
    const cut = (array: Float64Array) => array.slice(0, size)
    const { numbers, values } = this
    return {
      events: cut(this.events),
      people: cut(this.people),
      numbers: numbers && {
        ...{ count: cut(numbers.count), sum: cut(numbers.sum), people: cut(numbers.people) },
        ...{ min: cut(numbers.min), max: cut(numbers.max) },
      },
      values: values && values.done(),
      distinct: this.distinct,
    }
  }
}

function emptyNumbers(size: number): NonNullable<SeriesPart['numbers']> {
  return {
    count: new Float64Array(size),
    sum: new Float64Array(size),
    min: new Float64Array(size).fill(Infinity),
    max: new Float64Array(size).fill(-Infinity),
    people: new Float64Array(size),
  }
}

function setOf(sets: Map<number, Set<number>>, cell: number): Set<number> {
  let set = sets.get(cell)
  if (!set) sets.set(cell, (set = new Set()))
  return set
}

/** Numbers with their cells, in arrays that grow by doubling; in shared memory, which goes from thread to thread uncopied. */
export class NumberList {
  cells = sharedUint32(0)
  numbers = sharedFloat64(0)
  length = 0

  push(cell: number, number: number): void {
    if (this.length === this.cells.length) this.reserve(1)
    this.cells[this.length] = cell
    this.numbers[this.length++] = number
  }

  /** Makes room for so many more. */
  reserve(more: number): void {
    if (this.length + more <= this.cells.length) return
    const size = Math.max(4096, this.length + more, this.length * 2)
    const cells = sharedUint32(size)
    cells.set(this.cells.subarray(0, this.length))
    this.cells = cells
    const numbers = sharedFloat64(size)
    numbers.set(this.numbers.subarray(0, this.length))
    this.numbers = numbers
  }

  done(): NonNullable<SeriesPart['values']> {
    const numbers = this.numbers.subarray(0, this.length)
    return { cells: [this.cells.subarray(0, this.length)], numbers: [numbers], extents: [extentOf(numbers)] }
  }
}
