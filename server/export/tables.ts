import { own } from '../../core/names.js'
import type { CatalogDetail } from '../engine/catalog.js'
import type { Value } from '../../core/log/values.js'
import type { Db } from '../store/database.js'
import { exportRows } from './lines.js'

export const exportables = ['events', 'people', 'catalog'] as const
export type Exportable = (typeof exportables)[number]

export type ExportCell = Value | null
/** A table on its way out: its columns, with the kind that their values are of, and its rows a page at a time. */
export interface ExportTable {
  columns: { name: string; kind: 'text' | 'number' | 'boolean' }[]
  pages: Iterable<ExportCell[][]>
}

const text = (name: string) => ({ name, kind: 'text' as const })
const number = (name: string) => ({ name, kind: 'number' as const })

/** All events, a column for each property that ever came; a property of mixed kinds is a text. */
export function eventTable(db: Db, range: { fromMs?: number; untilMs?: number }): ExportTable {
  const properties = propertyColumns(db, 'event')
  // A property may be called like one of the event's own fields.
  const columns = [
    ...['id', 'person', 'anonymous', 'event', 'time', 'source'].map(text),
    ...properties.map(({ name, kind }) => ({ name: `property.${name}`, kind })),
  ]
  function* pages(): Generator<ExportCell[][]> {
    for (const page of exportRows(db, range))
      yield page.map((row) => {
        const values = JSON.parse(row.properties) as Record<string, Value>
        return [
          ...[row.event_id, row.known, row.anonymous, row.event, new Date(row.time_ms).toISOString(), row.source],
          ...properties.map(({ name, kind }) => fitted(own(values, name), kind)),
        ]
      })
  }
  return { columns, pages: pages() }
}

/** All people with their ids and profiles. */
export function peopleTable(db: Db): ExportTable {
  const properties = propertyColumns(db, 'person')
  const columns = [
    ...['person', 'known_ids', 'anonymous_ids'].map(text),
    ...properties.map(({ name, kind }) => ({ name: `property.${name}`, kind })),
  ]
  const people = db.prepare<[number, number], { id: number }>(
    'SELECT id FROM people WHERE merged_into IS NULL AND id > ? ORDER BY id LIMIT ?',
  )
  const ids = db.prepare<[number], { space: string; value: string }>(
    'SELECT space, value FROM person_ids WHERE person = ? ORDER BY id',
  )
  const profile = db.prepare<[number], { name: string; value: string }>(
    'SELECT p.name, v.value FROM profile_values v JOIN properties p ON p.id = v.property WHERE v.person = ?',
  )
  function* pages(): Generator<ExportCell[][]> {
    for (let after = 0; ;) {
      const page = people.all(after, 500)
      if (page.length === 0) return
      yield page.map(({ id }) => {
        const own = ids.all(id)
        const of = (space: string) => own.filter((each) => each.space === space).map(({ value }) => value)
        const values = new Map(profile.all(id).map((row) => [row.name, JSON.parse(row.value) as Value]))
        return [
          ...[of('known')[0] ?? of('anonymous')[0] ?? null, of('known').join('|'), of('anonymous').join('|')],
          ...properties.map(({ name, kind }) => fitted(values.get(name), kind)),
        ]
      })
      after = page.at(-1)!.id
    }
  }
  return { columns, pages: pages() }
}

/** What is said of events and properties, and how much there is of each. */
export function catalogTable({ events, properties }: CatalogDetail): ExportTable {
  const columns = [
    ...['what', 'name', 'called', 'description', 'state', 'owner', 'type'].map(text),
    ...['in_all', 'in_30_days'].map(number),
    ...['first_seen', 'last_seen', 'from', 'merged_into'].map(text),
  ]
  const moment = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString())
  const rows = [
    ...events.map((event): ExportCell[] => [
      ...['event', event.name, event.display, event.description, event.state, event.owner, null],
      ...[event.events, event.recent, moment(event.firstMs), moment(event.lastMs)],
      ...[event.sources.map(({ name }) => name ?? 'no source').join('|'), event.mergedInto],
    ]),
    ...properties.map((property): ExportCell[] => [
      property.of === 'event' ? 'event property' : 'profile property',
      ...[property.name, property.display, property.description, property.state, property.owner, property.kind],
      ...[property.events, property.recent, moment(property.firstMs), moment(property.lastMs)],
      ...[property.carriedBy.map(({ event }) => event).join('|'), property.mergedInto],
    ]),
  ]
  return { columns, pages: [rows] }
}

function propertyColumns(db: Db, scope: 'event' | 'person'): ExportTable['columns'] {
  return db
    .prepare<
      [string],
      { name: string; texts: number; numbers: number; booleans: number; dates: number; lists: number }
    >('SELECT * FROM properties WHERE scope = ? ORDER BY id')
    .all(scope)
    .flatMap((row): ExportTable['columns'] => {
      const others = row.texts + row.dates + row.lists
      if (row.numbers + row.booleans + others === 0) return []
      if (row.numbers > 0 && others + row.booleans === 0) return [number(row.name)]
      if (row.booleans > 0 && others + row.numbers === 0) return [{ name: row.name, kind: 'boolean' }]
      return [text(row.name)]
    })
}

function fitted(value: Value | undefined, kind: 'text' | 'number' | 'boolean'): ExportCell {
  if (value === undefined) return null
  if (kind !== 'text') return value
  return Array.isArray(value) ? value.join('|') : String(value)
}
