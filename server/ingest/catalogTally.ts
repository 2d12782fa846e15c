import { kindOf, type Value, type ValueKind } from '../../core/log/values.js'
import type { Db } from '../store/database.js'

/** The columns of `properties` that count the kinds of values. */
const KINDS = ['texts', 'numbers', 'booleans', 'dates', 'lists'] as const
const PLACE: Record<ValueKind, number> = { text: 0, number: 1, boolean: 2, date: 3, list: 4 }

/** The rows of the catalog that count what has come. */
export function catalogRows(db: Db) {
  const addProperty = db.prepare(
    'INSERT INTO properties (scope, name) VALUES (?, ?) ON CONFLICT (scope, name) DO NOTHING',
  )
  const propertyId = db.prepare<[string, string], { id: number }>(
    'SELECT id FROM properties WHERE scope = ? AND name = ?',
  )
  const known = { event: new Map<string, number>(), person: new Map<string, number>() }
  return {
    /** The row number of a property, which is made where there is none yet. */
    propertyRow(scope: 'event' | 'person', name: string): number {
      let id = known[scope].get(name)
      if (id === undefined) {
        addProperty.run(scope, name)
        id = propertyId.get(scope, name)!.id
        known[scope].set(name, id)
      }
      return id
    },
    /** After a transaction that failed, what is remembered may have been rolled back. */
    forget(): void {
      known.event.clear()
      known.person.clear()
    },
    countType: db.prepare(
      `UPDATE event_types SET events = events + ?, first_ms = MIN(IFNULL(first_ms, ?), ?), last_ms = MAX(IFNULL(last_ms, ?), ?)
       WHERE id = ?`,
    ),
    countProperty: db.prepare(
      `UPDATE properties SET ${KINDS.map((kind) => `${kind} = ${kind} + ?`).join(', ')} WHERE id = ?`,
    ),
    countCarried: db.prepare(
      `INSERT INTO event_type_properties (type, property, events) VALUES (?, ?, ?)
       ON CONFLICT (type, property) DO UPDATE SET events = events + excluded.events`,
    ),
  }
}
type CatalogRows = ReturnType<typeof catalogRows>

/** Of one property: how many values of each kind, in the order of `KINDS`. */
type KindCounts = Float64Array

interface TypeTally {
  events: number
  first: number
  last: number
  /** by the property's name, so that an event costs one look-up for each value */
  carried: Map<string, KindCounts>
}

/** What a batch adds to the catalog, or takes from it, added up so that each row is written once. */
export class CatalogTally {
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

  /** @param sign -1 where all of it is taken away */
  write(catalog: CatalogRows, sign: 1 | -1 = 1): void {
    const totals = new Map<number, KindCounts>()
    const add = (property: number, counts: KindCounts) => {
      const total = totals.get(property)
      totals.set(property, total ? total.map((count, place) => count + counts[place]) : counts)
    }
    for (const [id, { events, first, last, carried }] of this.types) {
      catalog.countType.run(sign * events, first, first, last, last, id)
      for (const [name, counts] of carried) {
        const property = catalog.propertyRow('event', name)
        add(property, counts)
        const all = counts.reduce((sum, count) => sum + count, 0)
        catalog.countCarried.run(id, property, sign * all)
      }
    }
    for (const [name, counts] of this.profile) add(catalog.propertyRow('person', name), counts)
    for (const [id, counts] of totals) catalog.countProperty.run(...counts.map((count) => sign * count), id)
  }
}
