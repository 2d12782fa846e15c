import { Temporal } from 'temporal-polyfill'
import { arrange, type Pick } from '../../core/log/arrange.js'
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
import { startOfDay } from '../../core/time/range.js'
import type { Db } from '../store/database.js'
import { definitionsVersion } from '../store/definitions.js'
import { mendingStore } from '../store/mending.js'
import { settingsStore } from '../store/settings.js'

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

/** A tail larger than this share of the main block, and than so many rows, is folded into it. */
const FOLD_SHARE = 0.1
const FOLD_ROWS = 200_000
const CHUNK_ROWS = 120_000

/**
 * Keeps the column store in step with SQLite. Most events stand in one large block; whoever got fresh events, or was
 * merged, stands with their whole history in a small second block, the tail, and is hidden in the first. So a scan always
 * finds a person's rows together and in order.
 */
export class LogKeeper {
  readonly schema = new LogSchema()
  readonly zone: string
  private readonly profiles: Profiles
  private readonly typeCodes: number[] = []
  private readonly sourceCodes: number[] = []
  /** by row number of an id: the person's number */
  private owner = new Uint32Array(1024)
  private readonly mergedInto = new Map<number, number>()
  private people = 1
  private lastSeq = 0
  private lastChange = 0
  private lastSplit = 0
  private lastEventChange = 0
  /** which state of descriptions, plan and mending it knows */
  definitions = -1
  private oldestMs = Infinity
  private newestMs = -Infinity
  private main: EventBlock | null = null
  private mainIndex = new Int32Array(0)
  private hidden: Uint8Array | null = null
  private tail: EventBlock | null = null
  /** while a fold is under way: the row number up to which it reads, and the people merged or gone over anew since */
  private folding: { seq: number; merged: Set<number>; anew: Set<number> } | null = null
  private version = 0
  current: Snapshot

  /** @param foldFrom how many rows the tail has at least when it is folded */
  constructor(
    private readonly db: Db,
    private readonly foldFrom = FOLD_ROWS,
  ) {
    this.zone = settingsStore(db).get().zone
    const dayStart = this.dayStart.bind(this)
    this.profiles = new Profiles(this.schema, dayStart)
    this.current = this.snapshot()
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
  refresh(onRows: (rows: number) => void = () => {}): boolean {
    const staging = new Staging(this.schema, this.dayStart.bind(this))
    const changes = this.db.transaction(() => {
      const mended = this.readDefinitions()
      // Who is to be gone over anew is found by the ids as they were when the rows were read.
      const anew = this.readAnew()
      const merged = this.readPeople()
      if (merged === null && anew.size === 0 && !mended && !this.hasNewEvents()) return null
      this.addMerged(anew, merged ?? [])
      this.readNames()
      this.rereadEvents(staging, anew)
      this.readEvents(staging, onRows)
      return { touched: merged ?? new Set<number>(), anew }
    })()
    if (changes === null) return false
    const { touched, anew } = changes
    for (const person of touched) this.folding?.merged.add(person)
    for (const person of anew) this.folding?.anew.add(person)
    if (staging.length > 0 || touched.size > 0 || anew.size > 0) this.takeIn(staging, touched, anew)
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
  private rereadEvents(staging: Staging, people: ReadonlySet<number>): void {
    if (people.size === 0) return
    const byNumber = this.db.prepare(`${EVENT_COLUMNS} WHERE seq = ?`).raw()
    for (const seq of this.arrivalsOf(people)) {
      const row = byNumber.get(seq) as EventColumns | undefined
      if (row) this.stage(staging, row)
    }
  }

  private arrivalsOf(people: ReadonlySet<number>): number[] {
    const found: number[] = []
    const take = (block: EventBlock, index: number) => {
      for (let row = block.offsets[index]; row < block.offsets[index + 1]; row++) found.push(block.arrival[row])
    }
    for (const person of people) {
      const index = this.main && person < this.mainIndex.length ? this.mainIndex[person] : -1
      if (index >= 0 && !this.hidden?.[index]) take(this.main!, index)
    }
    if (this.tail) this.tail.person.forEach((person, index) => people.has(person) && take(this.tail!, index))
    return found
  }

  private hasNewEvents(): boolean {
    return this.db.prepare('SELECT 1 FROM events WHERE seq > ? LIMIT 1').get(this.lastSeq) !== undefined
  }

  /** @returns the people that merges touched; null when nobody's ids or profile changed */
  private readPeople(): Set<number> | null {
    const changes = this.db
      .prepare<[number], { id: number; merged_into: number | null; changed: number }>(
        'SELECT id, merged_into, changed FROM people WHERE changed > ? ORDER BY changed',
      )
      .all(this.lastChange)
    if (changes.length === 0) return null
    const merged = new Set<number>()
    for (const { id, merged_into } of changes) {
      this.people = Math.max(this.people, id + 1)
      if (merged_into === null || this.mergedInto.get(id) === merged_into) continue
      this.mergedInto.set(id, merged_into)
      merged.add(id).add(merged_into)
    }
    const first = this.lastChange === 0
    this.lastChange = changes.at(-1)!.changed
    this.readIds(first ? null : changes.map((row) => row.id))
    this.readProfiles(first ? null : changes.map((row) => row.id))
    return merged
  }

  private readIds(of: number[] | null): void {
    const take = ([id, person]: [number, number]) => {
      if (id >= this.owner.length) {
        const wider = new Uint32Array(Math.max(id + 1, this.owner.length * 2))
        wider.set(this.owner)
        this.owner = wider
      }
      this.owner[id] = person
    }
    if (of === null)
      for (const row of this.db.prepare('SELECT id, person FROM person_ids').raw().iterate())
        take(row as [number, number])
    else {
      const ofPerson = this.db.prepare('SELECT id, person FROM person_ids WHERE person = ?').raw()
      for (const person of of) for (const row of ofPerson.iterate(person)) take(row as [number, number])
    }
  }

  private readProfiles(of: number[] | null): void {
    const names = new Map(
      this.db
        .prepare<[], { id: number; name: string }>(`SELECT id, name FROM properties WHERE scope = 'person'`)
        .all()
        .map((row) => [row.id, row.name]),
    )
    const take = ([person, property, value]: [number, number, string]) =>
      this.profiles.set(person, names.get(property)!, JSON.parse(value))
    const columns = 'SELECT person, property, value FROM profile_values'
    if (of === null) for (const row of this.db.prepare(columns).raw().iterate()) take(row as [number, number, string])
    else {
      const ofPerson = this.db.prepare(`${columns} WHERE person = ?`).raw()
      for (const person of of) {
        for (const { name } of this.schema.profile) this.profiles.set(person, name, null)
        for (const row of ofPerson.iterate(person)) take(row as [number, number, string])
      }
    }
  }

  private readNames(): void {
    for (const row of this.db.prepare<[], TypeRow>('SELECT id, name, passive FROM event_types').iterate())
      this.typeCodes[row.id] = this.schema.addType(row.name, row.passive === 1)
    for (const row of this.db.prepare<[], { id: number; name: string }>('SELECT id, name FROM sources').iterate())
      this.sourceCodes[row.id] = this.schema.sources.code(row.name)
  }

  private readEvents(staging: Staging, onRows: (rows: number) => void): void {
    const rows = this.db.prepare(`${EVENT_COLUMNS} WHERE seq > ? ORDER BY seq`).raw().iterate(this.lastSeq)
    for (const row of rows as IterableIterator<EventColumns>) {
      this.stage(staging, row)
      this.lastSeq = row[0]
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
  private takeIn(staging: Staging, touched: Set<number>, anew: ReadonlySet<number>): void {
    const types = this.schema.types.length
    const owners = new Uint32Array(staging.length)
    for (let row = 0; row < staging.length; row++) owners[row] = this.root(this.owner[staging.owner[row]])
    const fresh: Pick = { rows: staging.rows(), which: null, person: owners }
    if (!this.main) {
      this.setMain(arrange([fresh], this.people, types, false))
      return
    }
    for (const person of owners) touched.add(person)
    for (const person of anew) touched.add(person)
    const picks = [this.takeFromMain(touched, anew)]
    if (this.tail) picks.push(this.takeFromTail(this.tail, anew))
    picks.push(fresh)
    this.tail = arrange(picks, this.people, types, false)
  }

  private setMain(block: EventBlock): void {
    this.main = block
    this.hidden = null
    this.tail = null
    this.mainIndex = new Int32Array(this.people).fill(-1)
    block.person.forEach((person, index) => (this.mainIndex[person] = index))
  }

  /** The rows in the main block of people who are to move into the tail, save of those read anew; hides them there. */
  private takeFromMain(people: Iterable<number>, anew: ReadonlySet<number>): Pick {
    const main = this.main!
    const hidden = sharedUint8(main.people)
    if (this.hidden) hidden.set(this.hidden)
    const which: number[] = []
    const person: number[] = []
    for (const number of people) {
      const index = number < this.mainIndex.length ? this.mainIndex[number] : -1
      if (index < 0 || hidden[index] === 1) continue
      hidden[index] = 1
      if (anew.has(number)) continue
      const root = this.root(number)
      for (let row = main.offsets[index]; row < main.offsets[index + 1]; row++) {
        which.push(row)
        person.push(root)
      }
    }
    this.hidden = hidden
    return { rows: main, which: Uint32Array.from(which), person: Uint32Array.from(person) }
  }

  private takeFromTail(tail: EventBlock, anew: ReadonlySet<number>): Pick {
    const which: number[] = []
    const person: number[] = []
    for (let index = 0; index < tail.people; index++) {
      if (anew.has(tail.person[index])) continue
      const root = this.root(tail.person[index])
      for (let row = tail.offsets[index]; row < tail.offsets[index + 1]; row++) {
        which.push(row)
        person.push(root)
      }
    }
    return { rows: tail, which: Uint32Array.from(which), person: Uint32Array.from(person) }
  }

  /** What to fold the tail into the main block with, when that is worth it; null otherwise. Ends with `folded`. */
  startFold(): FoldRequest | null {
    if (this.folding || !this.main || !this.tail) return null
    if (this.tail.length < Math.max(this.foldFrom, this.main.length * FOLD_SHARE)) return null
    this.folding = { seq: this.lastSeq, merged: new Set(), anew: new Set() }
    return {
      main: this.main,
      hidden: this.hidden!,
      tail: this.tail,
      people: this.people,
      types: this.schema.types.length,
    }
  }

  /** Takes the folded block in place of the two, and reads again what came since it was begun. */
  folded(block: EventBlock): void {
    const { seq, merged, anew } = this.folding!
    this.folding = null
    this.setMain(block)
    this.lastSeq = seq
    const staging = new Staging(this.schema, this.dayStart.bind(this))
    this.addMerged(anew, merged)
    this.db.transaction(() => {
      this.rereadEvents(staging, anew)
      this.readEvents(staging, () => {})
    })()
    if (staging.length > 0 || merged.size > 0 || anew.size > 0) this.takeIn(staging, merged, anew)
    this.current = this.snapshot()
  }

  foldFailed(): void {
    this.folding = null
  }

  private snapshot(): Snapshot {
    const profiles = this.profiles.snapshot(this.people)
    const logs: EventLog[] = []
    const madeProfiles = new Map<number, Column>()
    if (this.main) logs.push({ ...this.main, profiles, made: [], madeProfiles, hidden: this.hidden })
    if (this.tail) logs.push({ ...this.tail, profiles, made: [], madeProfiles, hidden: null })
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
