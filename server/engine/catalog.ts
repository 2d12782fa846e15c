import type { CodedValue } from '../../core/log/dictionary.js'
import type { Column, EventLog } from '../../core/log/log.js'
import type { LogSchema, PropertyInfo } from '../../core/log/schema.js'
import type { ValueKind } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import type { Db } from '../store/database.js'

export interface EventEntry {
  name: string
  description: string
  passive: boolean
  deprecated: boolean
  events: number
  /** in the 30 days up to now */
  recent: number
  firstMs: number | null
  lastMs: number | null
  /** names of the properties it has carried, the commonest first */
  properties: string[]
}

export interface PropertyEntry {
  property: PropertyRef
  name: string
  description: string
  kind: ValueKind
  /** a few of the commonest values, as text, for searching and recognising */
  samples: string[]
}

/** What there is to ask about. */
export interface Catalog {
  events: EventEntry[]
  properties: PropertyEntry[]
}

interface PropertyRow {
  scope: 'event' | 'person'
  name: string
  description: string
  texts: number
  numbers: number
  booleans: number
  dates: number
  lists: number
}

const MONTH_MS = 30 * 86_400_000

export function readCatalog(db: Db, schema: LogSchema, logs: readonly EventLog[], now: number): Catalog {
  const recent = recentCounts(logs, schema.types.length, now)
  const carried = new Map<number, string[]>()
  for (const { type, name } of db
    .prepare<[], { type: number; name: string }>(
      `SELECT c.type, p.name FROM event_type_properties c JOIN properties p ON p.id = c.property
       ORDER BY c.events DESC, p.name`,
    )
    .iterate())
    carried.set(type, [...(carried.get(type) ?? []), name])
  const types = db
    .prepare<
      [],
      {
        id: number
        name: string
        description: string
        passive: number
        deprecated: number
        events: number
        first_ms: number | null
        last_ms: number | null
      }
    >('SELECT id, name, description, passive, deprecated, events, first_ms, last_ms FROM event_types ORDER BY name')
    .all()
  const events = types.map((row) => ({
    name: row.name,
    description: row.description,
    passive: row.passive === 1,
    deprecated: row.deprecated === 1,
    events: row.events,
    recent: recent[schema.typeCode(row.name) ?? -1] ?? 0,
    firstMs: row.first_ms,
    lastMs: row.last_ms,
    properties: carried.get(row.id) ?? [],
  }))
  const rows = db.prepare<[], PropertyRow>('SELECT * FROM properties ORDER BY name').all()
  const properties: PropertyEntry[] = rows.flatMap((row) => {
    const kind = kindOfRow(row)
    if (!kind) return []
    const property = { of: row.scope, name: row.name }
    const samples = commonValues(schema, logs, property, '', 6).map(({ value }) => String(value))
    return [{ property, name: row.name, description: row.description, kind, samples }]
  })
  if (schema.sources.size > 1)
    properties.push({
      property: { of: 'source' },
      name: 'source',
      description: 'Where the event came from',
      kind: 'text',
      samples: schema.sources.values.slice(1, 7).map(String),
    })
  return { events, properties }
}

/** The kind that most values are of; null while there are none. */
function kindOfRow(row: PropertyRow): ValueKind | null {
  const counts: [ValueKind, number][] = [
    ['text', row.texts],
    ['number', row.numbers],
    ['boolean', row.booleans],
    ['date', row.dates],
    ['list', row.lists],
  ]
  const [kind, most] = counts.reduce((a, b) => (b[1] > a[1] ? b : a))
  return most > 0 ? kind : null
}

function recentCounts(logs: readonly EventLog[], types: number, now: number): Uint32Array {
  const counts = new Uint32Array(types)
  for (const log of logs)
    for (let index = 0; index < log.people; index++) {
      if (log.hidden?.[index]) continue
      // A person's rows are in order of time: from the newest back.
      for (let row = log.offsets[index + 1] - 1; row >= log.offsets[index] && log.time[row] > now - MONTH_MS; row--)
        if (log.time[row] <= now) counts[log.type[row]]++
    }
  return counts
}

/** The commonest values of a property, lists by their elements, that contain a text in any case. */
export function commonValues(
  schema: LogSchema,
  logs: readonly EventLog[],
  property: PropertyRef,
  search: string,
  limit: number,
): { value: CodedValue | number; count: number }[] {
  const found = placeOf(schema, property)
  if (!found) return []
  const counts = new Float64Array(found.dictionary.size)
  const numbers = new Map<number, number>()
  for (const column of columnsOf(found.of, found.code, logs)) {
    column.codes?.forEach((code) => {
      if (code > 0) counts[code]++
    })
    column.numbers?.forEach((number) => {
      if (number === number && numbers.size < 10_000) numbers.set(number, (numbers.get(number) ?? 0) + 1)
    })
  }
  for (const [list, elements] of found.dictionary.elements)
    for (const element of elements) counts[element] += counts[list]
  const wanted = search.toLowerCase()
  const values: { value: CodedValue | number; count: number }[] = []
  found.dictionary.values.forEach((value, code) => {
    if (value === null || Array.isArray(value) || counts[code] === 0) return
    if (wanted === '' || String(value).toLowerCase().includes(wanted)) values.push({ value, count: counts[code] })
  })
  for (const [value, count] of numbers) if (String(value).includes(wanted)) values.push({ value, count })
  return values.sort((a, b) => b.count - a.count).slice(0, limit)
}

function placeOf(schema: LogSchema, property: PropertyRef) {
  if (property.of === 'source') return { of: 'source' as const, code: 0, dictionary: schema.sources }
  const code = property.of === 'event' ? schema.propertyCode(property.name) : schema.profileCode(property.name)
  if (code === undefined) return null
  const info: PropertyInfo = (property.of === 'event' ? schema.properties : schema.profile)[code]
  return { of: property.of, code, dictionary: info.dictionary }
}

function columnsOf(of: PropertyRef['of'], code: number, logs: readonly EventLog[]): Column[] {
  if (of === 'source') return logs.map((log) => ({ codes: log.source, numbers: null, dates: null }))
  if (of === 'person') return logs[0]?.profiles[code] ? [logs[0].profiles[code]] : []
  return logs.flatMap((log) => log.columns.flatMap((byProperty) => byProperty.get(code) ?? []))
}
