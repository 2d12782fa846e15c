import { own } from '../names.js'
import type { CodedValue } from '../log/dictionary.js'
import type { Column, EventLog } from '../log/log.js'
import { personIndex } from '../log/personIndex.js'
import type { Schema } from '../log/schema.js'
import type { Value } from '../log/values.js'
import { STEP as ROWS, type Steps } from '../steps.js'
import type { Mending } from '../made/definitions.js'
import { checkValue, kindFits, propertyChecks, type PropertyCheck } from './check.js'
import type { Plan, Policy, Rule } from './plan.js'

/** Events of one type that do not fit in one way. */
export interface Problem {
  rule: Rule
  event: string
  property: string | null
  policy: Policy
  events: number
  people: number
  firstMs: number
  lastMs: number
  /** the offending values with how often they came, the commonest first */
  values: { text: string; events: number }[]
  bySource: { name: string | null; events: number }[]
  /** by the event's own property of that name; null = the event does not say */
  byVersion: { name: string | null; events: number }[]
  /** events in each of the last weeks (7 × 24 h) up to now, oldest first */
  weeks: number[]
  /** arrival numbers of the newest few, to be looked at as they came */
  samples: number[]
}

export interface QualityContext {
  schema: Schema
  plan: Plan
  mending: Mending
  /** epoch ms */
  now: number
  /** the event property that says which version of the app sent it */
  versionProperty: string
  /** how many samples each problem keeps; 5 where left out */
  samples?: number
}

/** Noting an event costs several look-ups: fewer rows make a step. */
const STEP = ROWS / 8
const WEEK_MS = 7 * 86_400_000
const WEEKS = 12
const SAMPLES = 5
const MOST_VALUES = 20

interface Tally {
  rule: Rule
  event: string
  property: string | null
  policy: Policy
  events: number
  people: Set<number>
  firstMs: number
  lastMs: number
  values: Map<string, number>
  sources: Map<number, number>
  versions: Map<string | null, number>
  weeks: number[]
  newest: { at: number; arrival: number }[]
}

/**
 * Holds all events against the tracking plan as it is now, column by column: what came before the plan was written is
 * judged as well. Problems of events whose policy is *accept* are left out. Most events first.
 */
export function* findProblems(logs: readonly EventLog[], context: QualityContext): Steps<Problem[]> {
  const { schema, plan, mending } = context
  if (plan.events.length === 0) return []
  const planned = new Map(plan.events.map((event) => [event.name, event]))
  const checks = new Map(plan.events.map((event) => [event.name, propertyChecks(event.properties)]))
  const mergedInto = new Map(
    mending.mergedProperties.filter(({ of }) => of === 'event').map(({ from, into }) => [from, into]),
  )
  const tallies = new Map<string, Tally>()
  for (const [type, { name }] of [...schema.types].entries()) {
    const event = planned.get(schema.currentName(name))
    const policy = event ? (event.policy ?? plan.policy) : (own(plan.others, name) ?? plan.policy)
    if (policy === 'accept') continue
    for (const log of logs) {
      const rows = log.rowsOfType[type]
      if (!rows || rows.length === 0) continue
      const note = noter(tallies, log, rows, type, policy, context)
      if (!event) {
        for (let slot = 0; slot < rows.length; slot++) {
          note('unknown event', name, null, slot, null)
          if (slot % STEP === STEP - 1) yield
        }
        continue
      }
      const ofEvent = checks.get(event.name)!
      yield* checkColumns(log, type, ofEvent, mergedInto, schema, (rule, property, slot, got) =>
        note(rule, name, property, slot, got),
      )
    }
  }
  return [...tallies.values()]
    .map((tally) => problemOf(tally, schema))
    .filter((problem) => problem.events > 0)
    .sort((a, b) => b.events - a.events || (a.event < b.event ? -1 : 1))
}

type Note = (rule: Rule, property: string | null, slot: number, got: string | null) => void

function* checkColumns(
  log: EventLog,
  type: number,
  checks: ReadonlyMap<string, PropertyCheck>,
  mergedInto: ReadonlyMap<string, string>,
  schema: Schema,
  note: Note,
): Steps<void> {
  const slots = log.rowsOfType[type].length
  const carried = new Map<string, Column[]>()
  for (const [code, column] of log.columns[type] ?? []) {
    const { name: sent, dictionary } = schema.properties[code]
    const name = checks.has(sent) ? sent : (mergedInto.get(sent) ?? sent)
    const check = checks.get(name)
    if (check) carried.set(name, [...(carried.get(name) ?? []), column])
    const { codes, numbers, dates } = column
    // What a code means is judged once, not for each event.
    const verdicts = dictionary.values.map((value) => verdictOfCode(value, check))
    const numbersFit = check && kindFits(check.plan.kind, 'number')
    const datesFit = check && kindFits(check.plan.kind, 'date')
    yield
    for (let slot = 0; slot < slots; slot++) {
      if (slot % STEP === STEP - 1) yield
      const number = numbers ? numbers[slot] : NaN
      const date = dates ? dates[slot] : NaN
      if (codes && codes[slot] > 0) {
        const rule = verdicts[codes[slot]]
        if (rule) note(rule, check ? name : sent, slot, textOf(dictionary.values[codes[slot]]))
      } else if (number === number) {
        const rule = !check
          ? 'unknown property'
          : !numbersFit
            ? 'wrong type'
            : check.allowed || check.pattern
              ? checkValue(number, 'number', check)
              : null
        if (rule) note(rule, check ? name : sent, slot, String(number))
      } else if (date === date) {
        // A date's own text is not kept in the column: patterns on dates are left to the check at the door.
        const rule = !check ? 'unknown property' : datesFit ? null : 'wrong type'
        if (rule) note(rule, check ? name : sent, slot, new Date(date).toISOString())
      }
    }
  }
  for (const [name, { plan }] of checks) {
    if (!plan.required) continue
    const columns = carried.get(name) ?? []
    for (let slot = 0; slot < slots; slot++) {
      if (slot % STEP === STEP - 1) yield
      if (!columns.some((column) => hasValue(column, slot))) note('missing property', name, slot, null)
    }
  }
}

function verdictOfCode(value: CodedValue | null, check: PropertyCheck | undefined): Rule | null {
  if (value === null) return null
  if (!check) return 'unknown property'
  const kind = typeof value === 'string' ? 'text' : typeof value === 'boolean' ? 'boolean' : 'list'
  return checkValue(value as Value, kind, check)
}

function hasValue({ codes, numbers, dates }: Column, slot: number): boolean {
  if (codes && codes[slot] > 0) return true
  const number = numbers ? numbers[slot] : NaN
  const date = dates ? dates[slot] : NaN
  return number === number || date === date
}

function textOf(value: CodedValue | null): string {
  return Array.isArray(value) ? value.join(', ') : String(value)
}

/** Counts one offending event of a type under its rule and property. */
function noter(
  tallies: Map<string, Tally>,
  log: EventLog,
  rows: Uint32Array,
  type: number,
  policy: Policy,
  { schema, now, versionProperty, samples = SAMPLES }: QualityContext,
) {
  const versionCode = schema.propertyCode(versionProperty)
  const versions = versionCode === undefined ? undefined : log.columns[type]?.get(versionCode)?.codes
  const versionNames = versionCode === undefined ? [] : schema.properties[versionCode].dictionary.values
  return (rule: Rule, event: string, property: string | null, slot: number, got: string | null) => {
    const row = rows[slot]
    const at = log.time[row]
    if (at > now) return
    const index = personIndex(log, row)
    if (log.hidden?.[index]) return
    const key = `${rule}\u0000${event}\u0000${property ?? ''}`
    let tally = tallies.get(key)
    if (!tally) {
      tally = {
        ...{ rule, event, property, policy, events: 0, firstMs: at, lastMs: at },
        people: new Set(),
        values: new Map(),
        sources: new Map(),
        versions: new Map(),
        weeks: new Array<number>(WEEKS).fill(0),
        newest: [],
      }
      tallies.set(key, tally)
    }
    tally.events++
    tally.people.add(log.person[index])
    tally.firstMs = Math.min(tally.firstMs, at)
    tally.lastMs = Math.max(tally.lastMs, at)
    if (got !== null && (tally.values.has(got) || tally.values.size < 1000)) addOne(tally.values, got)
    addOne(tally.sources, log.source[row])
    const version = versions && versions[slot] > 0 ? String(versionNames[versions[slot]]) : null
    addOne(tally.versions, version)
    const week = WEEKS - 1 - Math.floor((now - at) / WEEK_MS)
    if (week >= 0) tally.weeks[week]++
    keepNewest(tally.newest, { at, arrival: log.arrival[row] }, samples)
  }
}

function keepNewest(newest: Tally['newest'], sample: { at: number; arrival: number }, most: number): void {
  if (newest.length < most) {
    newest.push(sample)
    if (newest.length === most) newest.sort((a, b) => b.at - a.at)
    return
  }
  if (sample.at <= newest[most - 1].at) return
  newest[most - 1] = sample
  newest.sort((a, b) => b.at - a.at)
}

function addOne<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1)
}

function problemOf({ people, values, sources, versions, newest, ...rest }: Tally, schema: Schema): Problem {
  const ranked = <K>(counts: Map<K, number>) => [...counts].sort((a, b) => b[1] - a[1])
  return {
    ...rest,
    people: people.size,
    values: ranked(values)
      .slice(0, MOST_VALUES)
      .map(([text, events]) => ({ text, events })),
    bySource: ranked(sources).map(([code, events]) => ({
      name: code === 0 ? null : String(schema.sources.values[code]),
      events,
    })),
    byVersion: ranked(versions)
      .slice(0, MOST_VALUES)
      .map(([name, events]) => ({ name, events })),
    samples: [...newest].sort((a, b) => b.at - a.at).map(({ arrival }) => arrival),
  }
}
