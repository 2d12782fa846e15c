import { findProperty, type CompileContext } from '../filters/compile.js'
import { columnOf } from '../filters/bind.js'
import type { Values } from '../log/dictionary.js'
import type { Column, EventLog } from '../log/log.js'
import { newMade } from '../log/schema.js'
import type { Fault } from '../questions/faults.js'
import type { PropertyRef } from '../questions/parts.js'
import { STEP, type Steps } from '../steps.js'
import { makeColumn, makeProfileColumn, type MadeBase } from './columns.js'
import type { Derived, Recipe } from './definitions.js'
import { bindSource, compileRecipe, textOf, type CompiledRecipe, type Maker, type MadeValue } from './evaluate.js'
import { touchColumn, touchesIn, type BlockTouches } from './touches.js'
import { inputsOf } from './refs.js'

/** What a derived property would give, on the events there are. */
export interface MadePreview {
  faults: Fault[]
  /** events (or people) it is worked out for, and how many get a value */
  total: number
  valued: number
  /** it is worked out for events of every type */
  every: boolean
  /** why the others are gaps, the commonest first */
  gaps: { reason: string; count: number }[]
  /** the commonest values */
  values: { text: string; count: number }[]
  /** the newest few events: what was read, and what it gives; null = no value */
  samples: { event: string; inputs: { name: string; text: string | null }[]; value: string | null }[]
}

const MOST_VALUES = 12
const SAMPLES = 8
/** So many different values are told apart; those that come later are too rare to be among the commonest. */
const MOST_DISTINCT = 5000

/**
 * Works a definition out without keeping it. What it is made from must have been made ready before.
 * An event's property is worked out for the event types that carry any of what it reads; for all, where it reads
 * nothing of the event's own properties.
 */
export function* previewMade(definition: Derived, base: MadeBase): Steps<MadePreview> {
  const { recipe, of } = definition
  const info = newMade(definition.name, of, recipe)
  const context = { ...base, schema: base.schema.asMade(), faults: [] }
  const compiled = compileRecipe(info, context)
  const result: MadePreview = {
    faults: context.faults,
    total: 0,
    valued: 0,
    every: true,
    gaps: [],
    values: [],
    samples: [],
  }
  const counts = new Map<string, number>()
  const gaps = new Map<string, number>()
  const zone = base.calendar.zone
  const explain = gapReader(recipe, of, context)
  const newest: { at: number; log: EventLog; type: number; slot: number; value: MadeValue }[] = []

  const take = (log: EventLog, type: number, slot: number, row: number, person: number, column: Column) => {
    result.total++
    const value = read(column, slot, info.dictionary)
    if (value === null) add(gaps, explain(log, type, row, slot, person))
    else {
      result.valued++
      for (const text of Array.isArray(value) ? (value as string[]) : [textOf(value, zone)])
        if (counts.has(text) || counts.size < MOST_DISTINCT) add(counts, text)
    }
    const at = row < 0 ? person : log.time[row]
    if (newest.length === SAMPLES && at <= newest[SAMPLES - 1].at) return
    newest.push({ at, log, type, slot, value })
    newest.sort((a, b) => b.at - a.at)
    newest.length = Math.min(newest.length, SAMPLES)
  }

  if (of === 'person') {
    const log = base.logs[0]
    if (log) {
      const column =
        recipe.kind === 'touch'
          ? yield* touchColumn(yield* touchesOfAll(recipe.which, compiled, base), base.people, info)
          : yield* makeProfileColumn(log, base.people, info, compiled)
      const present = peopleWithEvents(base)
      for (let person = 0; person < base.people; person++) {
        if (present[person]) take(log, -1, person, -1, person, column)
        if (person % STEP === STEP - 1) yield
      }
    }
  } else {
    const own = isOfEvery(recipe, compiled) ? [] : compiled.inputs
    result.every = own.length === 0
    for (const log of base.logs)
      for (let type = 0; type < log.rowsOfType.length; type++) {
        if (own.length > 0 && !own.some((ref) => columnOf(ref, log, type))) continue
        const column = yield* makeColumn(log, type, info, compiled)
        yield* eachSlot(log, type, base.now, (slot, row, person) => take(log, type, slot, row, person, column))
      }
  }

  const inputs = inputsOf(recipe, of)
  const readers = compiled.byTime && inputs.length === 0 ? [] : inputs
  // What a person's touches were is not read off the person.
  const shown = recipe.kind === 'touch' ? [] : newest
  result.samples = shown.map(({ log, type, slot, value }) => {
    const row = type < 0 ? -1 : log.rowsOfType[type][slot]
    const person = type < 0 ? slot : personOf(log, row)
    return {
      event: type < 0 ? 'person' : base.schema.types[type].name,
      inputs: readers.map((ref) => {
        const maker = bindSource(sourceOf(ref, context), log, type, { ms: Infinity })
        const got = maker(row, slot, person)
        return { name: ref.of === 'source' ? 'source' : ref.name, text: got === null ? null : textOf(got, zone) }
      }),
      value: value === null ? null : textOf(value, zone),
    }
  })
  result.values = ranked(counts, MOST_VALUES).map(([text, count]) => ({ text, count }))
  result.gaps = ranked(gaps, 6).map(([reason, count]) => ({ reason, count }))
  return result
}

/** Whether events of every type can get a value, whatever they carry. */
function isOfEvery(recipe: Recipe, { inputs }: CompiledRecipe): boolean {
  const carried = inputs.every((ref) => ref.of === 'event' || ref.of === 'made')
  return !carried || (recipe.kind === 'rules' && recipe.otherwise !== undefined)
}

function* touchesOfAll(which: 'first' | 'latest', compiled: CompiledRecipe, base: MadeBase): Steps<BlockTouches[]> {
  const blocks: BlockTouches[] = []
  for (const log of base.logs) blocks.push(yield* touchesIn(log, compiled, which, base.now))
  return blocks
}

function read({ codes, numbers, dates }: Column, slot: number, dictionary: Values): MadeValue {
  if (codes && codes[slot] > 0) return dictionary.values[codes[slot]]
  if (numbers && numbers[slot] === numbers[slot]) return numbers[slot]
  return dates && dates[slot] === dates[slot] ? { ms: dates[slot] } : null
}

/** What is read, whatever becomes of what is not known. */
const sourceOf = (ref: PropertyRef, { schema }: CompileContext) => findProperty(ref, { schema, faults: [] }, [])

/** Says why an event has no value. */
function gapReader(recipe: Recipe, of: 'event' | 'person', context: CompileContext) {
  const inputs = inputsOf(recipe, of).map((ref) => ({ ref, source: sourceOf(ref, context) }))
  let bound: { log: EventLog; type: number; makers: Maker[] } | null = null
  return (log: EventLog, type: number, row: number, slot: number, person: number): string => {
    if (recipe.kind === 'rules') return 'no rule holds'
    if (recipe.kind === 'touch') return 'none of their events carries it'
    if (bound?.log !== log || bound.type !== type)
      bound = { log, type, makers: inputs.map(({ source }) => bindSource(source, log, type, { ms: Infinity })) }
    for (const [i, { ref }] of inputs.entries()) {
      const name = ref.of === 'source' ? 'the source' : ref.name
      const value = bound.makers[i](row, slot, person)
      if (value === null) return `${name} has no value`
      if (recipe.kind === 'arithmetic' && typeof value !== 'number') return `${name} is not a number there`
      if (recipe.kind === 'link part' && typeof value !== 'string') return `${name} is not a text there`
      if (recipe.kind === 'date part' && (typeof value !== 'object' || Array.isArray(value)))
        return `${name} is not a date there`
    }
    if (recipe.kind === 'arithmetic') return 'it would divide by zero'
    return recipe.kind === 'link part' ? `the link has no ${recipe.part}` : 'the value is not in the list'
  }
}

/** How much each row of a rule set catches; the last is the fallback. */
export interface RuleCount {
  events: number
  people: number
}

/** What a rule set does with all events there are. */
export interface RulesCaught {
  /** by row, the fallback last */
  rows: RuleCount[]
  /** of each property that the rows read: the commonest values of events that only the fallback caught */
  left: { property: PropertyRef; values: { text: string; count: number }[] }[]
}

const MOST_LEFT = 8

/** Counts, over all events up to now, which row of a rule set holds first, and what is left to the fallback. */
export function* countRules(recipe: Extract<Recipe, { kind: 'rules' }>, base: MadeBase): Steps<RulesCaught> {
  const numbered: Recipe = {
    kind: 'rules',
    rows: recipe.rows.map(({ where }, i) => ({ where, gives: { number: i } })),
    otherwise: { number: recipe.rows.length },
  }
  const info = newMade('', 'event', numbered)
  const context = { ...base, schema: base.schema.asMade(), faults: [] }
  const compiled = compileRecipe(info, context)
  const inputs = inputsOf({ kind: 'rules', rows: recipe.rows }, 'event')
  const left = inputs.map(() => new Map<string, number>())
  const counts: RuleCount[] = Array.from({ length: recipe.rows.length + 1 }, () => ({ events: 0, people: 0 }))
  const last = new Int32Array(counts.length).fill(-1)
  for (const log of base.logs) {
    const columns: Column['numbers'][] = []
    for (let type = 0; type < log.rowsOfType.length; type++)
      columns.push((yield* makeColumn(log, type, info, compiled)).numbers)
    const readers = log.rowsOfType.map((_rows, type) =>
      inputs.map((ref) => bindSource(sourceOf(ref, context), log, type)),
    )
    for (let index = 0, counted = 0; index < log.people; index++) {
      if (log.hidden?.[index]) continue
      counted += log.offsets[index + 1] - log.offsets[index]
      if (counted > STEP) {
        counted = 0
        yield
      }
      const person = log.person[index]
      for (let row = log.offsets[index]; row < log.offsets[index + 1] && log.time[row] <= base.now; row++) {
        const rule = columns[log.type[row]]![log.slot[row]]
        counts[rule].events++
        if (rule === recipe.rows.length)
          for (let i = 0; i < left.length; i++) {
            const value = readers[log.type[row]][i](row, log.slot[row], person)
            if (typeof value === 'string' && (left[i].size < MOST_DISTINCT || left[i].has(value))) add(left[i], value)
          }
        if (last[rule] !== person) {
          last[rule] = person
          counts[rule].people++
        }
      }
    }
  }
  const uncaught = inputs.map((property, i) => ({
    property,
    values: ranked(left[i], MOST_LEFT).map(([text, count]) => ({ text, count })),
  }))
  return { rows: counts, left: uncaught.filter(({ values }) => values.length > 0) }
}

function* eachSlot(
  log: EventLog,
  type: number,
  now: number,
  visit: (slot: number, row: number, person: number) => void,
): Steps<void> {
  const rows = log.rowsOfType[type]
  let index = 0
  for (let slot = 0; slot < rows.length; slot++) {
    // What is done with each is put together from texts: an eighth of a step is enough.
    if (slot % (STEP / 8) === STEP / 8 - 1) yield
    const row = rows[slot]
    while (log.offsets[index + 1] <= row) index++
    if (log.hidden?.[index] || log.time[row] > now) continue
    visit(slot, row, log.person[index])
  }
}

function peopleWithEvents({ logs, people }: MadeBase): Uint8Array {
  const present = new Uint8Array(people)
  for (const log of logs) log.person.forEach((person, index) => !log.hidden?.[index] && (present[person] = 1))
  return present
}

function personOf(log: EventLog, row: number): number {
  let index = 0
  while (log.offsets[index + 1] <= row) index++
  return log.person[index]
}

function add(counts: Map<string, number>, key: string): void {
  counts.set(key, (counts.get(key) ?? 0) + 1)
}

function ranked(counts: Map<string, number>, most: number): [string, number][] {
  return [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).slice(0, most)
}
