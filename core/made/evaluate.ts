import { own } from '../names.js'
import { Temporal } from 'temporal-polyfill'
import { bindTest, columnOf, isOfPerson, pastOf, type AsOf, type RowTest } from '../filters/bind.js'
import {
  compileFilter,
  eachColumn,
  findProperty,
  type ColumnRef,
  type CompileContext,
  type Test,
} from '../filters/compile.js'
import { parseFormula, type Formula } from '../formula/formula.js'
import type { CodedValue, Values } from '../log/dictionary.js'
import { slotAt, type Column, type EventLog } from '../log/log.js'
import type { MadeInfo } from '../log/schema.js'
import type { PropertyRef } from '../questions/parts.js'
import { planCuts } from '../sessions/cuts.js'
import { bindPart } from '../sessions/parts.js'
import { LONG_MONTHS } from '../words/format.js'
import type { dateParts, Given, InputRef, linkParts } from './definitions.js'

/** A value while it is being made: a date-time is its moment in epoch ms. */
export type MadeValue = CodedValue | number | Moment | null
export interface Moment {
  ms: number
}

/** A value source with its names resolved: a column with its dictionary, or the event's own time. */
type Source = { column: ColumnRef; dictionary: Values } | 'time'

/** Works out the value of one event (or person, where row and slot are -1). */
export type Maker = (row: number, slot: number, person: number) => MadeValue

/**
 * A recipe with its names resolved, once for each making of columns. `bind` ties it to an event type's columns, or to
 * the people alone, as they were `asOf`, where type is -1.
 */
export interface CompiledRecipe {
  /** the columns it reads */
  inputs: ColumnRef[]
  /** it reads the event's time as well, so no two events need be alike */
  byTime: boolean
  bind(log: EventLog, type: number, asOf?: AsOf): Maker
}

/**
 * Resolves a recipe's names. What is not known is added to the faults and read as no value, so that the rest of the
 * recipe still works.
 * @param context with `newestMs` of the newest event, epoch ms, where that is known
 */
export function compileRecipe(info: MadeInfo, context: CompileContext & { newestMs?: number | null }): CompiledRecipe {
  const { recipe, of } = info
  const { schema, faults } = context
  const source = (ref: InputRef, path: (string | number)[]): Source | null => {
    if (ref.of === 'time') return 'time'
    const found = findProperty(ref, context, path)
    return found && { column: found.column, dictionary: found.dictionary }
  }
  switch (recipe.kind) {
    case 'arithmetic': {
      const formula = parseFormula(recipe.formula)
      if ('fault' in formula) {
        faults.push({ path: ['formula'], code: 'invalid', got: recipe.formula, want: formula.fault.message })
        return NOTHING
      }
      return compileArithmetic(
        formula,
        formula.names.map((name) => numberSource(name, of, context)),
      )
    }
    case 'joined': {
      const parts = recipe.parts.map((part, i) =>
        'text' in part ? part.text : source(part.property, ['parts', i, 'property']),
      )
      return fromSources(
        parts.filter((part) => typeof part !== 'string'),
        (log, type, asOf) => {
          const makers = parts.map((part) =>
            typeof part === 'string' ? () => part : bindSource(part, log, type, asOf),
          )
          return (row, slot, person) => {
            let text = ''
            for (const maker of makers) {
              const value = maker(row, slot, person)
              if (value === null) return null
              text += textOf(value, context.calendar.zone)
            }
            return text === '' ? null : text
          }
        },
      )
    }
    case 'date part': {
      const input = source(recipe.input, ['input'])
      return fromSources([input], (log, type, asOf) => {
        const read = bindSource(input, log, type, asOf)
        const part = datePartReader(recipe.part, context.calendar.zone, context.calendar.firstDayOfWeek)
        return (row, slot, person) => {
          const value = read(row, slot, person)
          return isMoment(value) ? part(value.ms) : null
        }
      })
    }
    case 'link part': {
      const input = source(recipe.input, ['input'])
      return fromSources([input], (log, type, asOf) => {
        const read = bindSource(input, log, type, asOf)
        return (row, slot, person) => {
          const value = read(row, slot, person)
          return typeof value === 'string' ? linkPart(value, recipe.part, recipe.key ?? '') : null
        }
      })
    }
    case 'look-up': {
      const input = source(recipe.input, ['input'])
      const table = new Map(recipe.table)
      const { otherwise } = recipe
      return fromSources([input], (log, type, asOf) => {
        const read = bindSource(input, log, type, asOf)
        return (row, slot, person) => {
          const value = read(row, slot, person)
          if (value === null) return null
          const found = table.get(textOf(value, context.calendar.zone))
          if (found !== undefined) return found === '' ? null : found
          return otherwise === 'as it is' ? value : otherwise === 'no value' ? null : otherwise.text
        }
      })
    }
    // People are scored over all of them, not one by one.
    case 'chance':
      return NOTHING
    case 'touch':
      return compileTouch(recipe.property, source(recipe.property, ['property']), context)
    case 'rules': {
      const rows = recipe.rows.map(({ where, gives }, i) => ({
        test: compileFilter(where, context, ['rows', i, 'where']),
        gives: resolveGiven(gives, (ref) => source(ref, ['rows', i, 'gives'])),
      }))
      const otherwise = recipe.otherwise
        ? resolveGiven(recipe.otherwise, (ref) => source(ref, ['otherwise']))
        : (null as null)
      return compileRules(rows, otherwise)
    }
    case 'first of': {
      const known = of === 'event' ? schema.properties : schema.profile
      const sources = recipe.names.flatMap((name): Source[] => {
        const code = of === 'event' ? schema.propertyCode(name) : schema.profileCode(name)
        if (code === undefined) return []
        const then = of === 'person' && known[code].changing
        return [{ column: { of: then ? 'then' : of, code }, dictionary: known[code].dictionary }]
      })
      return fromSources(sources, (log, type, asOf) => {
        const readers = sources.map((each) => bindSource(each, log, type, asOf))
        return (row, slot, person) => {
          for (const read of readers) {
            const value = read(row, slot, person)
            if (value !== null) return value
          }
          return null
        }
      })
    }
    case 'session': {
      const plan = planCuts(context.calendar.sessions, schema)
      const { now, newestMs } = context
      const seenUntil = typeof newestMs === 'number' && newestMs <= now ? Infinity : now
      return {
        inputs: [],
        byTime: true,
        bind: (log) => bindPart(recipe.part, log, schema, plan, seenUntil),
      }
    }
    case 'by event': {
      const sourceOf = (type: number): Source | null => {
        const raw = schema.types[type].name
        const name = own(recipe.from, raw) ?? own(recipe.from, schema.currentName(raw)) ?? info.name
        const code = schema.propertyCode(name)
        return code === undefined
          ? null
          : { column: { of: 'event', code }, dictionary: schema.properties[code].dictionary }
      }
      const codes = [...new Set([...Object.values(recipe.from), info.name])].flatMap(
        (n) => schema.propertyCode(n) ?? [],
      )
      return {
        inputs: codes.map((code) => ({ of: 'event', code })),
        byTime: false,
        bind: (log, type) => bindSource(sourceOf(type), log, type),
      }
    }
  }
}

const NOTHING: CompiledRecipe = { inputs: [], byTime: false, bind: () => () => null }

function fromSources(
  sources: readonly (Source | null)[],
  bind: (log: EventLog, type: number, asOf?: AsOf) => Maker,
): CompiledRecipe {
  const inputs = sources.flatMap((source) => (source && source !== 'time' ? source.column : []))
  return { inputs, byTime: sources.includes('time'), bind }
}

/** In an event's formula a name is the event's property, or else the person's. */
function numberSource(name: string, of: 'event' | 'person', context: CompileContext): ColumnRef | null {
  const tried: PropertyRef[] =
    of === 'event'
      ? [
          { of, name },
          { of: 'person', name },
        ]
      : [{ of, name }]
  for (const ref of tried) {
    const found = findProperty(ref, { schema: context.schema, faults: [] }, [])
    if (found) return found.column
  }
  findProperty(tried[0], context, ['formula'])
  return null
}

function compileArithmetic(formula: Formula, columns: readonly (ColumnRef | null)[]): CompiledRecipe {
  return {
    inputs: columns.filter((column) => column !== null),
    byTime: false,
    bind(log, type, asOf) {
      const readers = columns.map((ref) => bindNumber(ref, log, type, asOf))
      const values = new Float64Array(readers.length)
      return (row, slot, person) => {
        for (let i = 0; i < readers.length; i++) values[i] = readers[i](row, slot, person)
        const result = formula.evaluate(values)
        return result === result ? result : null
      }
    },
  }
}

type ResolvedGiven = { value: string | number } | { source: Source | null }

function resolveGiven(given: Given, source: (ref: PropertyRef) => Source | null): ResolvedGiven {
  if ('text' in given) return { value: given.text }
  return 'number' in given ? { value: given.number } : { source: source(given.property) }
}

function compileRules(
  rows: readonly { test: Test | null; gives: ResolvedGiven }[],
  otherwise: ResolvedGiven | null,
): CompiledRecipe {
  const inputs = new Map<string, ColumnRef>()
  const add = (ref: ColumnRef) => inputs.set(JSON.stringify(ref), ref)
  for (const { test, gives } of [...rows, ...(otherwise ? [{ test: null, gives: otherwise }] : [])]) {
    eachColumn(test, add)
    if ('source' in gives && gives.source && gives.source !== 'time') add(gives.source.column)
  }
  return {
    inputs: [...inputs.values()],
    byTime: [...rows.map(({ gives }) => gives), otherwise].some(
      (gives) => gives && 'source' in gives && gives.source === 'time',
    ),
    bind(log, type, asOf) {
      const bound: { holds: RowTest | null; make: Maker }[] = rows.map(({ test, gives }) => ({
        holds: bindTest(test, log, type, asOf),
        make: bindGiven(gives, log, type, asOf),
      }))
      const last = otherwise ? bindGiven(otherwise, log, type, asOf) : () => null
      return (row, slot, person) => {
        for (const { holds, make } of bound) if (!holds || holds(row, slot, person)) return make(row, slot, person)
        return last(row, slot, person)
      }
    },
  }
}

/** What an event touches its person with: of channel rules, that which a row other than the fallback gives. */
function compileTouch(property: PropertyRef, source: Source | null, context: CompileContext): CompiledRecipe {
  const rows = property.of === 'event' ? context.schema.channelRows('event', property.name) : null
  const test = rows && compileFilter({ any: rows.map(({ where }) => where) }, { ...context, faults: [] }, [])
  const inputs = new Map<string, ColumnRef>()
  const add = (ref: ColumnRef) => inputs.set(JSON.stringify(ref), ref)
  eachColumn(test, add)
  if (source && source !== 'time') add(source.column)
  return {
    inputs: [...inputs.values()],
    byTime: false,
    bind(log, type, asOf) {
      const read = bindSource(source, log, type, asOf)
      const isCaught = bindTest(test, log, type, asOf)
      return isCaught ? (row, slot, person) => (isCaught(row, slot, person) ? read(row, slot, person) : null) : read
    },
  }
}

function bindGiven(given: ResolvedGiven, log: EventLog, type: number, asOf?: AsOf): Maker {
  if ('source' in given) return bindSource(given.source, log, type, asOf)
  const { value } = given
  return () => value
}

/** Reads a column's value back as it was sent. */
export function bindSource(source: Source | null, log: EventLog, type: number, asOf?: AsOf): Maker {
  if (source === null) return () => null
  if (source === 'time') return (row) => ({ ms: log.time[row] })
  const column = columnOf(source.column, log, type)
  if (!column) return () => null
  const { codes, numbers, dates } = column
  const { values } = source.dictionary
  const place = placeOf(source.column, log, type, asOf)
  return (row, slot, person) => {
    const at = place(row, slot, person)
    const code = codes ? codes[at] : 0
    if (code > 0) return values[code]
    const number = numbers ? numbers[at] : NaN
    if (number === number) return number
    const date = dates ? dates[at] : NaN
    return date === date ? { ms: date } : null
  }
}

/** NaN for what is no number: a text in arithmetic is a gap. */
function bindNumber(ref: ColumnRef | null, log: EventLog, type: number, asOf?: AsOf): PlaceOf {
  const column: Column | undefined = ref ? columnOf(ref, log, type) : undefined
  const numbers = column?.numbers
  if (!numbers || !ref) return () => NaN
  const place = placeOf(ref, log, type, asOf)
  return (row, slot, person) => numbers[place(row, slot, person)]
}

type PlaceOf = (row: number, slot: number, person: number) => number

/** Where in its column a value stands. */
function placeOf(ref: ColumnRef, log: EventLog, type: number, asOf?: AsOf): PlaceOf {
  const past = pastOf(ref, log, type)
  if (past) return (_row, _slot, person) => slotAt(past, person, asOf!.ms)
  if (type < 0 || isOfPerson(ref)) return (_row, _slot, person) => person
  return ref.of === 'source' ? (row) => row : (_row, slot) => slot
}

export function isMoment(value: MadeValue): value is Moment {
  return typeof value === 'object' && value !== null && 'ms' in value
}

/** A value as text, for joining and looking up: dates as local days, where they fall on the start of one. */
export function textOf(value: Exclude<MadeValue, null>, zone: string): string {
  if (typeof value === 'string') return value
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(value)
  if (!isMoment(value)) return value.join(', ')
  const local = Temporal.Instant.fromEpochMilliseconds(value.ms).toZonedDateTimeISO(zone)
  const day = local.toPlainDate().toString()
  return local.hour === 0 && local.minute === 0 && local.second === 0
    ? day
    : `${day} ${local.toPlainTime().toString().slice(0, 5)}`
}

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/**
 * A part of a moment in a zone. Zones change their offset only on quarters of an hour, so the calendar is asked once for
 * each quarter that occurs. Days and weeks are given as days (a week by its first), so that they sort.
 */
function datePartReader(
  part: (typeof dateParts)[number],
  zone: string,
  firstDayOfWeek: number,
): (ms: number) => MadeValue {
  const known = new Map<number, MadeValue>()
  return (ms) => {
    const quarter = Math.floor(ms / 900_000)
    let value = known.get(quarter)
    if (value === undefined) {
      value = datePart(Temporal.Instant.fromEpochMilliseconds(quarter * 900_000).toZonedDateTimeISO(zone))
      known.set(quarter, value)
    }
    return value
  }

  function datePart(local: Temporal.ZonedDateTime): MadeValue {
    switch (part) {
      case 'weekday':
        return WEEKDAYS[local.dayOfWeek - 1]
      case 'hour':
        return local.hour
      case 'day of month':
        return local.day
      case 'day':
        return { ms: local.startOfDay().epochMilliseconds }
      case 'week': {
        const back = (local.dayOfWeek - firstDayOfWeek + 7) % 7
        return { ms: local.startOfDay().subtract({ days: back }).startOfDay().epochMilliseconds }
      }
      case 'month':
        return LONG_MONTHS[local.month - 1]
      case 'year':
        return local.year
    }
  }
}

const LINK = /^(?:[a-z][a-z0-9+.-]*:)?(?:\/\/(?:[^/?#@]*@)?([^/?#:]*)(?::\d*)?)?([^?#]*)(?:\?([^#]*))?/i

/** A part of a link, whole or without its host (`/pricing?plan=day`); null where it has none. */
export function linkPart(link: string, part: (typeof linkParts)[number], key: string): string | null {
  // `example.org/pricing` is meant as a host and a path.
  const bare = /^[\w-]+(\.[\w-]+)+(?:[/?#:]|$)/.test(link) && !/^[a-z][a-z0-9+.-]*:\/\//i.test(link)
  const match = LINK.exec(bare ? `//${link}` : link)
  if (!match) return null
  const [, host = '', path = '', query = ''] = match
  switch (part) {
    case 'host':
      return host.toLowerCase().replace(/^www\./, '') || null
    case 'path':
      return path || (host ? '/' : null)
    case 'first folder':
      return /^\/?([^/]+)/.exec(path)?.[1] ?? null
    case 'file ending':
      return /\.([a-z0-9]{1,10})$/i.exec(path)?.[1].toLowerCase() ?? null
    case 'query value':
      return queryValue(query, key)
  }
}

function queryValue(query: string, key: string): string | null {
  for (const pair of query.split('&')) {
    const [name, ...rest] = pair.split('=')
    if (decoded(name) === key) return decoded(rest.join('=')) || null
  }
  return null
}

function decoded(text: string): string {
  const spaced = text.replaceAll('+', ' ')
  try {
    return decodeURIComponent(spaced)
  } catch {
    return spaced // a percent sign that is none of the encoding's
  }
}
