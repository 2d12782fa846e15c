import type { CodedValue, Values } from '../../core/log/dictionary.js'
import type { Column, EventLog, ProfileColumn } from '../../core/log/log.js'
import type { Schema } from '../../core/log/schema.js'
import {
  hiddenRows,
  noUsage,
  usageOfProperties,
  usageOfTypes,
  valueTest,
  type TypeUsage,
  type Usage,
} from '../../core/log/usage.js'
import type { ValueKind } from '../../core/log/values.js'
import { sessionProperties } from '../../core/sessions/properties.js'
import type { Combined, Derived, Recipe } from '../../core/made/definitions.js'
import { inputsOf } from '../../core/made/refs.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { catalogStore, type EventTypeRow, type PropertyRow, type State } from '../store/catalog.js'
import { STEP, type Steps } from '../../core/steps.js'
import type { Db } from '../store/database.js'
import { mendingStore } from '../store/mending.js'

export interface EventEntry {
  name: string
  /** what it is called in sentences */
  label: string
  description: string
  /** what people call it otherwise */
  synonyms: string[]
  passive: boolean
  /** left out of choosers, save behind a switch: deprecated, hidden, or counted as another event */
  deprecated: boolean
  combined: boolean
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
  label: string
  description: string
  synonyms: string[]
  kind: ValueKind
  /** worked out from others */
  made: boolean
  /** by channel rules: where people came from */
  channels?: true
  deprecated: boolean
  /** a few of the commonest values, as text, for searching and recognising */
  samples: string[]
  /** of a profile's: whether what somebody had has changed in the course of time */
  changes: boolean
}

/** What there is to ask about. */
export interface Catalog {
  /** state of the data it was counted for; while events stream in, an older one than questions are answered from */
  version: number
  events: EventEntry[]
  properties: PropertyEntry[]
}

/** What is counted once for a state of the data, and shared by all that is told of it. */
export interface Counted {
  types: TypeUsage[]
  /** by event type code, then property code */
  properties: Map<number, Usage>[]
}

export function* countUsage(logs: readonly EventLog[], types: number, now: number): Steps<Counted> {
  return { types: yield* usageOfTypes(logs, types, now), properties: yield* usageOfProperties(logs, types, now) }
}

/** The kind of value that a recipe gives. */
export function kindOfRecipe(recipe: Recipe): ValueKind {
  switch (recipe.kind) {
    case 'arithmetic':
    case 'chance':
      return 'number'
    case 'date part':
      if (recipe.part === 'day' || recipe.part === 'week') return 'date'
      return recipe.part === 'weekday' || recipe.part === 'month' ? 'text' : 'number'
    case 'rules':
      return recipe.rows.length > 0 && recipe.rows.every(({ gives }) => 'number' in gives) ? 'number' : 'text'
    default:
      return 'text'
  }
}

/** So many of a property's commonest values are told of: to recognise it by, and to be named in questions. */
const SAMPLES = 12

export function* readCatalog(
  db: Db,
  schema: Schema,
  logs: readonly EventLog[],
  counted: Counted,
): Steps<Omit<Catalog, 'version'>> {
  const store = catalogStore(db)
  const mending = mendingStore(db).get()
  const rows = store.types()
  const entries = rows.map((row) => eventEntry(row, schema, counted))
  const byName = new Map(entries.map((entry) => [entry.name, entry]))
  for (const [old, into] of Object.entries(mending.mergedEvents)) {
    const [from, to] = [byName.get(old), byName.get(into)]
    if (from && to) addInto(to, from)
  }
  const kept = entries.filter((_entry, index) => entries[index]!.events > 0 || isSpokenOf(rows[index]!))
  const events = [...kept, ...mending.combined.map((combined) => combinedEntry(combined, byName))]
  const readAs = new Map(
    mending.mergedProperties.filter(({ of }) => of === 'event').map(({ from, into }) => [from, into]),
  )
  for (const event of events)
    event.properties = [...new Set(event.properties.map((property) => readAs.get(property) ?? property))]
  const merged = new Set(mending.mergedProperties.map(({ of, from }) => `${of} ${from}`))
  const derivedNames = new Set(mending.derived.map(({ of, name }) => `${of} ${name}`))
  const properties: PropertyEntry[] = []
  for (const row of store.properties()) {
    const kind = kindOfRow(row)
    const key = `${row.scope} ${row.name}`
    if (!kind || merged.has(key) || derivedNames.has(key)) continue
    const property = { of: row.scope, name: row.name }
    const values = yield* commonValues(schema, logs, property, '', SAMPLES)
    const samples = values.map(({ value }) => String(value))
    const code = row.scope === 'person' ? schema.profileCode(row.name) : undefined
    const changes = code !== undefined && schema.profile[code]!.changing
    properties.push({ ...saidOf(row), property, kind, made: false, samples, changes, deprecated: row.state !== 'live' })
  }
  for (const derived of mending.derived) properties.push(derivedEntry(derived, properties))
  for (const { properties: made } of mending.combined)
    for (const { name, from } of made)
      if (!properties.some((entry) => entry.property.of === 'event' && entry.name === name)) {
        const sources = Object.values(from)
        const kind = properties.find((entry) => sources.includes(entry.name))?.kind ?? 'text'
        const property = { of: 'event' as const, name }
        const description = `Made from ${sources.join(', ')}`
        properties.push({
          property,
          name,
          label: '',
          description,
          synonyms: [],
          kind,
          made: true,
          samples: [],
          changes: false,
          deprecated: false,
        })
      }
  for (const { name, kind, description, synonyms } of sessionProperties)
    if (!properties.some((entry) => entry.property.of === 'event' && entry.name === name))
      properties.push({
        ...{ property: { of: 'event', name }, name, label: '', description, synonyms, kind },
        ...{ made: true, changes: false, deprecated: false, samples: [] },
      })
  if (schema.sources.size > 1)
    properties.push({
      property: { of: 'source' },
      name: 'source',
      label: '',
      description: 'Where the event came from',
      synonyms: [],
      kind: 'text',
      made: false,
      changes: false,
      deprecated: false,
      samples: schema.sources.values.slice(1, 1 + SAMPLES).map(String),
    })
  return { events, properties: properties.sort((a, b) => (a.name < b.name ? -1 : 1)) }
}

/** Whether there is more to an event's name than that it once arrived. */
const isSpokenOf = ({ planned, state, description, display, owner, synonyms, merged_into }: EventTypeRow) =>
  planned === 1 || state !== 'live' || merged_into !== null || description + display + owner + synonyms !== ''

function eventEntry(row: EventTypeRow, schema: Schema, counted: Counted): EventEntry {
  const code = schema.typeCode(row.name) ?? -1
  const usage = counted.types[code] ?? noUsage()
  const carried = [...(counted.properties[code] ?? [])].filter(([, { events }]) => events > 0)
  return {
    name: row.name,
    label: row.display || row.name,
    description: row.description,
    synonyms: synonymsOf(row),
    passive: row.passive === 1,
    deprecated: row.state !== 'live' || row.merged_into !== null,
    combined: false,
    events: usage.events,
    recent: usage.recent,
    firstMs: usage.firstMs,
    lastMs: usage.lastMs,
    properties: carried.sort((a, b) => b[1].events - a[1].events).map(([property]) => schema.properties[property].name),
  }
}

/** An event counts with those merged into it. */
function addInto(to: EventEntry, from: EventEntry): void {
  to.events += from.events
  to.recent += from.recent
  to.firstMs = least(to.firstMs, from.firstMs)
  to.lastMs = to.lastMs === null ? from.lastMs : Math.max(to.lastMs, from.lastMs ?? -Infinity)
  to.properties = [...new Set([...to.properties, ...from.properties])]
}

function least(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b)
}

function combinedEntry(
  { name, description, events, properties }: Combined,
  byName: Map<string, EventEntry>,
): EventEntry {
  const entry: EventEntry = {
    ...{ name, label: name, synonyms: [], passive: false, deprecated: false, combined: true, events: 0, recent: 0 },
    ...{ description: description || `${events.join(', ')}, counted as one`, firstMs: null, lastMs: null },
    properties: properties.map((property) => property.name),
  }
  for (const event of events) {
    const part = byName.get(event)
    if (part) addInto(entry, part)
  }
  return entry
}

function derivedEntry({ of, name, description, recipe, channels }: Derived, others: PropertyEntry[]): PropertyEntry {
  const texts = recipe.kind === 'rules' ? recipe.rows.flatMap(({ gives }) => ('text' in gives ? [gives.text] : [])) : []
  const inputs = inputsOf(recipe, of).map((ref) => (ref.of === 'source' ? 'source' : ref.name))
  const kind = kindOfRecipe(recipe)
  // A look-up or rule that hands on a property's value gives what that is.
  const read = others.filter((entry) => inputs.includes(entry.name))
  const known = read.map((entry) => entry.kind)
  const given = read.find((entry) => entry.property.of === 'event')
  return {
    property: { of, name },
    name,
    label: '',
    synonyms: [],
    description: description || madeWords(recipe, inputs, channels === true),
    kind: handsOn(recipe) ? (known[0] ?? kind) : kind,
    made: true,
    ...(channels ? { channels: true as const } : {}),
    changes:
      recipe.kind === 'touch' ||
      (of === 'person' && others.some((entry) => entry.changes && inputs.includes(entry.name))),
    deprecated: false,
    samples: recipe.kind === 'touch' ? (given?.samples ?? []) : [...new Set(texts)].slice(0, SAMPLES),
  }
}

/** What is said of a made property that nobody described. */
function madeWords(recipe: Recipe, inputs: readonly string[], channels: boolean): string {
  if (channels) return 'Channel rules'
  if (recipe.kind === 'chance')
    return recipe.part === 'score'
      ? 'How likely they are to, in percent, as of now'
      : 'The tenth they stand in, 1 the likeliest, as of now'
  return `Worked out from ${inputs.join(', ') || 'the time'}`
}

/** Whether what it gives is a property's own value. */
const handsOn = (recipe: Recipe) =>
  recipe.kind === 'touch' || (recipe.kind === 'look-up' && recipe.otherwise === 'as it is')

const synonymsOf = ({ synonyms }: { synonyms: string }) =>
  synonyms
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean)

function saidOf(row: PropertyRow) {
  return { name: row.name, label: row.display, description: row.description, synonyms: synonymsOf(row) }
}

/** The kind that most values are of; null while there are none. */
export function kindOfRow(row: PropertyRow): ValueKind | null {
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

/** An event type in the catalog, as it arrives. */
export interface EventDetail extends Usage {
  name: string
  display: string
  synonyms: string
  description: string
  owner: string
  state: State | 'planned'
  passive: boolean
  planned: boolean
  policy: string | null
  mergedInto: string | null
  sources: { name: string | null; events: number }[]
  properties: { name: string; events: number }[]
}

export interface PropertyDetail extends Usage {
  of: 'event' | 'person'
  name: string
  display: string
  synonyms: string
  description: string
  owner: string
  state: State | 'planned'
  mergedInto: string | null
  kind: ValueKind | null
  /** values of each kind, where they are of several */
  kinds: { kind: ValueKind; values: number }[]
  /** share of the events (of the types that carry it) or people that have a value */
  share: number | null
  carriedBy: { event: string; events: number; share: number }[]
  values: { value: string; count: number }[]
}

export interface CatalogDetail {
  events: EventDetail[]
  properties: PropertyDetail[]
  people: number
}

export function* readCatalogDetail(
  db: Db,
  schema: Schema,
  logs: readonly EventLog[],
  counted: Counted,
  seenPeople: number,
): Steps<CatalogDetail> {
  const store = catalogStore(db)
  const sources = (of: TypeUsage) =>
    [...of.sources]
      .map(([code, events]) => ({ name: code === 0 ? null : String(schema.sources.values[code]), events }))
      .sort((a, b) => b.events - a.events)
  const events = store.types().map((row): EventDetail => {
    const code = schema.typeCode(row.name) ?? -1
    const { sources: from, ...usage } = counted.types[code] ?? { ...noUsage(), sources: new Map<number, number>() }
    const carried = [...(counted.properties[code] ?? [])].filter(([, of]) => of.events > 0)
    return {
      ...usage,
      ...{ name: row.name, display: row.display, synonyms: row.synonyms },
      ...{ description: row.description, owner: row.owner },
      ...{ state: row.state === 'live' && usage.events === 0 ? 'planned' : row.state, passive: row.passive === 1 },
      ...{ planned: row.planned === 1, policy: row.policy, mergedInto: row.merged_into },
      sources: sources({ ...usage, sources: from }),
      properties: carried
        .map(([property, of]) => ({ name: schema.properties[property].name, events: of.events }))
        .sort((a, b) => b.events - a.events),
    }
  })
  const properties: PropertyDetail[] = []
  for (const row of store.properties()) properties.push(yield* propertyDetail(row, schema, logs, counted, seenPeople))
  return {
    events: events.filter((event) => isWorthShowing(event) || event.planned || event.policy !== null),
    properties: properties.filter(isWorthShowing),
    people: seenPeople,
  }
}

/** Of what was taken back no name stays, unless somebody has said something of it. */
function isWorthShowing(
  row: Pick<EventDetail, 'events' | 'description' | 'display' | 'owner' | 'synonyms' | 'mergedInto' | 'state'>,
) {
  const said = row.description + row.display + row.owner + row.synonyms
  return row.events > 0 || said !== '' || row.mergedInto !== null || (row.state !== 'planned' && row.state !== 'live')
}

function* propertyDetail(
  row: PropertyRow,
  schema: Schema,
  logs: readonly EventLog[],
  counted: Counted,
  seenPeople: number,
): Steps<PropertyDetail> {
  const { scope: of, name } = row
  const usage = noUsage()
  const carriedBy: PropertyDetail['carriedBy'] = []
  let possible = 0
  if (of === 'event') {
    const code = schema.propertyCode(name) ?? -1
    counted.properties.forEach((ofType, type) => {
      const found = ofType.get(code)
      if (!found || found.events === 0) return
      const all = counted.types[type].events
      possible += all
      carriedBy.push({ event: schema.types[type].name, events: found.events, share: found.events / all })
      addUsage(usage, found)
    })
  } else {
    possible = seenPeople
    usage.events = peopleWith(logs, schema.profileCode(name))
  }
  const values = yield* rawValues(schema, logs, { of, name }, '', 5)
  const kinds = (['text', 'number', 'boolean', 'date', 'list'] as const)
    .map((kind, i) => ({ kind, values: [row.texts, row.numbers, row.booleans, row.dates, row.lists][i] }))
    .filter(({ values }) => values > 0)
  return {
    ...usage,
    ...{ of, name, display: row.display, synonyms: row.synonyms },
    ...{ description: row.description, owner: row.owner },
    state: row.state === 'live' && usage.events === 0 ? 'planned' : row.state,
    mergedInto: row.merged_into,
    kind: kindOfRow(row),
    kinds,
    share: possible > 0 ? usage.events / possible : null,
    carriedBy: carriedBy.sort((a, b) => b.events - a.events),
    values: values.map(({ value, count }) => ({ value: String(value), count })),
  }
}

function addUsage(to: Usage, from: Usage): void {
  to.events += from.events
  to.recent += from.recent
  to.firstMs = least(to.firstMs, from.firstMs)
  to.lastMs = to.lastMs === null ? from.lastMs : Math.max(to.lastMs, from.lastMs ?? -Infinity)
  from.weeks.forEach((events, week) => (to.weeks[week] += events))
}

function peopleWith(logs: readonly EventLog[], code: number | undefined): number {
  let count = 0
  for (const log of logs) {
    const column = code === undefined ? undefined : log.profiles[code]
    if (!column) continue
    const has = valueTest(column)
    log.person.forEach((person, index) => {
      if (!log.hidden?.[index] && has(person)) count++
    })
  }
  return count
}

export interface ValueCount {
  value: CodedValue | number
  count: number
}

/** A column with which of its slots count; null = all. */
interface Counting {
  column: Column
  counts: ((slot: number) => boolean) | null
}

/** The commonest values of a property, lists by their elements, that contain a text in any case. Made columns must be ready. */
export function* commonValues(
  schema: Schema,
  logs: readonly EventLog[],
  property: PropertyRef,
  search: string,
  limit: number,
): Steps<ValueCount[]> {
  const made = property.of === 'source' ? undefined : schema.madeCode(property.of, property.name)
  if (made === undefined) return yield* rawValues(schema, logs, property, search, limit)
  const { dictionary, of } = schema.made[made]
  if (of === 'event')
    return yield* countValues(
      dictionary,
      ofEvents(logs, (log, type) => log.made[type]?.get(made)),
      search,
      limit,
    )
  const column = logs[0]?.madeProfiles.get(made)
  return yield* countValues(dictionary, column ? [ofPeople(column)] : [], search, limit)
}

function* rawValues(
  schema: Schema,
  logs: readonly EventLog[],
  property: PropertyRef,
  search: string,
  limit: number,
): Steps<ValueCount[]> {
  if (property.of === 'source') {
    const columns = logs.map((log): Counting => {
      const out = hiddenRows(log)
      return { column: { codes: log.source, numbers: null, dates: null }, counts: out && ((row) => out[row] === 0) }
    })
    return yield* countValues(schema.sources, columns, search, limit)
  }
  const code = property.of === 'event' ? schema.propertyCode(property.name) : schema.profileCode(property.name)
  if (code === undefined) return []
  if (property.of === 'person') {
    const column = logs[0]?.profiles[code]
    return yield* countValues(schema.profile[code].dictionary, column ? [ofPeople(column)] : [], search, limit)
  }
  const columns = ofEvents(logs, (log, type) => log.columns[type]?.get(code))
  return yield* countValues(schema.properties[code].dictionary, columns, search, limit)
}

/** Of people every value that they ever had counts, each once. */
function ofPeople(column: ProfileColumn): Counting {
  const { past } = column
  return { column, counts: past && ((slot) => slot >= past.base || past.starts[slot] === past.starts[slot + 1]) }
}

/** An event property's columns over all types; rows of people who stand in a newer block do not count. */
function ofEvents(
  logs: readonly EventLog[],
  columnOf: (log: EventLog, type: number) => Column | undefined,
): Counting[] {
  return logs.flatMap((log) => {
    const out = hiddenRows(log)
    return log.rowsOfType.flatMap((rows, type): Counting[] => {
      const column = columnOf(log, type)
      return column ? [{ column, counts: out && ((slot) => out[rows[slot]] === 0) }] : []
    })
  })
}

function* countValues(
  dictionary: Values,
  columns: readonly Counting[],
  search: string,
  limit: number,
): Steps<ValueCount[]> {
  const counts = new Float64Array(dictionary.size)
  const numbers = new Map<number, number>()
  for (const { column, counts: does } of columns) {
    const { codes, numbers: found } = column
    for (let slot = 0; codes && slot < codes.length; slot++) {
      if (slot % STEP === STEP - 1) yield
      const code = codes[slot]!
      if (code > 0 && (!does || does(slot))) counts[code]!++
    }
    for (let slot = 0; found && slot < found.length; slot++) {
      if (slot % STEP === STEP - 1) yield
      const number = found[slot]!
      if (number === number && numbers.size < 10_000 && (!does || does(slot)))
        numbers.set(number, (numbers.get(number) ?? 0) + 1)
    }
  }
  for (const [list, elements] of dictionary.elements) for (const element of elements) counts[element]! += counts[list]!
  const wanted = search.toLowerCase()
  const values: ValueCount[] = []
  for (let code = 1; code < counts.length; code++) {
    if (code % STEP === STEP - 1) yield
    const value = dictionary.values[code] ?? null
    if (value === null || Array.isArray(value) || counts[code] === 0) continue
    if (wanted === '' || String(value).toLowerCase().includes(wanted))
      keepMost(values, { value, count: counts[code]! }, limit)
  }
  for (const [value, count] of numbers) if (String(value).includes(wanted)) keepMost(values, { value, count }, limit)
  return values
}

/** Puts a value in its place among the commonest, the first of equal ones before; there may be a million of them. */
function keepMost(values: ValueCount[], next: ValueCount, limit: number): void {
  if (values.length >= limit && next.count <= (values.at(-1)?.count ?? Infinity)) return
  let at = values.length
  while (at > 0 && values[at - 1]!.count < next.count) at--
  values.splice(at, 0, next)
  if (values.length > limit) values.pop()
}
