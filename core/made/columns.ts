import type { ColumnRef, CompileContext } from '../filters/compile.js'
import { columnOf } from '../filters/bind.js'
import type { Dictionary } from '../log/dictionary.js'
import { sharedCodes, sharedFloat64, type Column, type EventLog } from '../log/log.js'
import type { GrowingInfo, MadeInfo, Schema } from '../log/schema.js'
import type { Steps } from '../steps.js'
import type { Calendar } from '../time/range.js'
import { compileRecipe, isMoment, type CompiledRecipe, type Maker, type MadeValue } from './evaluate.js'
import { eventsIn, inputsOf, propertiesIn } from './refs.js'

/** Collects the values of a column while they are made. */
class ColumnWriter {
  private codes: Uint32Array | null = null
  private numbers: Float64Array | null = null
  private dates: Float64Array | null = null
  private most = 0

  constructor(
    private readonly length: number,
    private readonly info: GrowingInfo,
  ) {}

  put(slot: number, value: MadeValue): void {
    if (value === null) return
    if (typeof value === 'number') {
      if (value === value) (this.numbers ??= sharedFloat64(this.length).fill(NaN))[slot] = value
    } else if (isMoment(value)) {
      ;(this.dates ??= sharedFloat64(this.length).fill(NaN))[slot] = value.ms
      this.info.dated = true
    } else this.putCode(slot, this.info.dictionary.code(value))
  }

  putCode(slot: number, code: number): void {
    ;(this.codes ??= new Uint32Array(this.length))[slot] = code
    if (code > this.most) this.most = code
  }

  column(): Column {
    const codes = this.codes && sharedCodes(this.length, this.most)
    if (this.codes) codes!.set(this.codes)
    return { codes, numbers: this.numbers, dates: this.dates }
  }
}

/** A step of rows that are worked out one by one: patterns and arithmetic cost more than reading. */
const STEP = 1 << 12

/** Works out a made property for every event of a type. */
export function* makeColumn(log: EventLog, type: number, info: MadeInfo, recipe: CompiledRecipe): Steps<Column> {
  const rows = log.rowsOfType[type]
  const writer = new ColumnWriter(rows.length, info.growing)
  const make = rememberCoded(recipe, log, type, info.growing.dictionary)
  let index = 0
  for (let slot = 0; slot < rows.length; slot++) {
    const row = rows[slot]
    while (log.offsets[index + 1] <= row) index++
    make(writer, row, slot, log.person[index])
    if (slot % STEP === STEP - 1) yield
  }
  return writer.column()
}

/** Works out a made property of people, for people 0 up to, not including, `people`. */
export function* makeProfileColumn(
  log: EventLog,
  people: number,
  info: MadeInfo,
  recipe: CompiledRecipe,
): Steps<Column> {
  const writer = new ColumnWriter(people, info.growing)
  const make = rememberCoded(recipe, log, -1, info.growing.dictionary)
  for (let person = 0; person < people; person++) {
    make(writer, -1, person, person)
    if (person % STEP === STEP - 1) yield
  }
  return writer.column()
}

const MOST_REMEMBERED = 1_000_000

/**
 * Most recipes read a few texts, and the same few combinations come again and again. Where all that is read is codes,
 * each combination is worked out once, so that fifty rules cost hardly more than one.
 */
function rememberCoded(
  recipe: CompiledRecipe,
  log: EventLog,
  type: number,
  dictionary: Dictionary,
): (writer: ColumnWriter, row: number, slot: number, person: number) => void {
  const maker: Maker = recipe.bind(log, type)
  const plain = (writer: ColumnWriter, row: number, slot: number, person: number) =>
    writer.put(slot, maker(row, slot, person))
  if (recipe.inputs === null) return plain
  const read: { codes: ArrayLike<number>; place: ColumnRef['of']; radix: number }[] = []
  let combinations = 1
  for (const ref of recipe.inputs) {
    const column = columnOf(ref, log, type)
    if (!column) continue
    if (column.numbers || column.dates) return plain
    if (!column.codes) continue
    read.push({ codes: column.codes, place: ref.of, radix: combinations })
    combinations *= mostOf(column.codes) + 1
    if (combinations > Number.MAX_SAFE_INTEGER) return plain
  }
  const seen = new Map<number, MadeValue>()
  const codeSeen = new Map<number, number>()
  return (writer, row, slot, person) => {
    let key = 0
    for (const { codes, place, radix } of read)
      key += radix * codes[place === 'source' ? row : place === 'person' || place === 'made person' ? person : slot]
    const code = codeSeen.get(key)
    if (code !== undefined) return writer.putCode(slot, code)
    let value = seen.get(key)
    if (value === undefined) {
      value = maker(row, slot, person)
      if (typeof value === 'string' || typeof value === 'boolean' || Array.isArray(value)) {
        const made = dictionary.code(value as string)
        codeSeen.set(key, made)
        return writer.putCode(slot, made)
      }
      if (seen.size < MOST_REMEMBERED) seen.set(key, value)
    }
    writer.put(slot, value)
  }
}

function mostOf(codes: ArrayLike<number>): number {
  let most = 0
  for (let i = 0; i < codes.length; i++) if (codes[i] > most) most = codes[i]
  return most
}

/** What columns are made from and for. */
export interface MadeBase {
  schema: Schema
  logs: readonly EventLog[]
  /** one more than the largest person number */
  people: number
  calendar: Calendar
  /** epoch ms */
  now: number
}

/** A column that was put into `logs[log]`, to be put into copies of it as well; type null = of people, in all logs. */
export interface MadeColumn {
  log: number
  type: number | null
  code: number
  column: Column
}

/** Columns made before, by the block they belong to, with what they were made from. */
export class MadeCache {
  /** what a column was made with beside other columns: the calendar, and the moment where that matters */
  private readonly states = new WeakMap<Column, string>()
  private readonly byBlock = new WeakMap<object, Map<string, { column: Column; from: unknown[] }>>()

  get(block: object, key: string, from: unknown[]): Column | undefined {
    const found = this.byBlock.get(block)?.get(key)
    return found && found.from.length === from.length && found.from.every((x, i) => x === from[i])
      ? found.column
      : undefined
  }

  put(block: object, key: string, from: unknown[], column: Column): void {
    let columns = this.byBlock.get(block)
    if (!columns) this.byBlock.set(block, (columns = new Map()))
    columns.set(key, { column, from })
  }

  /** Whether a column that is there still holds. */
  holds(column: Column | undefined, state: string): boolean {
    return column !== undefined && this.states.get(column) === state
  }

  made(column: Column, state: string): void {
    this.states.set(column, state)
  }
}

/**
 * Makes the columns that a definition asks for and that are not there yet, and those they are made from in turn.
 * Faults of a recipe are left to whoever shows the recipe: a question counts what could be made.
 */
export function makeReady(definition: unknown, base: MadeBase, cache: MadeCache): Steps<MadeColumn[]> {
  const { names, activity } = eventsIn(definition)
  const types = activity
    ? base.schema.types.map((_type, code) => code)
    : [...new Set(names.flatMap((name) => base.schema.typesNamed(name) ?? []))]
  const wanted = propertiesIn(definition).flatMap((ref) =>
    ref.of === 'source' ? [] : (base.schema.madeCode(ref.of, ref.name) ?? []),
  )
  return makeCodes(wanted, types, base, cache)
}

/** Makes the columns of made properties, by code, for these event types. */
export function* makeCodes(
  wanted: readonly number[],
  types: readonly number[],
  base: MadeBase,
  cache: MadeCache,
): Steps<MadeColumn[]> {
  const made: MadeColumn[] = []
  for (const code of inOrder(wanted, base.schema)) {
    const info = base.schema.made[code]
    // What it is made from has been made by now, with values that may be new.
    const context: CompileContext = { ...base, schema: base.schema.asMade(), faults: [] }
    const recipe = compileRecipe(info, context)
    const { zone, firstDayOfWeek } = base.calendar
    // Also where only something it is made from asks for the moment.
    const timed = inOrder([code], base.schema).some((each) =>
      JSON.stringify(base.schema.made[each].recipe).includes('"in the last"'),
    )
    const state = `${timed ? base.now : 0} ${zone} ${firstDayOfWeek}`
    for (const [index, log] of base.logs.entries()) {
      if (info.of === 'person') {
        if (cache.holds(log.madeProfiles.get(code), state)) continue
        const from = recipe.inputs?.map((ref) => columnOf(ref, log, -1)) ?? []
        const key = `${code} ${state} ${base.people}`
        let column = cache.get(log.profiles, key, from)
        if (!column)
          cache.put(log.profiles, key, from, (column = yield* makeProfileColumn(log, base.people, info, recipe)))
        cache.made(column, state)
        log.madeProfiles.set(code, column)
        made.push({ log: index, type: null, code, column })
        continue
      }
      for (const type of types) {
        if (type >= log.rowsOfType.length || log.rowsOfType[type].length === 0) continue
        const columns = (log.made[type] ??= new Map())
        if (cache.holds(columns.get(code), state)) continue
        const from = recipe.inputs?.map((ref) => columnOf(ref, log, type)) ?? []
        // Sources and the event's own columns belong to the block; only profiles can change under it.
        const changing = from.filter((_column, i) => recipe.inputs![i].of !== 'source')
        const key = `${code} ${type} ${state}`
        let column = cache.get(log.time, key, changing)
        if (!column) cache.put(log.time, key, changing, (column = yield* makeColumn(log, type, info, recipe)))
        cache.made(column, state)
        columns.set(code, column)
        made.push({ log: index, type, code, column })
      }
    }
  }
  return made
}

/** Puts columns that were made elsewhere into copies of the logs. */
export function takeMade(logs: readonly EventLog[], columns: readonly MadeColumn[]): void {
  for (const { log, type, code, column } of columns) {
    if (type === null) for (const each of logs) each.madeProfiles.set(code, column)
    else (logs[log].made[type] ??= new Map()).set(code, column)
  }
}

/** The codes with all they are made from, each after what it is made from. A circle is cut where it closes. */
function inOrder(wanted: readonly number[], schema: Schema): number[] {
  const order: number[] = []
  const seen = new Set<number>()
  const visit = (code: number) => {
    if (seen.has(code)) return
    seen.add(code)
    const { recipe, of } = schema.made[code]
    for (const input of inputsOf(recipe, of)) {
      if (input.of === 'source') continue
      const inner = schema.madeCode(input.of, input.name) ?? schema.madeCode('person', input.name)
      if (inner !== undefined) visit(inner)
    }
    order.push(code)
  }
  for (const code of wanted) visit(code)
  return order
}
