import { findProperty, type ColumnRef } from '../filters/compile.js'
import { columnOf, isOfPerson, type AsOf } from '../filters/bind.js'
import type { Dictionary } from '../log/dictionary.js'
import { ColumnWriter } from './columnWriter.js'
import {
  sharedFloat64,
  sharedUint32,
  slotAt,
  type Column,
  type EventLog,
  type Past,
  type ProfileColumn,
} from '../log/log.js'
import type { MadeInfo, Schema } from '../log/schema.js'
import type { Steps } from '../steps.js'
import type { Calendar } from '../time/range.js'
import { compileRecipe, type CompiledRecipe, type Maker, type MadeValue } from './evaluate.js'
import { eventsIn, propertiesIn } from '../questions/named.js'
import type { InnerRecipe } from './definitions.js'
import { inputsOf } from './refs.js'
import { scoreColumn, scoreKey, type ChanceRecipe, type ScoredPeople } from './scores.js'
import { touchColumn, touchesIn, type BlockTouches } from './touches.js'

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

/**
 * Works out a made property of people, for people 0 up to, not including, `people`; where what it is made from has
 * changed, as of each of these changes as well.
 */
export function* makeProfileColumn(
  log: EventLog,
  people: number,
  info: MadeInfo,
  recipe: CompiledRecipe,
): Steps<ProfileColumn> {
  const past = pastOfAll(log, people, recipe)
  const writer = new ColumnWriter(past ? people + past.since.length + 1 : people, info.growing)
  const asOf: AsOf = { ms: Infinity }
  if (!past) {
    const make = rememberCoded(recipe, log, -1, info.growing.dictionary, asOf)
    for (let person = 0; person < people; person++) {
      make(writer, -1, person, person)
      if (person % STEP === STEP - 1) yield
    }
    return { ...writer.column(), past }
  }
  info.growing.changing = true
  const maker = recipe.bind(log, -1, asOf)
  for (let person = 0; person < people; person++) {
    asOf.ms = Infinity
    writer.put(person, maker(-1, -1, person))
    for (let at = past.starts[person]; at < past.starts[person + 1]; at++) {
      asOf.ms = past.since[at]
      writer.put(people + at, maker(-1, -1, person))
    }
    if (person % STEP === STEP - 1) yield
  }
  return { ...writer.column(), past }
}

/** Each moment at which a value changed that a recipe reads; null where nothing ever did. */
function pastOfAll(log: EventLog, people: number, recipe: CompiledRecipe): Past | null {
  const pasts = recipe.inputs.flatMap((ref) => {
    const column = ref.of === 'then' || ref.of === 'made then' ? columnOf(ref, log, -1) : undefined
    return (column as ProfileColumn | undefined)?.past ?? []
  })
  if (pasts.length === 0) return null
  const moments: number[] = []
  const starts = sharedUint32(people + 1)
  for (let person = 0; person < people; person++) {
    starts[person] = moments.length
    const own = new Set<number>()
    for (const { starts: from, since } of pasts)
      for (let at = from[person]; at < from[person + 1]; at++) own.add(since[at])
    // What has no past itself held before anything that has one.
    if (own.size > 0) moments.push(...[...own.add(-Infinity)].sort((a, b) => a - b))
  }
  starts[people] = moments.length
  const since = sharedFloat64(moments.length)
  since.set(moments)
  return { starts, since, base: people }
}

/** What people's values were at every event of a type. */
function* thenColumn(log: EventLog, type: number, of: ProfileColumn): Steps<Column> {
  const rows = log.rowsOfType[type]
  const { past, codes, numbers, dates } = of
  const numeric = (array: Float64Array | null) => array && sharedFloat64(rows.length)
  const at =
    codes &&
    new (codes.constructor as Uint8ArrayConstructor)(new SharedArrayBuffer(rows.length * codes.BYTES_PER_ELEMENT))
  const column: Column = { codes: at, numbers: numeric(numbers), dates: numeric(dates) }
  let index = 0
  for (let slot = 0; slot < rows.length; slot++) {
    const row = rows[slot]
    while (log.offsets[index + 1] <= row) index++
    const person = log.person[index]
    const from = past ? slotAt(past, person, log.time[row]) : person
    if (codes) column.codes![slot] = codes[from]
    if (numbers) column.numbers![slot] = numbers[from]
    if (dates) column.dates![slot] = dates[from]
    if (slot % (STEP * 8) === STEP * 8 - 1) yield
  }
  return column
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
  asOf?: AsOf,
): (writer: ColumnWriter, row: number, slot: number, person: number) => void {
  const maker: Maker = recipe.bind(log, type, asOf)
  const plain = (writer: ColumnWriter, row: number, slot: number, person: number) =>
    writer.put(slot, maker(row, slot, person))
  if (recipe.byTime) return plain
  const read: { codes: ArrayLike<number>; place: 'row' | 'person' | 'slot'; radix: number }[] = []
  let combinations = 1
  for (const ref of recipe.inputs) {
    const column = columnOf(ref, log, type)
    if (!column) continue
    if (column.numbers || column.dates) return plain
    if (!column.codes) continue
    const place = ref.of === 'source' ? 'row' : type < 0 || isOfPerson(ref) ? 'person' : 'slot'
    read.push({ codes: column.codes, place, radix: combinations })
    combinations *= mostOf(column.codes) + 1
    if (combinations > Number.MAX_SAFE_INTEGER) return plain
  }
  const seen = new Map<number, MadeValue>()
  const codeSeen = new Map<number, number>()
  return (writer, row, slot, person) => {
    let key = 0
    for (const { codes, place, radix } of read)
      key += radix * codes[place === 'row' ? row : place === 'person' ? person : slot]
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
  /** of the newest event, epoch ms; null where there is none */
  newestMs: number | null
  /** people scored for what is asked, by what they are scored by; null = there are too few to learn from */
  scored?: ReadonlyMap<string, ScoredPeople | null>
}

/** A column that was put into `logs[log]`, to be put into copies of it as well. */
export type MadeColumn = { log: number; code: number } & (
  | { of: 'event' | 'then'; type: number; column: Column }
  /** in all logs */
  | { of: 'person'; column: ProfileColumn }
)

/** What was made before of blocks, with what it was made from. */
class Kept<T> {
  private readonly byBlock = new WeakMap<object, Map<string, { made: T; from: unknown[] }>>()

  get(block: object, key: string, from: unknown[]): T | undefined {
    const found = this.byBlock.get(block)?.get(key)
    return found && found.from.length === from.length && found.from.every((x, i) => x === from[i])
      ? found.made
      : undefined
  }

  put(block: object, key: string, from: unknown[], made: T): void {
    let all = this.byBlock.get(block)
    if (!all) this.byBlock.set(block, (all = new Map()))
    all.set(key, { made, from })
  }
}

/** Columns made before, by the block they belong to, with what they were made from. */
export class MadeCache {
  /** what a column was made with beside other columns: the calendar, and the moment where that matters */
  private readonly states = new WeakMap<Column, string>()
  private readonly columns = new Kept<Column>()
  private readonly touches = new Kept<BlockTouches>()

  get<C extends Column>(block: object, key: string, from: unknown[]): C | undefined {
    return this.columns.get(block, key, from) as C | undefined
  }

  put(block: object, key: string, from: unknown[], column: Column): void {
    this.columns.put(block, key, from, column)
  }

  getTouches(block: object, key: string, from: unknown[]): BlockTouches | undefined {
    return this.touches.get(block, key, from)
  }

  putTouches(block: object, key: string, from: unknown[], touches: BlockTouches): void {
    this.touches.put(block, key, from, touches)
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
 * Makes the columns that a definition asks for and that are not there yet, and those they are made from in turn, for the
 * event types it counts.
 * Faults of a recipe are left to whoever shows the recipe: a question counts what could be made.
 */
export function* makeReady(
  definition: unknown,
  base: MadeBase,
  cache: MadeCache,
  types: readonly number[] = typesIn(definition, base.schema),
): Steps<MadeColumn[]> {
  const refs = propertiesIn(definition)
  const wanted = refs.flatMap((ref) => (ref.of === 'source' ? [] : (base.schema.madeCode(ref.of, ref.name) ?? [])))
  const made = yield* makeCodes(wanted, types, base, cache)
  const schema = base.schema.asMade()
  const read = refs.flatMap((ref) => findProperty(ref, { schema, faults: [] }, [])?.column ?? [])
  return [...made, ...(yield* makeThen(read, types, base, cache))]
}

/** The event types that a definition counts. */
function typesIn(definition: unknown, schema: Schema): number[] {
  const { names, activity } = eventsIn(definition)
  if (activity) return schema.types.map((_type, code) => code)
  return [...new Set(names.flatMap((name) => schema.typesNamed(name) ?? []))]
}

/** Makes the columns of what people's values were at the events of these types, for those of the columns that have a past. */
function* makeThen(
  refs: readonly ColumnRef[],
  types: readonly number[],
  { logs }: MadeBase,
  cache: MadeCache,
): Steps<MadeColumn[]> {
  const made: MadeColumn[] = []
  for (const ref of refs) {
    if (ref.of !== 'then' && ref.of !== 'made then') continue
    const code = ref.of === 'then' ? ref.code : ~ref.code
    for (const [index, log] of logs.entries()) {
      const from = columnOf(ref, log, -1) as ProfileColumn | undefined
      if (!from) continue
      for (const type of types) {
        if (type >= log.rowsOfType.length || log.rowsOfType[type].length === 0) continue
        const columns = (log.then[type] ??= new Map())
        const key = `then ${code} ${type}`
        let column = cache.get(log.time, key, [from])
        if (column && columns.get(code) === column) continue
        if (!column) cache.put(log.time, key, [from], (column = yield* thenColumn(log, type, from)))
        columns.set(code, column)
        made.push({ of: 'then', log: index, type, code, column })
      }
    }
  }
  return made
}

/** Makes the columns of made properties, by code, for these event types. */
function* makeCodes(
  wanted: readonly number[],
  counted: readonly number[],
  base: MadeBase,
  cache: MadeCache,
): Steps<MadeColumn[]> {
  const made: MadeColumn[] = []
  const all = base.schema.types.map((_type, code) => code)
  const order = inOrder(wanted, base.schema)
  // A person's first touch may be an event of any type.
  const touched = new Set(
    order.flatMap((code) => (isTouch(base.schema.made[code]) ? inOrder([code], base.schema) : [])),
  )
  for (const code of order) {
    const info = base.schema.made[code]
    const types = touched.has(code) ? all : counted
    // What it is made from has been made by now, with values that may be new.
    const context = { ...base, schema: base.schema.asMade(), faults: [] }
    const recipe = compileRecipe(info, context)
    const { zone, firstDayOfWeek } = base.calendar
    // Also where only something it is made from asks for the moment.
    const timed = inOrder([code], base.schema).some((each) =>
      JSON.stringify(base.schema.made[each].recipe).includes('"in the last"'),
    )
    const cut = inOrder([code], base.schema).some((each) => base.schema.made[each].recipe.kind === 'session')
    const state = `${timed ? base.now : 0} ${zone} ${firstDayOfWeek}${cut ? cutState(base) : ''}`
    if (info.of === 'event' || isTouch(info)) made.push(...(yield* makeThen(recipe.inputs, types, base, cache)))
    if (info.recipe.kind === 'chance') {
      const column = makeScores(code, info.recipe, base, cache)
      if (column) made.push(...putInAll(code, column, base))
      continue
    }
    if (isTouch(info)) {
      const column = yield* makeTouches(code, recipe, base, cache, state)
      if (column) made.push(...putInAll(code, column, base))
      continue
    }
    for (const [index, log] of base.logs.entries()) {
      if (info.of === 'person') {
        if (cache.holds(log.madeProfiles.get(code), state)) continue
        const from = recipe.inputs.map((ref) => columnOf(ref, log, -1))
        const key = `${code} ${state} ${base.people}`
        let column = cache.get<ProfileColumn>(log.profiles, key, from)
        if (!column)
          cache.put(log.profiles, key, from, (column = yield* makeProfileColumn(log, base.people, info, recipe)))
        cache.made(column, state)
        log.madeProfiles.set(code, column)
        made.push({ of: 'person', log: index, code, column })
        continue
      }
      for (const type of types) {
        if (type >= log.rowsOfType.length || log.rowsOfType[type].length === 0) continue
        const columns = (log.made[type] ??= new Map())
        if (cache.holds(columns.get(code), state)) continue
        const from = recipe.inputs.map((ref) => columnOf(ref, log, type))
        // Sources and the event's own columns belong to the block; only profiles can change under it.
        const changing = from.filter((_column, i) => recipe.inputs[i].of !== 'source')
        const key = `${code} ${type} ${state}`
        let column = cache.get(log.time, key, changing)
        if (!column) cache.put(log.time, key, changing, (column = yield* makeColumn(log, type, info, recipe)))
        cache.made(column, state)
        columns.set(code, column)
        made.push({ of: 'event', log: index, type, code, column })
      }
    }
  }
  return made
}

/** Puts a column of people into all logs, where it is another than the one that is there. */
function putInAll(code: number, column: ProfileColumn, { logs }: MadeBase): MadeColumn[] {
  if (logs.every((log) => log.madeProfiles.get(code) === column)) return []
  for (const log of logs) log.madeProfiles.set(code, column)
  return [{ of: 'person', log: 0, code, column }]
}

/** The column of a chance, of people who were scored for the question at hand. */
function makeScores(
  code: number,
  recipe: ChanceRecipe,
  { logs, people, scored }: MadeBase,
  cache: MadeCache,
): ProfileColumn | null {
  const found = scored?.get(scoreKey(recipe))
  const [first] = logs
  if (found === undefined || !first) return null
  const key = `${code} ${people}`
  let column = cache.get<ProfileColumn>(first.time, key, [found])
  if (!column) cache.put(first.time, key, [found], (column = scoreColumn(recipe.part, found, people)))
  return column
}

const isTouch = ({ recipe }: MadeInfo) => recipe.kind === 'touch'

/** The column of a first or latest touch, of which only what belongs to new blocks is looked for anew. */
function* makeTouches(
  code: number,
  recipe: CompiledRecipe,
  base: MadeBase,
  cache: MadeCache,
  state: string,
): Steps<ProfileColumn | undefined> {
  const [first] = base.logs
  if (!first) return undefined
  const info = base.schema.made[code]
  const which = (info.recipe as Extract<InnerRecipe, { kind: 'touch' }>).which
  // What lies in the future is a touch from then on.
  const until = base.newestMs !== null && base.newestMs <= base.now ? Infinity : base.now
  const key = `touch ${code}`
  const blocks: BlockTouches[] = []
  for (const log of base.logs) {
    const from: unknown[] = recipe.inputs.flatMap((ref) =>
      log.rowsOfType.map((_rows, type) => columnOf(ref, log, type)),
    )
    // As of another moment it is made anew, in place of the one before.
    from.push(log.hidden, state, until)
    let found = cache.getTouches(log.time, key, from)
    if (!found) cache.putTouches(log.time, key, from, (found = yield* touchesIn(log, recipe, which, until)))
    blocks.push(found)
  }
  let column = cache.get<ProfileColumn>(first.time, `${key} ${base.people}`, blocks)
  if (!column) {
    column = yield* touchColumn(blocks, base.people, info)
    cache.put(first.time, `${key} ${base.people}`, blocks, column)
  }
  return column
}

/** What the sessions of events depend on: how they are cut, what events count as, and the moment, where anything is later. */
function cutState({ calendar, schema, now, newestMs }: MadeBase): string {
  const merged = schema.types.flatMap(({ name }) => {
    const into = schema.currentName(name)
    return into === name ? [] : [[name, into]]
  })
  const later = newestMs !== null && newestMs <= now ? '' : now
  return ` ${JSON.stringify([calendar.sessions ?? null, merged])} ${later}`
}

/** Puts columns that were made elsewhere into copies of the logs. */
export function takeMade(logs: readonly EventLog[], columns: readonly MadeColumn[]): void {
  for (const made of columns) {
    const { code, column } = made
    if (made.of === 'person') for (const each of logs) each.madeProfiles.set(code, made.column)
    else (logs[made.log][made.of === 'event' ? 'made' : 'then'][made.type] ??= new Map()).set(code, column)
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
