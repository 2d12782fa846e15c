import type { AnyMark } from '../core/questions/study.js'
import { atOnce } from '../core/steps.js'
import { arrange } from '../core/log/arrange.js'
import type { EventLog } from '../core/log/log.js'
import { makeReady, MadeCache, type MadeBase } from '../core/made/columns.js'
import { Profiles } from '../core/log/profiles.js'
import { NOTHING_MENDED, type Mending } from '../core/made/definitions.js'
import { packingIds } from '../core/log/personIds.js'
import { LogSchema } from '../core/log/schema.js'
import { Staging } from '../core/log/staging.js'
import type { Value } from '../core/log/values.js'
import { passAll, passesOf } from '../core/analyses/passes.js'
import { analysisOf, type Question, type Result } from '../core/analyses/registry.js'
import type { QueryContext } from '../core/analyses/analysis.js'
import type { Fault } from '../core/questions/faults.js'
import type { SidesColumn } from '../core/segments/sides.js'
import type { Calendar } from '../core/time/range.js'
import { Temporal } from 'temporal-polyfill'

/** An event of a test: `arrival` is its place in the list. */
export interface TestEvent {
  person: string
  event: string
  time: number
  properties?: Record<string, Value>
  source?: string
}

export interface TestLog {
  log: EventLog
  schema: LogSchema
  people: string[]
  events: TestEvent[]
  profiles: Record<string, Record<string, Value>>
}

export const MONDAY = Date.UTC(2026, 0, 5)
const UNITS: Record<string, number> = { d: 86_400_000, h: 3_600_000, m: 60_000, s: 1000, ms: 1 }
export const days = (n: number) => n * 86_400_000

/** `view@0d buy@7d+1ms`: events with their time after Monday 5 January 2026, 00:00 UTC. */
export function parseEvents(person: string, text: string): TestEvent[] {
  return text
    .split(' ')
    .filter(Boolean)
    .map((word) => {
      const [event, when] = word.split('@')
      const offset = when.split('+').reduce((sum, part) => {
        const [, n, unit] = /^(-?[\d.]+)(d|h|ms|m|s)$/.exec(part)!
        return sum + Number(n) * UNITS[unit]
      }, 0)
      return { person, event, time: MONDAY + offset }
    })
}

/** A log of people with what they did, in words. */
export function eventLog(people: Record<string, string | TestEvent[]>, options: LogOptions = {}): TestLog {
  const events = Object.entries(people).flatMap(([person, did]) =>
    typeof did === 'string' ? parseEvents(person, did) : did,
  )
  return logOf(events, options)
}

interface LogOptions {
  profiles?: Record<string, Record<string, Value>>
  /** what people had in the course of time, in its order */
  pasts?: Record<string, Record<string, { since: number; value: Value | null }[]>>
  passive?: string[]
  zone?: string
  mending?: Partial<Mending>
}

export function logOf(events: TestEvent[], options: LogOptions = {}): TestLog {
  const { profiles = {}, pasts = {}, passive = [], zone = 'UTC', mending = {} } = options
  const schema = new LogSchema()
  const dayStart = (day: string) => Temporal.PlainDate.from(day).toZonedDateTime(zone).epochMilliseconds
  const staging = new Staging(schema, dayStart, 2)
  const people = [...new Set([...events.map(({ person }) => person), ...Object.keys(profiles), ...Object.keys(pasts)])]
  const numbers = new Map(people.map((person, i) => [person, i + 1]))
  events.forEach((event, i) => {
    const type = schema.addType(event.event, passive.includes(event.event))
    const source = event.source ? schema.sources.code(event.source) : 0
    const row = { arrival: i + 1, owner: numbers.get(event.person)!, type, time: event.time, source }
    staging.add(row, event.properties ?? {})
  })
  const profileColumns = new Profiles(schema, dayStart)
  for (const [person, values] of Object.entries(profiles))
    for (const [name, value] of Object.entries(values)) profileColumns.set(numbers.get(person)!, name, value)
  for (const [person, values] of Object.entries(pasts))
    for (const [name, held] of Object.entries(values))
      profileColumns.setPast(
        numbers.get(person)!,
        name,
        held.map((each) => ({ ...each, dated: null })),
      )
  schema.mend({ ...NOTHING_MENDED, ...mending })
  const rows = atOnce(staging.rows())
  const pick = { rows, which: null, person: staging.owner.subarray(0, staging.length) }
  const block = arrange([pick], people.length + 1, schema.types.length, false)
  return {
    log: {
      ...block,
      ...{ profiles: profileColumns.snapshot(people.length + 1), made: [], madeProfiles: new Map() },
      ...{ then: [], hidden: null },
    },
    schema,
    people,
    events,
    profiles,
  }
}

export const UTC: Calendar = { zone: 'UTC', firstDayOfWeek: 1 }
export const NOW = MONDAY + days(60)

export interface Asked {
  now?: number
  calendar?: Calendar
  among?: Uint8Array | null
  /** the segments side by side that the question breaks down by */
  sides?: ReadonlyMap<string, SidesColumn>
  /** what was paid for values */
  costs?: QueryContext['costs']
  /** by code of a profile property: whose first value came late */
  late?: QueryContext['late']
  /** a model that is kept */
  model?: QueryContext['model']
  /** where to cut the people into ranges, as shares of them */
  cuts?: number[]
}

/** Runs a question as the engine does, over any cut of the people. */
export function answer<R extends Result>(test: TestLog, question: Question, asked: Asked = {}): R {
  const { plan, parts, context } = scanAll(test, question, asked)
  return analysisOf(question.kind).finish(parts.at(-1), plan, question, context, parts.slice(0, -1)) as R
}

/** The names of the people counted in the marks. */
export function peopleIn(test: TestLog, question: Question, marks: AnyMark[], asked: Asked = {}): string[] {
  const { plan } = scanAll(test, question, asked, marks)
  const found = rangesOf(test, asked).flatMap((range) => [
    ...analysisOf(question.kind).select(test.log, range, plan, marks),
  ])
  return found.map((number) => test.people[number - 1])
}

/** What columns are made from, and `readyFor` of a definition is asked with. */
export function madeBase({ schema, log, people }: TestLog, { now = NOW, calendar = UTC }: Asked = {}): MadeBase {
  const newestMs = log.time.reduce((newest, ms) => Math.max(newest, ms), -Infinity)
  return { schema, logs: [log], people: people.length + 1, calendar, now, newestMs }
}

export function faultsOf(test: TestLog, question: Question): Fault[] {
  const faults: Fault[] = []
  const context = { schema: test.schema, calendar: UTC, now: NOW, among: null }
  analysisOf(question.kind).plan(question, context, faults)
  return faults
}

export function rangesOf({ log }: TestLog, { cuts = [] }: Asked) {
  const edges = [0, ...cuts.map((cut) => Math.round(cut * log.people)).sort((a, b) => a - b), log.people]
  return edges.slice(1).map((to, i) => ({ from: edges[i], to }))
}

/** All passes over any cut of the people: with marks, as far as their people can be read. */
export function scanAll(test: TestLog, question: Question, asked: Asked, marks: readonly AnyMark[] | null = null) {
  const { now = NOW, calendar = UTC, among = null, sides, costs, late, model } = asked
  const analysis = analysisOf(question.kind)
  const ids = atOnce(packingIds([undefined, ...test.people]))
  const context: QueryContext = { schema: test.schema, calendar, now, among, sides, costs, ids, late, model }
  const all = analysis.ofAnything ? [{ event: { activity: true } }] : []
  atOnce(makeReady([question, ...all], madeBase(test, { now, calendar }), new MadeCache()))
  const faults: Fault[] = []
  const first = analysis.plan(question, context, faults)
  if (faults.length > 0) throw new Error(JSON.stringify(faults))
  const scan = (plan: unknown) => {
    const pieces = analysis.pieces?.(plan) ?? null
    const ranges =
      pieces === null ? rangesOf(test, asked) : Array.from({ length: pieces }, (_, from) => ({ from, to: from + 1 }))
    const parts = ranges.map((range) => analysis.scan(test.log, range, plan))
    // Where any order will do, threads bring it about.
    return (analysis.anyOrder ? parts.reverse() : parts).reduce((a, b) => analysis.merge(a, b))
  }
  return { ...passAll(passesOf(question, first, context, marks), scan), context }
}
