import { kindOf, type Value } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import { catalogRows, CatalogTally } from './catalogTally.js'
import type { IncomingEvent, IncomingPerson } from './event.js'
import { identities } from './identities.js'
import { originNotes, type Origin } from './origins.js'

export interface Written {
  accepted: number
  duplicates: number
  /** of the accepted: events that took the place of an earlier one of the same id */
  replaced: number
  /** where those stand that had no effect, among those given */
  knownAt: number[]
}

export interface WriteOptions {
  /** further writes that must stand or fall with the batch, such as how far an import got */
  also?: (written: Written) => void
  /** an event of a known id takes the earlier one's place, rather than being passed over */
  replace?: boolean
  /** what brought them in, for whoever wants to take them back */
  origin?: Origin | undefined
}

/** Whom profiles came from and when, and what must stand or fall with them. */
export interface PeopleOptions {
  also?: ((written: number) => void) | undefined
  origin?: Origin | undefined
  receivedMs?: number
}

/** More people than come in one batch: what arrived is numbered by its batch, then its place in it. */
export const MOST_IN_BATCH = 2 ** 20

/**
 * Writes checked events and profiles, a batch a transaction: what it returns for is on disk. Two events with one id are
 * one event: the first stored wins, and the second has no effect at all.
 */
export function eventWriter(db: Db) {
  const hasEvent = db.prepare<[string], { seq: number }>('SELECT seq FROM events WHERE event_id = ?')
  const insertEvent = db.prepare(
    `INSERT INTO events (seq, event_id, known, anonymous, type, time_ms, source, properties, dates, received_ms)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (event_id) DO NOTHING`,
  )
  // Readers ask for what came after the largest number they know: one that was taken out must not come again.
  const lastSeq = db.prepare<[], { seq: number }>(
    `SELECT MAX(IFNULL((SELECT MAX(seq) FROM events), 0), IFNULL((SELECT MAX(seq) FROM event_changes), 0)) AS seq`,
  )
  const earlier = db.prepare<[string], StoredRow>(
    'SELECT seq, known, anonymous, type, time_ms, source, properties FROM events WHERE event_id = ?',
  )
  const replaceEvent = db.prepare(
    `UPDATE events SET known = ?, anonymous = ?, type = ?, time_ms = ?, source = ?, properties = ?, dates = ?
     WHERE seq = ?`,
  )
  const noteChange = db.prepare('INSERT INTO event_changes (seq, owner) VALUES (?, ?)')
  const keepReplaced = db.prepare('INSERT INTO replaced_events (seq, origin, replaced_ms, before) VALUES (?, ?, ?, ?)')
  const ids = identities(db)
  const lastChange = db.prepare<[], { changed: number | null }>('SELECT MAX(changed) AS changed FROM people')
  const addType = db.prepare('INSERT INTO event_types (name) VALUES (?) ON CONFLICT (name) DO NOTHING')
  const typeId = db.prepare<[string], { id: number }>('SELECT id FROM event_types WHERE name = ?')
  const addSource = db.prepare('INSERT INTO sources (name) VALUES (?) ON CONFLICT (name) DO NOTHING')
  const sourceId = db.prepare<[string], { id: number }>('SELECT id FROM sources WHERE name = ?')

  const types = new Map<string, number>()
  const sources = new Map<string, number>()
  const catalog = catalogRows(db)
  const origins = originNotes(db)

  /** After a transaction that failed, the caches may name rows that were rolled back. */
  function forget(): void {
    ids.forget()
    for (const cache of [types, sources]) cache.clear()
    for (const part of [catalog, origins]) part.forget()
  }

  function rowOf(cache: Map<string, number>, name: string, add: () => void, find: () => { id: number }): number {
    let id = cache.get(name)
    if (id === undefined) {
      add()
      id = find().id
      cache.set(name, id)
    }
    return id
  }

  const nextChange = () => (lastChange.get()?.changed ?? 0) + 1

  /** Runs a batch with what belongs to it in one transaction. */
  function inTransaction<T>(work: () => T): T {
    try {
      return db.transaction(work).immediate()
    } catch (error) {
      forget()
      throw error
    }
  }

  /** The row numbers of an event's type and source. */
  function namesOf(event: IncomingEvent): { type: number; source: number | null } {
    const type = rowOf(
      types,
      event.event,
      () => addType.run(event.event),
      () => typeId.get(event.event)!,
    )
    const name = event.source
    if (name === null) return { type, source: null }
    const source = rowOf(
      sources,
      name,
      () => addSource.run(name),
      () => sourceId.get(name)!,
    )
    return { type, source }
  }

  /** Puts an event in the place of the earlier one of its id. @returns whether there was one, and whether it differed */
  function replaceEarlier(
    event: IncomingEvent,
    { changed, tally, origin, receivedMs }: Replacing,
  ): 'none' | 'same' | 'replaced' {
    const old = earlier.get(event.id)
    if (!old) return 'none'
    const { knownRow, anonymousRow } = ids.knownIds(event) ?? ids.joinIds(event, changed)
    const { type, source } = namesOf(event)
    const properties = JSON.stringify(event.properties)
    const row: StoredRow = {
      ...{ seq: old.seq, known: knownRow, anonymous: anonymousRow, type },
      ...{ time_ms: event.timeMs, source, properties },
    }
    if (JSON.stringify(row) === JSON.stringify(old)) return 'same'
    if (origin) keepReplaced.run(old.seq, origins.rowOf(origin), receivedMs, JSON.stringify(old))
    const dates = datesIn(event.properties)
    replaceEvent.run(knownRow, anonymousRow, type, event.timeMs, source, properties, dates, old.seq)
    noteChange.run(old.seq, old.known ?? old.anonymous)
    tally.countEvent(type, event.timeMs, event.properties)
    return 'replaced'
  }

  return {
    /** Whether an event of this id has been taken in. */
    has: (id: string): boolean => hasEvent.get(id) !== undefined,

    /** Runs several batches in one transaction: all of them are on disk when it returns, or none. */
    together: inTransaction,
    /** What those share that write to the same tables, inside of `together`. */
    inside: { ids, catalog, nextChange },
    datesIn,

    writeEvents(events: readonly IncomingEvent[], receivedMs: number, options: WriteOptions = {}): Written {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        const knownAt: number[] = []
        let replaced = 0
        const before = lastSeq.get()!.seq
        let seq = before
        for (const [at, event] of events.entries()) {
          if (options.replace) {
            const found = replaceEarlier(event, { changed, tally, origin: options.origin, receivedMs })
            if (found === 'same') knownAt.push(at)
            if (found === 'replaced') replaced++
            if (found !== 'none') continue
          }
          let eventIds = ids.knownIds(event)
          if (!eventIds) {
            // A duplicate must not even make or merge anybody, so it is looked for before its ids are.
            if (hasEvent.get(event.id)) {
              knownAt.push(at)
              continue
            }
            eventIds = ids.joinIds(event, changed)
          }
          const { type, source } = namesOf(event)
          const { changes } = insertEvent.run(
            seq + 1,
            event.id,
            eventIds.knownRow,
            eventIds.anonymousRow,
            type,
            event.timeMs,
            source,
            JSON.stringify(event.properties),
            datesIn(event.properties),
            receivedMs,
          )
          if (changes === 0) knownAt.push(at)
          else {
            seq++
            tally.countEvent(type, event.timeMs, event.properties)
          }
        }
        const duplicates = knownAt.length
        const written = { accepted: events.length - duplicates, duplicates, replaced, knownAt }
        tally.write(catalog)
        if (options.origin && seq > before) origins.events(options.origin, before + 1, seq, receivedMs)
        options.also?.(written)
        return written
      })
    },

    /** @returns how many people were written */
    writePeople(people: readonly IncomingPerson[], options: PeopleOptions = {}): number {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        for (const [place, { known, properties: values, writtenMs, timed }] of people.entries()) {
          const id = ids.idRow('known', known, changed)
          const write = { ms: writtenMs, timed: timed === true, arrival: changed * MOST_IN_BATCH + place }
          for (const [name, value] of Object.entries(values)) {
            const property = catalog.propertyRow('person', name)
            ids.writeProfile(id, property, value, write)
            if (value !== null) tally.countProfile(name, value)
          }
          ids.touch(id, changed)
        }
        tally.write(catalog)
        if (options.origin && people.length > 0) origins.profiles(options.origin, changed, options.receivedMs ?? 0)
        options.also?.(people.length)
        return people.length
      })
    },

    /**
     * Takes an id out of its person, or puts it back; see `identities`.
     * @returns the person that the id is now; null where there was nothing to take apart
     */
    unmerge: (id: number): number | null => inTransaction(() => ids.unmerge(id, nextChange())),
    remerge: (id: number): number => inTransaction(() => ids.remerge(id, nextChange())),
  }
}
export type EventWriter = ReturnType<typeof eventWriter>

/** The names of the properties that hold a date, as it is stored. */
function datesIn(properties: Readonly<Record<string, Value>>): string {
  let names: string[] | null = null
  for (const name in properties) if (kindOf(properties[name]) === 'date') (names ??= []).push(name)
  return names ? JSON.stringify(names) : NO_DATES
}
const NO_DATES = '[]'

interface Replacing {
  changed: number
  tally: CatalogTally
  origin: Origin | undefined
  receivedMs: number
}

/** What an event is, as its row says. */
export interface StoredRow {
  seq: number
  known: number | null
  anonymous: number | null
  type: number
  time_ms: number
  source: number | null
  properties: string
}
