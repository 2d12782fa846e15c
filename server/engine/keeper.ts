import { Temporal } from 'temporal-polyfill'
import type { Pick } from '../../core/log/arrange.js'
import type { FoldRequest } from '../../core/log/fold.js'
import { cutPeople, type EventBlock, type EventLog, type PersonRange } from '../../core/log/log.js'
import { Profiles, type Held } from '../../core/log/profiles.js'
import { LogSchema, type Schema } from '../../core/log/schema.js'
import { Staging } from '../../core/log/staging.js'
import type { Value } from '../../core/log/values.js'
import { STEP, type Steps } from '../../core/steps.js'
import { startOfDay } from '../../core/time/range.js'
import type { Db } from '../store/database.js'
import { definitionsVersion } from '../store/definitions.js'
import { mendingStore } from '../store/mending.js'
import { settingsStore } from '../store/settings.js'
import type { KeptState } from './handOver.js'
import { Layers, type LayerLimits } from './layers.js'
import { Owners } from './owners.js'

/** One state of the column store. Nothing in it changes any more; queries hold on to the one they began with. */
export interface Snapshot {
  version: number
  logs: EventLog[]
  /** what the codes in them mean */
  schema: Schema
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
  state: string
}

const EVENT_COLUMNS = 'SELECT seq, IFNULL(known, anonymous), type, time_ms, source, properties, dates FROM events'
type EventColumns = [number, number, number, number, number | null, string, string | null]

const CHUNK_ROWS = 120_000
/** Rows of the file that are read in a step: reading their properties is most of the work. */
const READ_ROWS = 500

export interface KeeperOptions extends LayerLimits {
  /** states are numbered from here on */
  firstVersion?: number
  /** what the keeper before knew when it was last asked; what came since is read from the file */
  before?: { state: KeptState; schema: LogSchema } | null
}

/**
 * Keeps the column store in step with SQLite: reads what is new there, and puts it into the layers of the store.
 *
 * Each call gives its work in steps, on a connection of its own that nobody else may use: others have their turn in
 * between, and read the state before. Only one of them may be under way at a time.
 */
export class LogKeeper {
  private readonly schema: LogSchema
  readonly zone: string
  private readonly profiles: Profiles
  private readonly typeCodes: number[] = []
  private readonly sourceCodes: number[] = []
  private readonly owners: Owners
  private people = 1
  private lastSeq = 0
  private lastChange = 0
  private lastSplit = 0
  private lastEventChange = 0
  /** which state of descriptions, plan and mending it knows */
  definitions = -1
  private oldestMs = Infinity
  private newestMs = -Infinity
  private readonly layers: Layers
  private version: number
  current: Snapshot

  /** @param db a connection that nobody else uses */
  constructor(
    private readonly db: Db,
    { firstVersion = 0, before = null, ...limits }: KeeperOptions = {},
  ) {
    this.owners = new Owners(before?.state.owner, before?.state.mergedInto)
    this.layers = new Layers((person) => this.owners.root(person), limits)
    this.version = firstVersion
    this.zone = settingsStore(db).get().zone
    const dayStart = this.dayStart.bind(this)
    this.schema = before?.schema ?? new LogSchema()
    this.profiles = new Profiles(this.schema, dayStart, before?.state.profiles)
    if (before) this.goOnFrom(before.state)
    this.current = this.snapshot()
  }

  private goOnFrom({ layers, ...numbers }: KeptState): void {
    this.people = numbers.people
    this.lastSeq = numbers.lastSeq
    this.lastChange = numbers.lastChange
    this.lastSplit = numbers.lastSplit
    this.lastEventChange = numbers.lastEventChange
    this.oldestMs = numbers.oldestMs
    this.newestMs = numbers.newestMs
    this.layers.goOnFrom(layers, this.people)
  }

  /** All it knows but what values mean, to go on from: nothing of it may be changed before it has been written down. */
  kept(): KeptState {
    return {
      ...{ layers: this.layers.all, ...this.owners.all, profiles: [...this.profiles.all], people: this.people },
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
      const { anew, again } = this.readAnew()
      const merged = yield* this.readPeople()
      if (merged === null && anew.size === 0 && !mended && !this.hasNewEvents()) changes = null
      else {
        this.addMerged(anew, merged ?? [])
        this.readNames()
        yield* this.rereadEvents(staging, anew, again)
        yield* this.readEvents(staging, onRows)
        changes = { touched: merged ?? new Set<number>(), anew }
      }
    } finally {
      // What went wrong with the file may have ended it already.
      if (this.db.inTransaction) this.db.exec('COMMIT')
    }
    if (changes === null) return false
    const { touched, anew } = changes
    if (staging.length > 0 || touched.size > 0 || anew.size > 0)
      yield* this.layers.takeIn(yield* this.fresh(staging), touched, anew, this.counts)
    // What was taken out may have been the oldest or the newest there was.
    if (anew.size > 0) [this.oldestMs, this.newestMs] = this.layers.timeSpan()
    this.current = this.snapshot()
    return true
  }

  /** Rows of people merged since they were read stand under the numbers they had: those are to be gone over as well. */
  private addMerged(anew: Set<number>, merged: Iterable<number>): void {
    if (anew.size > 0) for (const person of merged) if (anew.has(this.owners.root(person))) anew.add(person)
  }

  /** @returns whether descriptions, plan or mending have changed */
  private readDefinitions(): boolean {
    const version = definitionsVersion(this.db)
    if (version === this.definitions) return false
    this.definitions = version
    this.schema.mend(mendingStore(this.db).get())
    return true
  }

  /**
   * @returns the people whose rows are no longer right: taken apart, or with events replaced, taken out or brought back;
   *   and the arrival numbers of those events
   */
  private readAnew(): { anew: Set<number>; again: Set<number> } {
    const anew = new Set<number>()
    const again = new Set<number>()
    const splits = this.db
      .prepare<[number], { change: number; person: number }>('SELECT change, person FROM split_people WHERE change > ?')
      .all(this.lastSplit)
    for (const { change, person } of splits) {
      this.lastSplit = Math.max(this.lastSplit, change)
      anew.add(this.owners.root(person))
    }
    const replaced = this.db
      .prepare<[number], { change: number; seq: number; owner: number }>(
        'SELECT change, seq, owner FROM event_changes WHERE change > ?',
      )
      .all(this.lastEventChange)
    for (const { change, seq, owner } of replaced) {
      this.lastEventChange = Math.max(this.lastEventChange, change)
      if (!this.owners.knows(owner)) continue
      anew.add(this.owners.of(owner))
      if (seq <= this.lastSeq) again.add(seq)
    }
    return { anew, again }
  }

  /**
   * Reads the rows of some people again, as they are now and by whom they belong to now.
   * @param again arrival numbers of theirs that need not be there yet
   */
  private *rereadEvents(staging: Staging, people: ReadonlySet<number>, again: ReadonlySet<number>): Steps<void> {
    if (people.size === 0) return
    const byNumber = this.db.prepare(`${EVENT_COLUMNS} WHERE seq = ?`).raw()
    const seqs = new Set(again)
    for (const seq of this.layers.arrivalsOf(people)) seqs.add(seq)
    let at = 0
    for (const seq of seqs) {
      const row = byNumber.get(seq) as EventColumns | undefined
      if (row) this.stage(staging, row)
      if (++at % READ_ROWS === 0) yield
    }
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
      if (mergedInto !== null && this.owners.merge(id, mergedInto)) merged.add(id).add(mergedInto)
      if (changed.length % READ_ROWS === 0) yield
    }
    if (changed.length === 0) return null
    yield* this.readIds(first ? null : changed)
    yield* this.readProfiles(first ? null : changed)
    return merged
  }

  private *readIds(of: number[] | null): Steps<void> {
    const take = ([id, person]: [number, number]) => this.owners.put(id, person, of === null)
    if (of === null) yield* eachRow(this.db.prepare('SELECT id, person FROM person_ids').raw().iterate(), take)
    else yield* eachOf(of, this.db.prepare('SELECT id, person FROM person_ids WHERE person = ?').raw(), take)
  }

  /** @param of the people to read anew; null = everybody, for the first time */
  private *readProfiles(of: number[] | null): Steps<void> {
    const names = new Map(
      this.db
        .prepare<[], { id: number; name: string }>(`SELECT id, name FROM properties WHERE scope = 'person'`)
        .all()
        .map((row) => [row.id, row.name]),
    )
    // By property; of one id they come in order of time.
    const take = (person: number, writes: readonly WriteRow[]) => {
      for (let from = 0; from < writes.length;) {
        let to = from
        while (to < writes.length && writes[to]![0] === writes[from]![0]) to++
        this.profiles.setPast(person, names.get(writes[from]![0])!, heldOf(writes.slice(from, to)))
        from = to
      }
    }
    let again: Iterable<number> = of ?? []
    if (of === null) again = yield* this.readHistories(take)
    const own = this.db
      .prepare(
        `SELECT property, written_ms, value, dated, timed FROM profile_history
         WHERE id IN (SELECT id FROM person_ids WHERE person = ?) ORDER BY property, written_ms, arrival`,
      )
      .raw()
    let at = 0
    for (const person of again) {
      if (of !== null) for (const { name } of this.schema.profile) this.profiles.set(person, name, null)
      take(person, own.all(person) as WriteRow[])
      if (++at % (READ_ROWS / 4) === 0) yield
    }
  }

  /** Reads everybody's, id by id. @returns the people of whom several ids wrote: theirs are to be put in one order */
  private *readHistories(take: (person: number, writes: readonly WriteRow[]) => void): Steps<Set<number>> {
    const writers = new Set<number>()
    const several = new Set<number>()
    let id = 0
    let writes: WriteRow[] = []
    const done = () => {
      if (writes.length === 0) return
      const person = this.owners.of(id)
      if (writers.has(person)) several.add(person)
      else take(person, writes)
      writers.add(person)
    }
    const rows = this.db
      .prepare(
        `SELECT property, written_ms, value, dated, timed, id FROM profile_history ORDER BY id, property, written_ms`,
      )
      .raw()
      .iterate() as IterableIterator<[...WriteRow, number]>
    let at = 0
    for (const [property, ms, value, dated, timed, of] of rows) {
      if (of !== id) {
        done()
        writes = []
        id = of
      }
      writes.push([property, ms, value, dated, timed])
      if (++at % READ_ROWS === 0) yield
    }
    done()
    return several
  }

  private readNames(): void {
    for (const row of this.db.prepare<[], TypeRow>('SELECT id, name, passive, state FROM event_types').iterate())
      this.typeCodes[row.id] = this.schema.addType(row.name, row.passive === 1, row.state === 'hidden')
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

  private stage(staging: Staging, [seq, owner, type, time, source, properties, dates]: EventColumns): void {
    const row = this.staged
    row.arrival = seq
    row.owner = owner
    row.type = this.typeCodes[type]
    row.time = time
    row.source = source === null ? 0 : this.sourceCodes[source]
    staging.add(row, properties === '{}' ? {} : (JSON.parse(properties) as object), namesOf(dates))
    if (time > this.newestMs) this.newestMs = time
    if (time < this.oldestMs) this.oldestMs = time
  }

  /** The person that an id belongs to in the current state, by the id's row number; 0 = there was no such id. */
  personOf(id: number): number {
    return this.owners.known(id)
  }

  /** What has been read, by whom it belongs to by now. */
  private *fresh(staging: Staging): Steps<Pick> {
    const owners = new Uint32Array(staging.length)
    for (let row = 0; row < staging.length; row++) {
      owners[row] = this.owners.of(staging.owner[row])
      if (row % STEP === STEP - 1) yield
    }
    return { rows: yield* staging.rows(), which: null, person: owners }
  }

  private get counts() {
    return { people: this.people, types: this.schema.types.length }
  }

  /** Whether a fold is under way, from `startFold` to `folded` or `foldFailed`. */
  get folding(): boolean {
    return this.layers.folding
  }

  /** Which layers to fold into one, when that is worth it; null otherwise. Ends with `folded` or `foldFailed`. */
  startFold(): FoldRequest | null {
    return this.layers.startFold(this.counts)
  }

  /** Takes the folded block in place of what it was made from. */
  folded(block: EventBlock): void {
    this.layers.folded(block, this.people)
    this.current = this.snapshot()
  }

  /** All stays as it is. */
  foldFailed(): void {
    this.layers.foldFailed()
  }

  private snapshot(): Snapshot {
    const profiles = this.profiles.snapshot(this.people)
    const logs: EventLog[] = []
    const madeProfiles: EventLog['madeProfiles'] = new Map()
    for (const { block, hidden } of this.layers.all)
      logs.push({ ...block, profiles, made: [], madeProfiles, then: [], hidden })
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
    const schema = this.schema.state()
    this.owners.settle()
    return {
      version: this.version++,
      logs,
      schema,
      chunks,
      people: this.people,
      seenPeople,
      events,
      oldestMs,
      newestMs,
    }
  }
}

/** Of one write: property, epoch ms, JSON, whether it is a date, whether it carried its own time. */
type WriteRow = [number, number, string | null, number | null, number]

/** What held when, equal ones that follow each other as one. @param writes of one property, in order */
function heldOf(writes: readonly WriteRow[]): Held[] {
  const held: Held[] = []
  let before: string | null | undefined
  for (const [place, [, ms, text, dated, timed]] of writes.entries()) {
    if (text === before) continue
    before = text
    const since = place === 0 && timed === 0 ? -Infinity : ms
    // Nothing known before a first value that held from a moment on is the same as none.
    if (place === 0 && text === null) continue
    held.push({
      since,
      value: text === null ? null : (JSON.parse(text) as Value),
      dated: dated === null ? null : dated === 1,
    })
  }
  return held
}

const NO_NAMES: readonly string[] = []

/** Which properties hold a date, as the file says; null where it does not say. */
function namesOf(dates: string | null): readonly string[] | null {
  return dates === '[]' ? NO_NAMES : dates === null ? null : (JSON.parse(dates) as string[])
}

function* eachRow<T>(rows: IterableIterator<unknown>, take: (row: T) => void): Steps<void> {
  let at = 0
  for (const row of rows) {
    take(row as T)
    if (++at % READ_ROWS === 0) yield
  }
}

function* eachOf<T>(
  people: readonly number[],
  statement: { all(person: number): unknown[] },
  take: (row: T) => void,
): Steps<void> {
  for (const [at, person] of people.entries()) {
    for (const row of statement.all(person)) take(row as T)
    if (at % (READ_ROWS / 4) === READ_ROWS / 4 - 1) yield
  }
}
