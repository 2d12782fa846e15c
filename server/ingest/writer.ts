import { kindOf, type Value } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import type { IncomingEvent, IncomingPerson } from './event.js'

export interface Written {
  accepted: number
  duplicates: number
}

/** Ids kept in memory at most; beyond it the file is asked again. */
const MOST_CACHED = 400_000

type Kind = 'texts' | 'numbers' | 'booleans' | 'dates' | 'lists'
const KIND = { text: 'texts', number: 'numbers', boolean: 'booleans', date: 'dates', list: 'lists' } as const

/**
 * Writes checked events and profiles, a batch a transaction: what it returns for is on disk. Two events with one id are
 * one event: the first stored wins, and the second has no effect at all.
 */
export function eventWriter(db: Db) {
  const hasEvent = db.prepare<[string], { seq: number }>('SELECT seq FROM events WHERE event_id = ?')
  const insertEvent = db.prepare(
    `INSERT INTO events (event_id, known, anonymous, type, time_ms, source, properties, received_ms)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (event_id) DO NOTHING`,
  )
  const findId = db.prepare<[string, string], { id: number; person: number }>(
    'SELECT id, person FROM person_ids WHERE space = ? AND value = ?',
  )
  const personOfId = db.prepare<[number], { person: number }>('SELECT person FROM person_ids WHERE id = ?')
  const insertId = db.prepare('INSERT INTO person_ids (space, value, person) VALUES (?, ?, ?)')
  const insertPerson = db.prepare('INSERT INTO people (changed) VALUES (?)')
  const touchPerson = db.prepare('UPDATE people SET changed = ? WHERE id = ?')
  const moveIds = db.prepare('UPDATE person_ids SET person = ? WHERE person = ?')
  const mergePerson = db.prepare('UPDATE people SET merged_into = ?, changed = ? WHERE id = ?')
  const moveMerged = db.prepare('UPDATE people SET merged_into = ? WHERE merged_into = ?')
  const moveProfile = db.prepare(
    `INSERT INTO profile_values (person, property, value, written_ms)
     SELECT ?, property, value, written_ms FROM profile_values WHERE person = ?
     ON CONFLICT (person, property) DO UPDATE SET value = excluded.value, written_ms = excluded.written_ms
       WHERE excluded.written_ms > profile_values.written_ms`,
  )
  const dropProfile = db.prepare('DELETE FROM profile_values WHERE person = ?')
  const putProfile = db.prepare(
    `INSERT INTO profile_values (person, property, value, written_ms) VALUES (?, ?, ?, ?)
     ON CONFLICT (person, property) DO UPDATE SET value = excluded.value, written_ms = excluded.written_ms
       WHERE excluded.written_ms >= profile_values.written_ms`,
  )
  const dropValue = db.prepare('DELETE FROM profile_values WHERE person = ? AND property = ? AND written_ms <= ?')
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
    `UPDATE properties SET texts = texts + @texts, numbers = numbers + @numbers, booleans = booleans + @booleans,
       dates = dates + @dates, lists = lists + @lists WHERE id = @id`,
  )
  const countCarried = db.prepare(
    `INSERT INTO event_type_properties (type, property, events) VALUES (?, ?, ?)
     ON CONFLICT (type, property) DO UPDATE SET events = events + excluded.events`,
  )
  const addSource = db.prepare('INSERT INTO sources (name) VALUES (?) ON CONFLICT (name) DO NOTHING')
  const sourceId = db.prepare<[string], { id: number }>('SELECT id FROM sources WHERE name = ?')

  const known = new Map<string, number>()
  const anonymous = new Map<string, number>()
  /** pairs of ids that are known to be one person already */
  const joined = new Set<string>()
  const types = new Map<string, number>()
  const sources = new Map<string, number>()
  const properties = { event: new Map<string, number>(), person: new Map<string, number>() }

  /** After a transaction that failed, the caches may name rows that were rolled back. */
  function forget(): void {
    for (const cache of [known, anonymous, joined, types, sources, properties.event, properties.person]) cache.clear()
  }

  function idRow(space: 'known' | 'anonymous', value: string, changed: number, person?: number): number {
    const cache = space === 'known' ? known : anonymous
    const cached = cache.get(value)
    if (cached !== undefined) return cached
    if (cache.size >= MOST_CACHED) cache.clear()
    let id = findId.get(space, value)?.id
    if (id === undefined) {
      const owner = person ?? Number(insertPerson.run(changed).lastInsertRowid)
      if (person !== undefined) touchPerson.run(changed, person)
      id = Number(insertId.run(space, value, owner).lastInsertRowid)
    }
    cache.set(value, id)
    return id
  }

  /** Makes two people one: the older number stays. Later profile values win. */
  function merge(a: number, b: number, changed: number): void {
    const stays = Math.min(a, b)
    const goes = Math.max(a, b)
    moveIds.run(stays, goes)
    moveProfile.run(stays, goes)
    dropProfile.run(goes)
    moveMerged.run(stays, goes)
    mergePerson.run(stays, changed, goes)
    touchPerson.run(changed, stays)
  }

  function joinIds(event: IncomingEvent, changed: number): { knownRow: number | null; anonymousRow: number | null } {
    if (event.known === null) return { knownRow: null, anonymousRow: idRow('anonymous', event.anonymous!, changed) }
    const knownRow = idRow('known', event.known, changed)
    if (event.anonymous === null) return { knownRow, anonymousRow: null }
    // A new anonymous id goes straight to the known person.
    const fresh = !anonymous.has(event.anonymous) && !findId.get('anonymous', event.anonymous)
    const anonymousRow = idRow(
      'anonymous',
      event.anonymous,
      changed,
      fresh ? personOfId.get(knownRow)!.person : undefined,
    )
    const pair = `${knownRow} ${anonymousRow}`
    if (!joined.has(pair)) {
      const a = personOfId.get(knownRow)!.person
      const b = personOfId.get(anonymousRow)!.person
      if (a !== b) merge(a, b, changed)
      if (joined.size >= MOST_CACHED) joined.clear()
      joined.add(pair)
    }
    return { knownRow, anonymousRow }
  }

  /** The rows of an event's ids where all is known of them already, so that writing the event changes nothing else. */
  function knownIds(event: IncomingEvent): { knownRow: number | null; anonymousRow: number | null } | null {
    const knownRow = event.known === null ? null : known.get(event.known)
    const anonymousRow = event.anonymous === null ? null : anonymous.get(event.anonymous)
    if (knownRow === undefined || anonymousRow === undefined) return null
    if (knownRow !== null && anonymousRow !== null && !joined.has(`${knownRow} ${anonymousRow}`)) return null
    return { knownRow, anonymousRow }
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

  return {
    /**
     * @param also further writes that must stand or fall with the batch, such as how far an import got
     */
    writeEvents(events: readonly IncomingEvent[], receivedMs: number, also?: (written: Written) => void): Written {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        let duplicates = 0
        for (const event of events) {
          let ids = knownIds(event)
          if (!ids) {
            // A duplicate must not even make or merge anybody, so it is looked for before its ids are.
            if (hasEvent.get(event.id)) {
              duplicates++
              continue
            }
            ids = joinIds(event, changed)
          }
          const { knownRow, anonymousRow } = ids
          const type = rowOf(
            types,
            event.event,
            () => addType.run(event.event),
            () => typeId.get(event.event)!,
          )
          const name = event.source
          const source =
            name === null
              ? null
              : rowOf(
                  sources,
                  name,
                  () => addSource.run(name),
                  () => sourceId.get(name)!,
                )
          const { changes } = insertEvent.run(
            event.id,
            knownRow,
            anonymousRow,
            type,
            event.timeMs,
            source,
            JSON.stringify(event.properties),
            receivedMs,
          )
          if (changes === 0) {
            duplicates++
            continue
          }
          tally.countEvent(type, event.timeMs)
          for (const property in event.properties) {
            const value = event.properties[property] as Value
            tally.countValue(propertyRow('event', property), value, type)
          }
        }
        const written = { accepted: events.length - duplicates, duplicates }
        tally.write(countType, countProperty, countCarried)
        also?.(written)
        return written
      })
    },

    /** @returns how many people were written */
    writePeople(people: readonly IncomingPerson[]): number {
      return inTransaction(() => {
        const changed = nextChange()
        const tally = new CatalogTally()
        for (const { known: id, properties: values, writtenMs } of people) {
          const row = idRow('known', id, changed)
          const { person } = personOfId.get(row)!
          for (const [name, value] of Object.entries(values)) {
            const property = propertyRow('person', name)
            if (value === null) dropValue.run(person, property, writtenMs)
            else {
              putProfile.run(person, property, JSON.stringify(value), writtenMs)
              tally.countValue(property, value, null)
            }
          }
          touchPerson.run(changed, person)
        }
        tally.write(countType, countProperty, countCarried)
        return people.length
      })
    },
  }
}
export type EventWriter = ReturnType<typeof eventWriter>

/** What a batch adds to the catalog, added up so that each row is written once. */
class CatalogTally {
  private readonly types = new Map<number, { events: number; first: number; last: number }>()
  private readonly kinds = new Map<number, Record<Kind, number>>()
  /** by event type, then property */
  private readonly carried = new Map<number, Map<number, number>>()

  countEvent(type: number, timeMs: number): void {
    const had = this.types.get(type)
    if (!had) this.types.set(type, { events: 1, first: timeMs, last: timeMs })
    else {
      had.events++
      had.first = Math.min(had.first, timeMs)
      had.last = Math.max(had.last, timeMs)
    }
  }

  countValue(property: number, value: Value, type: number | null): void {
    const kind = kindOf(value)
    if (kind === null) return
    let kinds = this.kinds.get(property)
    if (!kinds) this.kinds.set(property, (kinds = { texts: 0, numbers: 0, booleans: 0, dates: 0, lists: 0 }))
    kinds[KIND[kind]]++
    if (type === null) return
    let ofType = this.carried.get(type)
    if (!ofType) this.carried.set(type, (ofType = new Map()))
    ofType.set(property, (ofType.get(property) ?? 0) + 1)
  }

  write(countType: Statement, countProperty: Statement, countCarried: Statement): void {
    for (const [id, { events, first, last }] of this.types) countType.run(events, first, first, last, last, id)
    for (const [id, kinds] of this.kinds) countProperty.run({ id, ...kinds })
    for (const [type, ofType] of this.carried)
      for (const [property, events] of ofType) countCarried.run(type, property, events)
  }
}

interface Statement {
  run(...values: unknown[]): unknown
}
