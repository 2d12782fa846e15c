import { sidesKey } from '../segments/side.js'
import { Temporal } from 'temporal-polyfill'
import type { CodedValue, Values } from '../log/dictionary.js'
import type { Column } from '../log/log.js'
import type { Schema, PropertyInfo } from '../log/schema.js'
import type { Fault } from '../questions/faults.js'
import { nearest } from '../questions/faults.js'
import type { Condition, Filter, PropertyRef } from '../questions/parts.js'
import { spanOf, startOfDay, type Calendar } from '../time/range.js'
import type { SidesColumn } from '../segments/sides.js'
import type { SidesRef } from '../questions/split.js'
import { isNegated } from './operators.js'
import { compilePattern, type Pattern } from './pattern.js'

/** Where a scan reads a value from. What is made stands in columns of its own, worked out before the scan. */
export type ColumnRef =
  | { of: 'event' | 'person' | 'made' | 'made person'; code: number }
  /** of people, with a past: what they had at the moment asked about; of events that stands in columns worked out before */
  | { of: 'then' | 'made then'; code: number }
  | { of: 'source' }
  /** which segments a person is in, worked out for the query */
  | { of: 'members'; codes: NonNullable<Column['codes']> }

/** A filter as data that can be sent to a worker: lookup tables by code, bounds for numbers and dates. */
export type Test =
  | { kind: 'all' | 'any'; tests: Test[] }
  | { kind: 'never' | 'always' }
  | {
      kind: 'value'
      column: ColumnRef
      /** by code; entry 0 is used when there is no value of any kind */
      ofCode: Uint8Array
      ofNumber: NumberTest
      ofDate: NumberTest
    }

/** Holds for low ≤ x ≤ high, or outside it. */
export interface NumberTest {
  low: number
  high: number
  outside: boolean
}

const NEVER: NumberTest = { low: Infinity, high: -Infinity, outside: false }
const ALWAYS: NumberTest = { low: -Infinity, high: Infinity, outside: false }

export interface CompileContext {
  schema: Schema
  calendar: Calendar
  /** epoch ms */
  now: number
  faults: Fault[]
  /** the segments side by side that the question breaks down by, by their keys */
  sides?: ReadonlyMap<string, SidesColumn> | undefined
}

/** Compiles a filter. Unknown properties and unreadable patterns are added to the faults, with their place. */
export function compileFilter(
  filter: Filter | undefined,
  context: CompileContext,
  path: (string | number)[],
): Test | null {
  if (!filter) return null
  if ('all' in filter || 'any' in filter) {
    const kind = 'all' in filter ? 'all' : 'any'
    const inner = 'all' in filter ? filter.all : filter.any
    if (inner.length === 0) return kind === 'all' ? null : { kind: 'never' }
    const tests = inner.map((f, i) => compileFilter(f, context, [...path, kind, i]) ?? ({ kind: 'always' } as const))
    return tests.length === 1 ? tests[0] : { kind, tests }
  }
  const found = findProperty(filter.property, context, path)
  if (!found) return { kind: 'never' }
  return compileCondition(filter, found, context, path)
}

/** The codes behind a property of a definition; null, with a fault, where nothing of that name ever arrived. */
export function findProperty(
  ref: PropertyRef | SidesRef,
  { schema, faults, sides }: Pick<CompileContext, 'schema' | 'faults' | 'sides'>,
  path: (string | number)[],
): { column: ColumnRef; info: PropertyInfo | null; dictionary: Values } | null {
  if (ref.of === 'segments') {
    const found = sides?.get(sidesKey(ref))
    if (!found) return null // the segments' own faults say why
    return { column: { of: 'members', codes: found.codes }, info: null, dictionary: found.dictionary }
  }
  if (ref.of === 'source') return { column: { of: 'source' }, info: null, dictionary: schema.sources }
  const made = schema.madeCode(ref.of, ref.name)
  const code = ref.of === 'event' ? schema.propertyCode(ref.name) : schema.profileCode(ref.name)
  if (made !== undefined && !(code !== undefined && schema.made[made].recipe.kind === 'session')) {
    const info = schema.made[made]
    const of = ref.of === 'event' ? 'made' : info.growing.changing && !ref.now ? 'made then' : 'made person'
    return { column: { of, code: made }, info, dictionary: info.dictionary }
  }
  const known = ref.of === 'event' ? schema.properties : schema.profile
  if (code === undefined) {
    const want = nearest(
      ref.name,
      [...known, ...schema.made].map((info) => info.name),
    )
    faults.push({ path, code: 'unknown_property', got: ref.name, ...(want ? { want } : {}) })
    return null
  }
  const of = ref.of === 'person' && known[code].changing && !ref.now ? 'then' : ref.of
  return { column: { of, code }, info: known[code], dictionary: known[code].dictionary }
}

/** Visits every column that a compiled filter reads. */
export function eachColumn(test: Test | null, visit: (ref: ColumnRef) => void): void {
  if (!test) return
  if (test.kind === 'value') visit(test.column)
  else if ('tests' in test) for (const inner of test.tests) eachColumn(inner, visit)
}

/** Whether it is read as of a moment of people whose values may change. */
export const isMoving = (ref: ColumnRef | null): boolean => ref?.of === 'then' || ref?.of === 'made then'

function compileCondition(
  condition: Condition,
  { column, dictionary }: { column: ColumnRef; dictionary: Values },
  context: CompileContext,
  path: (string | number)[],
): Test {
  const negated = isNegated(condition.op)
  const otherwise = negated ? ALWAYS : NEVER
  const test = {
    kind: 'value' as const,
    column,
    ofCode: new Uint8Array(dictionary.size).fill(negated ? 1 : 0),
    ofNumber: otherwise,
    ofDate: otherwise,
  }
  const byText = (holds: (text: string) => boolean) => fillTable(test.ofCode, dictionary, holds, negated)
  const dayStart = (day: string) => startOfDay(Temporal.PlainDate.from(day), context.calendar.zone)
  const afterDay = (day: string) => startOfDay(Temporal.PlainDate.from(day).add({ days: 1 }), context.calendar.zone)

  switch (condition.op) {
    case 'is':
    case 'is not': {
      const fold = condition.ignoreCase ? lower : same
      const wanted = new Set(condition.values.map(fold))
      byText((text) => wanted.has(fold(text)))
      break
    }
    case 'contains':
    case 'does not contain':
    case 'starts with':
    case 'ends with': {
      const fold = condition.ignoreCase ? lower : same
      const part = fold(condition.text)
      if (condition.op === 'starts with') byText((text) => fold(text).startsWith(part))
      else if (condition.op === 'ends with') byText((text) => fold(text).endsWith(part))
      else byText((text) => fold(text).includes(part))
      break
    }
    case 'matches': {
      const pattern = readPattern(condition.text, condition.ignoreCase, context.faults, path)
      if (!pattern) return { kind: 'never' }
      byText((text) => pattern.test(text))
      break
    }
    case '=':
      test.ofNumber = { low: condition.number, high: condition.number, outside: false }
      break
    case '≠':
      test.ofNumber = { low: condition.number, high: condition.number, outside: true }
      break
    case '<':
      test.ofNumber = { low: condition.number, high: Infinity, outside: true }
      break
    case '≤':
      test.ofNumber = { low: -Infinity, high: condition.number, outside: false }
      break
    case '>':
      test.ofNumber = { low: -Infinity, high: condition.number, outside: true }
      break
    case '≥':
      test.ofNumber = { low: condition.number, high: Infinity, outside: false }
      break
    case 'between':
      test.ofNumber = {
        low: Math.min(...condition.numbers),
        high: Math.max(...condition.numbers),
        outside: false,
      }
      break
    case 'before':
      test.ofDate = { low: dayStart(condition.day), high: Infinity, outside: true }
      break
    case 'after':
      test.ofDate = { low: afterDay(condition.day), high: Infinity, outside: false }
      break
    case 'between days': {
      const [from, to] = [...condition.days].sort()
      test.ofDate = { low: dayStart(from), high: afterDay(to) - 1, outside: false }
      break
    }
    case 'in the last': {
      const span = spanOf({ last: condition.last, unit: condition.unit }, context.now, context.calendar)
      test.ofDate = { low: span.from, high: span.until - 1, outside: false }
      break
    }
    case 'has a value':
      test.ofCode.fill(1)
      test.ofCode[0] = 0
      test.ofNumber = ALWAYS
      test.ofDate = ALWAYS
      break
    case 'has no value':
      test.ofCode[0] = 1
      break
    case 'is true':
    case 'is false':
      dictionary.values.forEach((value, code) => {
        if (value === (condition.op === 'is true')) test.ofCode[code] = 1
      })
      break
  }
  return test
}

const same = (text: string) => text
const lower = (text: string) => text.toLowerCase()

function readPattern(
  text: string,
  ignoreCase: true | undefined,
  faults: Fault[],
  path: (string | number)[],
): Pattern | null {
  const pattern = compilePattern(text, ignoreCase === true)
  if (!('problem' in pattern)) return pattern
  faults.push({ path, code: 'bad_pattern', got: text, want: pattern.problem })
  return null
}

/** A list fulfils a condition if any element does, and a negated one if none does. */
function fillTable(table: Uint8Array, dictionary: Values, holds: (text: string) => boolean, negated: boolean): void {
  dictionary.values.forEach((value: CodedValue | null, code) => {
    if (value === null || typeof value === 'boolean') return
    const any = typeof value === 'string' ? holds(value) : value.some(holds)
    table[code] = any !== negated ? 1 : 0
  })
}
