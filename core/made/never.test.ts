import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { logOf, MONDAY, peopleIn, type TestEvent } from '../../tests/eventLog.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import type { Value } from '../log/values.js'
import type { Condition, Filter } from '../questions/parts.js'
import { findNever, type Never } from './never.js'

/** Rows that are said never to match really never do: on every value there is here, by the conditions as they are asked. */
const texts = ['', 'a', 'ab', 'abc', 'b', 'B', 'ba']
const numbers = [-1, 0, 1, 2, 2.5]
const values: (Value | undefined)[] = [...texts, ...numbers, true, false, ['a', 'b'], ['ab', 'c'], [], undefined]
/** Every pair of values of two properties, each of a person of their own. */
const events = values.flatMap((it, i) =>
  values.map((also, j): TestEvent => ({
    ...{ person: `${i}-${j}`, event: 'came', time: MONDAY },
    properties: { ...(it === undefined ? {} : { it }), ...(also === undefined ? {} : { also }) },
  })),
)
const log = logOf(events)

function holdersOf(where: Filter): Set<string> {
  const study: TrendQuestion = {
    ...{ kind: 'trend', every: 'day', range: { from: '2026-01-05', to: '2026-01-05' } },
    ...{ series: [{ event: { names: ['came'] }, measure: 'people', where }], show: { form: 'lines', as: 'number' } },
  }
  return new Set(peopleIn(log, study, [{ kind: 'point' }]))
}

const property = fc.constantFrom({ of: 'event' as const, name: 'it' }, { of: 'event' as const, name: 'also' })
const ignoreCase = fc.constantFrom(undefined, true as const)
const condition: fc.Arbitrary<Condition> = fc.oneof(
  fc.record({
    ...{ property, op: fc.constantFrom('is' as const, 'is not' as const), ignoreCase },
    values: fc.subarray(['a', 'ab', 'b', 'B'], { minLength: 1 }),
  }),
  fc.record({
    ...{ property, ignoreCase, text: fc.constantFrom('a', 'b', 'ab', 'B') },
    op: fc.constantFrom(...(['contains', 'does not contain', 'starts with', 'ends with'] as const)),
  }),
  fc.record({
    ...{ property, number: fc.constantFrom(...numbers) },
    op: fc.constantFrom(...(['=', '≠', '<', '≤', '>', '≥'] as const)),
  }),
  fc.record({
    property,
    op: fc.constant('between' as const),
    numbers: fc.constantFrom<[number, number]>([0, 2], [1, 2]),
  }),
  fc.record({
    property,
    op: fc.constantFrom(...(['has a value', 'has no value', 'is true', 'is false'] as const)),
  }),
)
const filter: fc.Arbitrary<Filter> = fc.oneof(
  condition,
  fc.record({ all: fc.array(condition, { maxLength: 3 }) }),
  fc.record({ any: fc.array(condition, { minLength: 1, maxLength: 2 }) }),
)

test('a row that is named is the first that holds for nothing', () => {
  let named = 0
  fc.assert(
    fc.property(fc.array(filter, { minLength: 2, maxLength: 4 }), (filters) => {
      const found = findNever(filters.map((where) => ({ where, gives: { text: 'x' } })))
      const taken = new Set<string>()
      filters.forEach((where, row) => {
        const first = [...holdersOf(where)].filter((person) => !taken.has(person))
        if (found[row]) {
          named++
          expect([row, where, first]).toEqual([row, where, []])
        }
        first.forEach((person) => taken.add(person))
      })
    }),
    { numRuns: 250 },
  )
  expect(named).toBeGreaterThan(10)
})

describe('what is plain to see is named', () => {
  const it = { of: 'event', name: 'it' } as const
  const is = (...of: string[]): Condition => ({ property: it, op: 'is', values: of })
  const text = (op: 'contains' | 'starts with' | 'ends with', of: string, more: object = {}): Condition => ({
    ...{ property: it, op, text: of },
    ...more,
  })
  const number = (op: '=' | '<' | '≤' | '>' | '≥', of: number): Condition => ({ property: it, op, number: of })
  const never = (...filters: Filter[]): Never | null =>
    findNever(filters.map((where) => ({ where, gives: { text: 'x' } }))).at(-1)!
  const covered = { why: 'covered', by: [0] }

  test.each<[string, Filter, Filter]>([
    ['a beginning within a longer one', text('starts with', 'a'), text('starts with', 'ab')],
    ['an end within a longer one', text('ends with', 'b'), text('ends with', 'ab')],
    ['a part of a text that is looked for', text('contains', 'a'), text('starts with', 'ab')],
    ['a part whatever its case', text('contains', 'A', { ignoreCase: true }), text('contains', 'ab')],
    ['a value that begins so', text('starts with', 'a'), is('a', 'ab')],
    ['a value that ends so', text('ends with', 'b'), is('b', 'ab')],
    ['a span within a wider one', number('≥', 1), number('>', 1)],
    ['an exact number within a span', { property: it, op: 'between', numbers: [0, 5] }, number('=', 5)],
    ['any comparison within having a value', { property: it, op: 'has a value' }, number('<', 3)],
    ['all of several within one of them', number('≤', 3), { all: [number('≤', 2), is('a')] }],
    ['an alternative of one alone', is('a'), { any: [is('a')] }],
  ])('%s', (_what, first, second) => expect(never(first, second)).toEqual(covered))

  test.each<[string, Filter, Filter]>([
    ['a longer beginning leaves shorter ones', text('starts with', 'ab'), text('starts with', 'a')],
    ['one case leaves the other', text('contains', 'a'), text('contains', 'A', { ignoreCase: true })],
    ['above a number leaves the number', number('>', 1), number('≥', 1)],
    [
      'having a value leaves what is negated',
      { property: it, op: 'has a value' },
      { property: it, op: 'is not', values: ['a'] },
    ],
    ['another property leaves this one', { property: { of: 'event', name: 'also' }, op: 'is', values: ['a'] }, is('a')],
  ])('%s', (_what, first, second) => expect(never(first, second)).toBeNull())

  test.each<[string, Condition[]]>([
    ['no value and a number', [{ property: it, op: 'has no value' }, number('=', 1)]],
    ['under 1 and over 2', [number('<', 1), number('>', 2)]],
    ['under 1 and at least 1', [number('<', 1), number('≥', 1)]],
  ])('%s exclude one another', (_what, all) => expect(never({ all })).toEqual({ why: 'contradiction' }))

  test('what touches does not', () => expect(never({ all: [number('≤', 1), number('≥', 1)] })).toBeNull())
})
