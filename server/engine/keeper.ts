import { Temporal } from 'temporal-polyfill'
import { arranging, type Pick } from '../../core/log/arrange.js'
import type { FoldRequest } from '../../core/log/fold.js'
import {
  cutPeople,
  sharedUint8,
  type Column,
  type EventBlock,
  type EventLog,
  type PersonRange,
} from '../../core/log/log.js'
import { Profiles } from '../../core/log/profiles.js'
import { LogSchema } from '../../core/log/schema.js'
import { Staging } from '../../core/log/staging.js'
import { STEP, type Steps } from '../../core/steps.js'
import { startOfDay } from '../../core/time/range.js'
import type { Db } from '../store/database.js'
import { definitionsVersion } from '../store/definitions.js'
import { mendingStore } from '../store/mending.js'
import { settingsStore } from '../store/settings.js'
import type { KeptState } from './handOver.js'

/** One state of the column store. Nothing in it changes any more; queries hold on to the one they began with. */
export interface Snapshot {
  version: number
  logs: EventLog[]
  /** runs of people of about equal work, with the log they are of */
  chunks: { log: number; range: PersonRange }[]
  /** one more than the largest person number */
  people: number
  /** how many people have events */
  seenPeople: number
  events: number
  /** times of the oldest and the newest event, epoch ms; null without events */
  oldestMs: number | null
  newestMs: number | null
}

interface TypeRow {
  id: number
  name: string
  passive: number
}

const EVENT_COLUMNS = 'SELECT seq, IFNULL(known, anonymous), type, time_ms, source, properties FROM events'
type EventColumns = [number, number, number, number, number | null, string]

/** Newer layers that together are larger than this share of the main block, and than so many rows, are folded into it. */
const FOLD_SHARE = 0.1
const FOLD_ROWS = 200_000
/** So many layers are folded into fewer, however small they are: every scan looks through all of them. */
const MOST_LAYERS = 6
/** A layer of fewer rows is put together with what comes next, rather than left beside it. */
const SMALL_ROWS = 20_000
const CHUNK_ROWS = 120_000
/** Rows of the file that are read in a step: reading their properties is most of the work. */
const READ_ROWS = 500

export interface KeeperOptions {
  /** how many rows newer layers have at least when they are folded into the main block */
  foldFrom?: number
  /** a layer of fewer rows is put together with what comes next */
  smallRows?: number
  /** states are numbered from here on */
  firstVersion?: number
  /** what the keeper before knew when it was last asked; what came since is read from the file */
  before?: { state: KeptState; schema: LogSchema } | null
}

/** One block of the store, with the place of each person in it, and who has moved into a newer one. */
interface Layer {
  block: EventBlock
  /** by person's number: the index in the block, -1 = not in it */
  index: Int32Array
  /** by index: 1 = to be passed over; null while nobody has moved */
  hidden: Uint8Array | null
}

/**
 * Keeps the column store in step with SQLite. Most events stand in one large block; whoever got fresh events, or was
 * merged, stands with their whole history in a small newer one, and is hidden in those before. So a scan always finds a
 * person's rows together and in order. Now and then layers are folded into one, in a thread of its own; whoever gets
 * fresh events meanwhile stands in a layer that is newer still.
 *
 * Each call gives its work in steps, on a connection of its own that nobody else may use: others have their turn in
 * between, and read the state before. Only one of them may be under way at a time.
 */
export class LogKeeper {
  readonly schema: LogSchema
  readonly zone: string
  private readonly profiles: Profiles
  private readonly typeCodes: number[] = []
  private readonly sourceCodes: number[] = []
  /** by row number of an id: the person's number */
  private owner = new Uint32Array(1024)
  private readonly mergedInto: Map<number, number>
  private people = 1
  private lastSeq = 0
  private lastChange = 0
  private lastSplit = 0
  private lastEventChange = 0
  /** which state of descriptions, plan and mending it knows */
  definitions = -1
  private oldestMs = Infinity
  private newestMs = -Infinity
  /** from the main block to the newest */
  private layers: Layer[] = []
  /** while a fold is under way: which layers it reads, and the people who have moved out of them since it began */
  private underFold: { from: number; count: number; moved: Set<number> } | null = null
  private version: number
  private readonly foldFrom: number
  private readonly smallRows: number
  current: Snapshot

  /** @param db a connection that nobody else uses */
  constructor(
    private readonly db: Db,
    { foldFrom = FOLD_ROWS, smallRows = SMALL_ROWS, firstVersion = 0, before = null }: KeeperOptions = {},
  ) {
    this.foldFrom = foldFrom
    this.smallRows = smallRows
    this.version = firstVersion
    this.zone = settingsStore(db).get().zone
    const dayStart = this.dayStart.bind(this)
    this.schema = before?.schema ?? new LogSchema()
    this.mergedInto = before?.state.mergedInto ?? new Map<number, number>()
    this.profiles = new Profiles(this.schema, dayStart, before?.state.profiles)
    if (before) this.goOnFrom(before.state)
    this.current = this.snapshot()
  }

  private goOnFrom({ layers, owner, ...numbers }: KeptState): void {
    this.owner = owner
    this.people = numbers.people
    this.lastSeq = numbers.lastSeq
    this.lastChange = numbers.lastChange
    this.lastSplit = numbers.lastSplit
    this.lastEventChange = numbers.lastEventChange
    this.oldestMs = numbers.oldestMs
    this.newestMs = numbers.newestMs
    this.layers = layers.map(({ block, hidden }) => ({ ...this.layerOf(block), hidden }))
  }

  /** All it knows but what values mean, to go on from: nothing of it may be changed before it has been written down. */
  kept(): KeptState {
    return {
      layers: this.layers.map(({ block, hidden }) => ({ block, hidden })),
      ...{ owner: this.owner, mergedInto: this.mergedInto, profiles: [...this.profiles.all], people: this.people },
      ...{ lastSeq: this.lastSeq, lastChange: this.lastChange, lastSplit: this.lastSplit },
      ...{ lastEventChange: this.lastEventChange, oldestMs: this.oldestMs, newestMs: this.newestMs },
    }
  }

  private readonly days = new Map<string, number>()
  private dayStart(day: string): number {
    let start = this.days.get(day)
    if (start === undefined) this.days.set(day, (start = startOfDay(Temporal.PlainDate.from(day), this.zone)))
    return start
  }

  /**
   * Reads what was written since the last call.
   * @param onRows told now and then how many events have been read
   * @returns whether anything had changed; then `current` is a new state
   */
  *refresh(onRows: (rows: number) => void = () => {}): Steps<boolean> {
    const staging = new Staging(this.schema, this.dayStart.bind(this))
    // One state of the file for all that is read, though others have their turn in between.
    this.db.exec('BEGIN')
    let changes: { touched: Set<number>; anew: Set<number> } | null
    try {
      const mended = this.readDefinitions()
      // Who is to be gone over anew is found by the ids as they were when the rows were read.
      const anew = this.readAnew()
      const merged = yield* this.readPeople()
      if (merged === null && anew.size === 0 && !mended && !this.hasNewEvents()) changes = null
      else {
        this.addMerged(anew, merged ?? [])
        this.readNames()
        yield* this.rereadEvents(staging, anew)
        yield* this.readEvents(staging, onRows)
        changes = { touched: merged ?? new Set<number>(), anew }
      }
    } finally {
      // What went wrong with the file may have ended it already.
      if (this.db.inTransaction) this.db.exec('COMMIT')
    }
    if (changes === null) return false
    const { touched, anew } = changes
    if (staging.length > 0 || touched.size > 0 || anew.size > 0) yield* this.takeIn(staging, touched, anew)
    this.current = this.snapshot()
    return true
  }

  /** Rows of people merged since they were read stand under the numbers they had: those are to be gone over as well. */
  private addMerged(anew: Set<number>, merged: Iterable<number>): void {
    if (anew.size > 0) for (const person of merged) if (anew.has(this.root(person))) anew.add(person)
  }

  /** @returns whether descriptions, plan or mending have changed */
  private readDefinitions(): boolean {
    const version = definitionsVersion(this.db)
    if (version === this.definitions) return false
    this.definitions = version
    this.schema.mend(mendingStore(this.db).get())
    return true
  }

  /** @returns the people whose rows are no longer right: taken apart, or with events replaced or taken out */
  private readAnew(): Set<number> {
    const anew = new Set<number>()
    const splits = this.db
      .prepare<[number], { change: number; person: number }>('SELECT change, person FROM split_people WHERE change > ?')
      .all(this.lastSplit)
    for (const { change, person } of splits) {
      this.lastSplit = Math.max(this.lastSplit, change)
      anew.add(this.root(person))
    }
    const replaced = this.db
      .prepare<[number], { change: number; owner: number }>('SELECT change, owner FROM event_changes WHERE change > ?')
      .all(this.lastEventChange)
    for (const { change, owner } of replaced) {
      this.lastEventChange = Math.max(this.lastEventChange, change)
      if (owner < this.owner.length) anew.add(this.root(this.owner[owner]))
    }
    return anew
  }

  /** Reads the rows of some people again, as they are now and by whom they belong to now. */
  private *rereadEvents(staging: Staging, people: ReadonlySet<number>): Steps<void> {
    if (people.size === 0) return
    const byNumber = this.db.prepare(`${EVENT_COLUMNS} WHERE seq = ?`).raw()
    for (const [at, seq] of this.arrivalsOf(people).entries()) {
      const row = byNumber.get(seq) as EventColumns | undefined
      if (row) this.stage(staging, row)
      if (at % READ_ROWS === READ_ROWS - 1) yield
    }
  }

  private arrivalsOf(people: ReadonlySet<number>): number[] {
    const found: number[] = []
    for (const { block, index, hidden } of this.layers)
      for (const person of people) {
        const at = placeOf(index, person)
        if (at < 0 || hidden?.[at]) continue
        for (let row = block.offsets[at]; row < block.offsets[at + 1]; row++) found.push(block.arrival[row])
      }
    return found
  }

  private hasNewEvents(): boolean {
    return this.db.prepare('SELECT 1 FROM events WHERE seq > ? LIMIT 1').get(this.lastSeq) !== undefined
  }

  /** @returns the people that merges touched; null when nobody's ids or profile changed */
  private *readPeople(): Steps<Set<number> | null> {
    const first = this.lastChange === 0
    const changed: number[] = []
    const merged = new Set<number>()
    const rows = this.db
      .prepare<[number], [number, number | null, number]>(
        'SELECT id, merged_into, changed FROM people WHERE changed > ? ORDER BY changed',
      )
      .raw()
      .iterate(this.lastChange) as IterableIterator<[number, number | null, number]>
    for (const [id, mergedInto, change] of rows) {
      this.people = Math.max(this.people, id + 1)
      this.lastChange = change
      changed.push(id)
      if (mergedInto !== null && this.mergedInto.get(id) !== mergedInto) {
        this.mergedInto.set(id, mergedInto)
        merged.add(id).add(mergedInto)
      }
      if (changed.length % READ_ROWS === 0) yield
    }
    if (changed.length === 0) return null
    yield* this.readIds(first ? null : changed)
    yield* this.readProfiles(first ? null : changed)
    return merged
  }

  private *readIds(of: number[] | null): Steps<void> {
    const take = ([id, person]: [number, number]) => {
      if (id >= this.owner.length) {
        const wider = new Uint32Array(Math.max(id + 1, this.owner.length * 2))
        wider.set(this.owner)
        this.owner = wider
      }
      this.owner[id] = person
    }
    if (of === null) yield* eachRow(this.db.prepare('SELECT id, person FROM person_ids').raw().iterate(), take)
    else yield* eachOf(of, this.db.prepare('SELECT id, person FROM person_ids WHERE person = ?').raw(), take)
  }

  private *readProfiles(of: number[] | null): Steps<void> {
    const names = new Map(
      this.db
        .prepare<[], { id: number; name: string }>(`SELECT id, name FROM properties WHERE scope = 'person'`)
        .all()
        .map((row) => [row.id, row.name]),
    )
    const take = ([person, property, value]: [number, number, string]) =>
      this.profiles.set(person, names.get(property)!, JSON.parse(value) as never)
    const columns = 'SELECT person, property, value FROM profile_values'
    if (of === null) yield* eachRow(this.db.prepare(columns).raw().iterate(), take)
    else
      yield* eachOf(of, this.db.prepare(`${columns} WHERE person = ?`).raw(), take, (person) => {
        for (const { name } of this.schema.profile) this.profiles.set(person, name, null)
      })
  }

  private readNames(): void {
    for (const row of this.db.prepare<[], TypeRow>('SELECT id, name, passive FROM event_types').iterate())
      this.typeCodes[row.id] = this.schema.addType(row.name, row.passive === 1)
    for (const row of this.db.prepare<[], { id: number; name: string }>('SELECT id, name FROM sources').iterate())
      this.sourceCodes[row.id] = this.schema.sources.code(row.name)
  }

  private *readEvents(staging: Staging, onRows: (rows: number) => void): Steps<void> {
    const rows = this.db.prepare(`${EVENT_COLUMNS} WHERE seq > ? ORDER BY seq`).raw().iterate(this.lastSeq)
    for (const row of rows as IterableIterator<EventColumns>) {
      this.stage(staging, row)
      this.lastSeq = row[0]
      if (staging.length % READ_ROWS === 0) yield
      if (staging.length % 50_000 === 0) onRows(staging.length)
    }
  }

  private readonly staged = { arrival: 0, owner: 0, type: 0, time: 0, source: 0 }

  private stage(staging: Staging, [seq, owner, type, time, source, properties]: EventColumns): void {
    const row = this.staged
    row.arrival = seq
    row.owner = owner
    row.type = this.typeCodes[type]
    row.time = time
    row.source = source === null ? 0 : this.sourceCodes[source]
    staging.add(row, properties === '{}' ? {} : (JSON.parse(properties) as object))
    if (time > this.newestMs) this.newestMs = time
    if (time < this.oldestMs) this.oldestMs = time
  }

  /** The person that an id belongs to by now, by the id's row number. */
  personOf(id: number): number {
    return id < this.owner.length ? this.root(this.owner[id]!) : 0
  }

  /** Who a person is by now. */
  private root(person: number): number {
    let at = person
    for (let next = this.mergedInto.get(at); next !== undefined; next = this.mergedInto.get(at)) at = next
    return at
  }

  /**
   * @param touched people to be put together anew from the rows there are
   * @param anew people whose rows there are no longer right: `staging` has them all again
   */
  private *takeIn(staging: Staging, touched: Set<number>, anew: ReadonlySet<number>): Steps<void> {
    const types = this.schema.types.length
    const owners = new Uint32Array(staging.length)
    for (let row = 0; row < staging.length; row++) {
      owners[row] = this.root(this.owner[staging.owner[row]])
      if (row % STEP === STEP - 1) yield
    }
    const fresh: Pick = { rows: yield* staging.rows(), which: null, person: owners }
    if (this.layers.length === 0) {
      this.layers = [this.layerOf(yield* arranging([fresh], this.people, types, false))]
      return
    }
    for (const person of owners) touched.add(person)
    for (const person of anew) touched.add(person)
    yield
    // A small layer is made anew with what has come, save where a fold is reading it.
    const { from, count } = this.underFold ?? { from: 0, count: 1 }
    const last = this.layers.length - 1
    const joins = last >= from + count && this.layers[last]!.block.length < this.smallRows
    const kept = joins ? this.layers.slice(0, last) : this.layers
    const newer = joins ? this.layers.slice(last) : []
    const picks: Pick[] = []
    const hidden: Uint8Array[] = []
    for (const layer of kept) {
      const moved = yield* this.takeFrom(layer, touched, anew)
      picks.push(moved.pick)
      hidden.push(moved.hidden)
    }
    for (const layer of newer) picks.push(yield* this.takeAll(layer, anew))
    picks.push(fresh)
    const block = yield* arranging(picks, this.people, types, false)
    // All at once, so that whoever looks in between two steps finds each person once.
    this.layers = [...kept.map((layer, at) => ({ ...layer, hidden: hidden[at]! })), this.layerOf(block)]
    if (this.underFold) for (const person of touched) this.underFold.moved.add(person)
  }

  private layerOf(block: EventBlock): Layer {
    const index = new Int32Array(this.people).fill(-1)
    block.person.forEach((person, at) => (index[person] = at))
    return { block, index, hidden: null }
  }

  /** The rows in a layer of people who are to move into a newer one, save of those read anew; and who is hidden then. */
  private *takeFrom(
    { block, index, hidden: before }: Layer,
    people: Iterable<number>,
    anew: ReadonlySet<number>,
  ): Steps<{ pick: Pick; hidden: Uint8Array }> {
    const hidden = sharedUint8(block.people)
    if (before) hidden.set(before)
    const rows = new RowPicker(block)
    for (const number of people) {
      const at = placeOf(index, number)
      if (at < 0 || hidden[at] === 1) continue
      hidden[at] = 1
      if (!anew.has(number)) rows.take(at, this.root(number))
      if (rows.stepDone()) yield
    }
    return { pick: rows.pick(), hidden }
  }

  /** All rows of a layer by whom they belong to by now, save of those read anew. */
  private *takeAll({ block, hidden }: Layer, anew: ReadonlySet<number>): Steps<Pick> {
    const rows = new RowPicker(block)
    for (let index = 0; index < block.people; index++) {
      const number = block.person[index]
      if (!hidden?.[index] && !anew.has(number)) rows.take(index, this.root(number))
      if (rows.stepDone()) yield
    }
    return rows.pick()
  }

  /** Whether a fold is under way, from `startFold` to `folded` or `foldFailed`. */
  get folding(): boolean {
    return this.underFold !== null
  }

  /** Which layers to fold into one, when that is worth it; null otherwise. Ends with `folded` or `foldFailed`. */
  startFold(): FoldRequest | null {
    const [main, ...newer] = this.layers
    if (this.underFold || !main || newer.length === 0) return null
    const rows = newer.reduce((sum, { block }) => sum + block.length, 0)
    const all = rows >= Math.max(this.foldFrom, main.block.length * FOLD_SHARE)
    if (!all && this.layers.length < MOST_LAYERS) return null
    const from = all ? 0 : 1
    const folded = this.layers.slice(from)
    this.underFold = { from, count: folded.length, moved: new Set() }
    return {
      layers: folded.map(({ block, hidden }) => ({ block, hidden })),
      ...{ people: this.people, types: this.schema.types.length },
    }
  }

  /** Takes the folded block in place of what it was made from. Whoever got events since stands in a newer layer. */
  folded(block: EventBlock): void {
    const { from, count, moved } = this.underFold!
    this.underFold = null
    const layer = this.layerOf(block)
    if (moved.size > 0) {
      layer.hidden = sharedUint8(block.people)
      for (const person of moved) {
        const at = placeOf(layer.index, person)
        if (at >= 0) layer.hidden[at] = 1
      }
    }
    this.layers = [...this.layers.slice(0, from), layer, ...this.layers.slice(from + count)]
    this.current = this.snapshot()
  }

  /** All stays as it is. */
  foldFailed(): void {
    this.underFold = null
  }

  private snapshot(): Snapshot {
    const profiles = this.profiles.snapshot(this.people)
    const logs: EventLog[] = []
    const madeProfiles = new Map<number, Column>()
    for (const { block, hidden } of this.layers) logs.push({ ...block, profiles, made: [], madeProfiles, hidden })
    const chunks = logs.flatMap((log, index) => cutPeople(log, CHUNK_ROWS).map((range) => ({ log: index, range })))
    let events = 0
    let seenPeople = 0
    for (const log of logs) {
      events += log.length
      seenPeople += log.people
      log.hidden?.forEach((hidden, index) => {
        if (!hidden) return
        seenPeople--
        events -= log.offsets[index + 1] - log.offsets[index]
      })
    }
    const known = (ms: number) => (Number.isFinite(ms) ? ms : null)
    const [oldestMs, newestMs] = [known(this.oldestMs), known(this.newestMs)]
    return { version: this.version++, logs, chunks, people: this.people, seenPeople, events, oldestMs, newestMs }
  }
}

/** Gathers people's rows of a block, to be put together anew. */
class RowPicker {
  private which = new Uint32Array(1024)
  private person = new Uint32Array(1024)
  private length = 0
  private inStep = 0

  constructor(private readonly block: EventBlock) {}

  take(index: number, person: number): void {
    const from = this.block.offsets[index]
    const to = this.block.offsets[index + 1]
    const end = this.length + to - from
    if (end > this.which.length) {
      this.which = wider(this.which, end)
      this.person = wider(this.person, end)
    }
    for (let row = from; row < to; row++) this.which[this.length + row - from] = row
    this.person.fill(person, this.length, end)
    this.length = end
    this.inStep += to - from
  }

  /** Whether so much has been gathered since it last was that others should have their turn. */
  stepDone(): boolean {
    if (++this.inStep < STEP) return false
    this.inStep = 0
    return true
  }

  pick(): Pick {
    const { length } = this
    return { rows: this.block, which: this.which.subarray(0, length), person: this.person.subarray(0, length) }
  }
}

function wider(array: Uint32Array<ArrayBuffer>, length: number): Uint32Array<ArrayBuffer> {
  const grown = new Uint32Array(Math.max(length, array.length * 2))
  grown.set(array)
  return grown
}

function placeOf(index: Int32Array, person: number): number {
  return person < index.length ? index[person] : -1
}

function* eachRow<T>(rows: IterableIterator<unknown>, take: (row: T) => void): Steps<void> {
  let at = 0
  for (const row of rows) {
    take(row as T)
    if (++at % READ_ROWS === 0) yield
  }
}

/** @param before told of each person before their rows are taken */
function* eachOf<T>(
  people: readonly number[],
  statement: { all(person: number): unknown[] },
  take: (row: T) => void,
  before: (person: number) => void = () => {},
): Steps<void> {
  for (const [at, person] of people.entries()) {
    before(person)
    for (const row of statement.all(person)) take(row as T)
    if (at % (READ_ROWS / 4) === READ_ROWS / 4 - 1) yield
  }
}
