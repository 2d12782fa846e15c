import { kindOf, type Value, type ValueKind } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import type { IncomingEvent, IncomingPerson } from './event.js'
import { identities } from './identities.js'

export interface Written {
  accepted: number
  duplicates: number
  /** of the accepted: events that took the place of an earlier one of the same id */
  replaced: number
}

export interface WriteOptions {
  /** further writes that must stand or fall with the batch, such as how far an import got */
  also?: (written: Written) => void
  /** an event of a known id takes the earlier one's place, rather than being passed over */
  replace?: boolean
}

/** More people than come in one batch: what arrived is numbered by its batch, then its place in it. */
const MOST_IN_BATCH = 2 ** 20

/** The columns of `properties` that count the kinds of values. */
const KINDS = ['texts', 'numbers', 'booleans', 'dates', 'lists'] as const
const PLACE: Record<ValueKind, number> = { text: 0, number: 1, boolean: 2, date: 3, list: 4 }

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
  const ids = identities(db)
  const lastChange = db.prepare<[], { changed: number | null }>('SELECT MAX(changed) AS changed FROM people')
  const addType = db.prepare('INSERT INTO event_types (name) VALUES (?) ON CONFLICT (name) DO NOTHING')
  const typeId = db.prepare<[string], { id: number }>('SELECT id FROM event_types WHERE name = ?')
  const countType = db.prepare(
    `UPDATE event_types SET events = events + ?, first_ms = MIN(IFNULL(first_ms, ?), ?), last_ms = MAX(IFNULL(last_ms, ?), ?)
     WHERE id = ?`,
  )
  const addProperty = db.prepare(
    'INSERT INTO properties (scope, name) VALUES (?, ?) ON CONFLICT (scope, name) DO NOTHING',
  )
  const propertyId = db.prepare<[string, string], { id: number }>(
    'SELECT id FROM properties WHERE scope = ? AND name = ?',
  )
  const countProperty = db.prepare(
    `UPDATE properties SET ${KINDS.map((kind) => `${kind} = ${kind} + ?`).join(', ')} WHERE id = ?`,
  )
  const countCarried = db.prepare(
    `INSERT INTO event_type_properties (type, property, events) VALUES (?, ?, ?)
     ON CONFLICT (type, property) DO UPDATE SET events = events + excluded.events`,
  )
  const addSource = db.prepare('INSERT INTO sources (name) VALUES (?) ON CONFLICT (name) DO NOTHING')
  const sourceId = db.prepare<[string], { id: number }>('SELECT id FROM sources WHERE name = ?')

  const types = new Map<string, number>()
  const sources = new Map<string, number>()
  const properties = { event: new Map<string, number>(), person: new Map<string, number>() }

  /** After a transaction that failed, the caches may name rows that were rolled back. */
  function forget(): void {
    ids.forget()
    for (const cache of [types, sources, properties.event, properties.person]) cache.clear()
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

  function propertyRow(scope: 'event' | 'person', name: string): number {
    return rowOf(
      properties[scope],
      name,
      () => addProperty.run(scope, name),
      () => propertyId.get(scope, name)!,
    )
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
  function replaceEarlier(event: IncomingEvent, changed: number, tally: CatalogTally): 'none' | 'same' | 'replaced' {
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

    writeEvents(events: readonly IncomingEvent[], receivedMs: number, options: WriteOptions = {}): Written {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        let duplicates = 0
        let replaced = 0
        let seq = lastSeq.get()!.seq
        for (const event of events) {
          if (options.replace) {
            const found = replaceEarlier(event, changed, tally)
            if (found === 'same') duplicates++
            if (found === 'replaced') replaced++
            if (found !== 'none') continue
          }
          let eventIds = ids.knownIds(event)
          if (!eventIds) {
            // A duplicate must not even make or merge anybody, so it is looked for before its ids are.
            if (hasEvent.get(event.id)) {
              duplicates++
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
          if (changes === 0) duplicates++
          else {
            seq++
            tally.countEvent(type, event.timeMs, event.properties)
          }
        }
        const written = { accepted: events.length - duplicates, duplicates, replaced }
        tally.write(propertyRow, { countType, countProperty, countCarried })
        options.also?.(written)
        return written
      })
    },

    /** @returns how many people were written */
    writePeople(people: readonly IncomingPerson[], also?: (written: number) => void): number {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        for (const [place, { known, properties: values, writtenMs, timed }] of people.entries()) {
          const id = ids.idRow('known', known, changed)
          const write = { ms: writtenMs, timed: timed === true, arrival: changed * MOST_IN_BATCH + place }
          for (const [name, value] of Object.entries(values)) {
            const property = propertyRow('person', name)
            ids.writeProfile(id, property, value, write)
            if (value !== null) tally.countProfile(name, value)
          }
          ids.touch(id, changed)
        }
        tally.write(propertyRow, { countType, countProperty, countCarried })
        also?.(people.length)
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

/** Of one property: how many values of each kind, in the order of `KINDS`. */
type KindCounts = Float64Array

interface TypeTally {
  events: number
  first: number
  last: number
  /** by the property's name, so that an event costs one look-up for each value */
  carried: Map<string, KindCounts>
}

/** What a batch adds to the catalog, added up so that each row is written once. */
class CatalogTally {
  private readonly types = new Map<number, TypeTally>()
  private readonly profile = new Map<string, KindCounts>()

  countEvent(type: number, timeMs: number, properties: Readonly<Record<string, Value>>): void {
    let tally = this.types.get(type)
    if (!tally) this.types.set(type, (tally = { events: 0, first: timeMs, last: timeMs, carried: new Map() }))
    tally.events++
    if (timeMs < tally.first) tally.first = timeMs
    if (timeMs > tally.last) tally.last = timeMs
    for (const name in properties) this.count(tally.carried, name, properties[name])
  }

  countProfile(name: string, value: Value): void {
    this.count(this.profile, name, value)
  }

  private count(counts: Map<string, KindCounts>, name: string, value: Value): void {
    const kind = kindOf(value)
    if (kind === null) return
    let kinds = counts.get(name)
    if (!kinds) counts.set(name, (kinds = new Float64Array(KINDS.length)))
    kinds[PLACE[kind]]++
  }

  /** @param propertyRow the row number of a property, which is made where there is none yet */
  write(
    propertyRow: (scope: 'event' | 'person', name: string) => number,
    statements: Record<'countType' | 'countProperty' | 'countCarried', Statement>,
  ): void {
    const totals = new Map<number, KindCounts>()
    const add = (property: number, counts: KindCounts) => {
      const total = totals.get(property)
      totals.set(property, total ? total.map((count, place) => count + counts[place]) : counts)
    }
    for (const [id, { events, first, last, carried }] of this.types) {
      statements.countType.run(events, first, first, last, last, id)
      for (const [name, counts] of carried) {
        const property = propertyRow('event', name)
        add(property, counts)
        statements.countCarried.run(
          id,
          property,
          counts.reduce((sum, count) => sum + count, 0),
        )
      }
    }
    for (const [name, counts] of this.profile) add(propertyRow('person', name), counts)
    for (const [id, counts] of totals) statements.countProperty.run(...counts, id)
  }
}

interface StoredRow {
  seq: number
  known: number | null
  anonymous: number | null
  type: number
  time_ms: number
  source: number | null
  properties: string
}

interface Statement {
  run(...values: unknown[]): unknown
}
