import { parseRule } from '../core/segments/ruleSchema.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { printedOf } from '../core/analyses/inWords.js'
import { analysisOf, parseQuestion, type Question } from '../core/analyses/registry.js'
import { faultWords, type Fault } from '../core/questions/faults.js'
import { asGroup, type Rule } from '../core/segments/rule.js'
import { answer, days, eventLog, MONDAY, NOW, UTC } from './eventLog.js'

/** Definitions come from addresses, the API and files: whatever is in them, what is right is kept and the rest is told. */
const where = { property: { of: 'event', name: 'size' }, op: 'is', values: ['s'] }
const range = { from: '2026-01-05', to: '2026-02-08' }
const size = { of: 'event', name: 'size' }
const SOUND: object[] = [
  {
    kind: 'trend',
    series: [
      { event: { names: ['a'] }, where, measure: 'people', name: 'x' },
      { event: { activity: true }, measure: 'sum', of: { of: 'event', name: 'minutes' } },
    ],
    formulas: [{ formula: 'x / b', unit: 'percent' }],
    every: 'week',
    range,
    breakdowns: [{ by: size, keep: 3, order: 'name' }],
    compare: { to: 'before' },
    show: { form: 'lines', as: 'number' },
  },
  {
    kind: 'funnel',
    steps: [
      { event: { names: ['a'] } },
      { event: { names: ['b'] }, where, optional: true },
      { event: { names: ['c', 'b'] } },
    ],
    window: { count: 7, unit: 'day' },
    range,
    forbidden: [{ event: { names: ['c'] }, after: 0 }],
    breakdowns: [{ by: size, keep: 3 }],
  },
  {
    kind: 'crosstab',
    series: [{ event: { names: ['a'] }, measure: 'events' }],
    every: 'week',
    range,
    rows: [{ by: size, keep: 5 }],
    column: { by: { of: 'weekday' }, keep: 10 },
    show: { cells: 'heat', beside: 'ring' },
  },
  {
    kind: 'retention',
    start: { event: { names: ['a'] } },
    back: { event: { names: ['b'] }, where },
    every: 'day',
    range,
    measure: 'people',
    brackets: [
      [1, 3],
      [4, 20],
    ],
    show: { form: 'cohorts' },
  },
  { kind: 'habit', start: { event: { names: ['a'] } }, period: 'week', range, core: { days: 3, name: 'Core' } },
  {
    kind: 'growth',
    start: { event: { names: ['a'] } },
    interval: { days: 7 },
    range,
    show: { form: 'one', state: 'lapsed' },
  },
  { kind: 'gaps', start: { event: { activity: true }, where }, range, show: { form: 'people' } },
]
const junk = fc.constantFrom<unknown>(
  ...[null, '', 'x', 'week', -1, 0, 2.5, 1e9, true, [], {}, ['a'], { names: [] }, { names: ['a'] }],
  ...[
    { of: 'event', name: 'nobody knows' },
    { last: 0, unit: 'week' },
    { from: '2026-13-01', to: 'later' },
  ],
  ...[{ from: '2026-02-08', to: '2026-01-05' }, 'x'.repeat(20_000), { __proto__: null, kind: 'trend' }],
)

/** All places in a definition, as paths. */
function placesOf(value: unknown, path: (string | number)[] = []): (string | number)[][] {
  if (value === null || typeof value !== 'object') return [path]
  const inside = Object.entries(value).flatMap(([key, each]) =>
    placesOf(each, [...path, Array.isArray(value) ? Number(key) : key]),
  )
  return [...(path.length > 0 ? [path] : []), ...inside]
}

/** The definition with something else at a place; `undefined` takes it out. */
function withAt(value: unknown, [key, ...rest]: (string | number)[], put: unknown): unknown {
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...(value as object) }) as Record<string, unknown>
  if (rest.length > 0) copy[key] = withAt(copy[key], rest, put)
  else if (put === undefined) delete copy[key]
  else copy[key] = put
  return Array.isArray(copy) ? copy.filter((each) => each !== undefined) : copy
}

/** One to three places of a sound definition with something else in them. */
const damagedOf = (sounds: readonly object[]) =>
  fc.constantFrom(...sounds).chain((sound) =>
    fc
      .array(fc.tuple(fc.constantFrom(...placesOf(sound)), fc.oneof(junk, fc.constant(undefined))), {
        minLength: 1,
        maxLength: 3,
      })
      .map((changes) => ({
        sound,
        changes,
        // A place may be gone by the time its turn comes.
        broken: changes.reduce<unknown>((value, [path, put]) => {
          try {
            return withAt(value, path, put)
          } catch {
            return value
          }
        }, sound),
      })),
  )

const damaged = damagedOf(SOUND)

const log = eventLog({
  ada: 'a@0d b@1d c@2d a@9d',
  bea: [
    { person: 'bea', event: 'a', time: MONDAY, properties: { size: 's', minutes: 3 } },
    { person: 'bea', event: 'b', time: MONDAY + days(1), properties: { size: 'm' } },
  ],
})
const words = { thisYear: 2026 }

/** Faults of the plan: names that are not known, and the like. */
function faultsOfPlan(question: Question): Fault[] {
  const faults: Fault[] = []
  analysisOf(question.kind).plan(question, { schema: log.schema, calendar: UTC, now: NOW, among: null }, faults)
  return faults
}

describe('a damaged definition', () => {
  test.each(SOUND.map((sound) => [(sound as Question).kind, sound]))('%s is sound before', (_kind, sound) => {
    const { question, faults } = parseQuestion(sound)
    expect(faults).toEqual([])
    expect(question).toMatchObject(sound)
  })

  test('still gives a question that is whole, and tells every place that it changed in words', () => {
    fc.assert(
      fc.property(damaged, ({ broken }) => {
        const { question, faults } = parseQuestion(broken)
        expect(parseQuestion(question)).toEqual({ question, faults: [] })
        for (const fault of faults) {
          expect(faultWords(fault)).toMatch(/^[\p{Lu}“].*[.!?]$/su)
          expect(faultWords(fault)).not.toMatch(/undefined|\[object|NaN/)
        }
      }),
      { numRuns: 1500 },
    )
  })

  test('is said in a sentence, and answered or marked: it never stops the page', () => {
    fc.assert(
      fc.property(damaged, ({ broken }) => {
        const { question } = parseQuestion(broken)
        expect(printedOf(question, words)).not.toMatch(/undefined|\[object|NaN/)
        const faults = faultsOfPlan(question)
        if (faults.length === 0) expect(answer(log, question).kind).toBe(question.kind)
        else for (const fault of faults) expect(faultWords(fault)).toMatch(/^[\p{Lu}“].*[.!?]$/su)
      }),
      { numRuns: 600 },
    )
  })

  test('every setting has a name of its own in what is told of it', () => {
    for (const sound of SOUND)
      for (const key of Object.keys(sound))
        expect(faultWords({ path: [key], code: 'invalid' })).toMatch(
          /^\p{Lu}[\p{L} ]+: not a value that can be used here\.$/u,
        )
  })

  test.each([
    [{ every: 3 }, 'Each: one of hour, day, week, month, quarter, year.'],
    [{ range: { last: 0, unit: 'week' } }, 'Time: at least 1.'],
    [{ series: 'a' }, 'Event: a list is wanted, and a text is there.'],
    [{ smooth: '7' }, 'Smoothed over: a number is wanted, and a text is there.'],
    [{ colour: 'red' }, '“colour”: this setting is not known.'],
  ])('%j is told as %s', (wrong, told) => {
    const { faults } = parseQuestion({ ...SOUND[0], ...wrong })
    expect(faults.map(faultWords)).toContain(told)
  })

  test('one wrong setting leaves all others as they were', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SOUND),
        fc.constantFrom('every', 'show', 'period', 'interval', 'window'),
        (sound, key) => {
          fc.pre(key in sound)
          const { question, faults } = parseQuestion({ ...sound, [key]: 'no such thing' })
          const { [key as keyof typeof sound]: _wrong, ...others } = sound
          expect(question).toMatchObject(others)
          expect(faults.map(({ path }) => path[0])).toEqual([key])
        },
      ),
      { numRuns: 100 },
    )
  })
})

const RULE = {
  hold: 'any',
  of: [
    { kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] } },
    {
      kind: 'did',
      event: { names: ['a'] },
      where,
      count: { measure: 'days', test: { op: '≥', number: 2 } },
      window: { before: [1, 30] },
    },
    {
      hold: 'none',
      of: [
        {
          kind: 'sequence',
          steps: [{ event: { names: ['a'] } }, { event: { names: ['b'] } }],
          within: { count: 7, unit: 'day' },
        },
        { kind: 'time', asked: 'first seen', when: { last: 2, unit: 'week' } },
        { kind: 'study', study: SOUND[1], marks: [{ kind: 'step', step: 1, what: 'lost' }] },
        { kind: 'segment', segment: 'regulars' },
      ],
    },
  ],
}

describe('a damaged rule', () => {
  test('is sound before', () => {
    const { rule, faults } = parseRule(RULE)
    expect(faults).toEqual([])
    expect(rule).toMatchObject(RULE)
  })

  test('still gives a rule that is whole, and tells of what was left out', () => {
    fc.assert(
      fc.property(damagedOf([RULE]), ({ broken }) => {
        const { rule, faults } = parseRule(broken)
        expect(parseRule(rule)).toEqual({ rule, faults: [] })
        // Nothing is lost without a word.
        if (faults.length === 0) expect(rule).toMatchObject(asGroup(broken as Rule))
        for (const fault of faults) expect(faultWords(fault)).toMatch(/^[\p{Lu}“].*[.!?]$/su)
      }),
      { numRuns: 1000 },
    )
  })

  test('too many conditions in a group, and a group of an unknown kind, are told', () => {
    const many = { hold: 'most', of: Array.from({ length: 51 }, () => RULE.of[0]) }
    const { rule, faults } = parseRule(many)
    expect(rule).toMatchObject({ hold: 'all', of: { length: 50 } })
    expect(faults.map(faultWords)).toEqual([
      'Group: all, any or none of its conditions.',
      'Condition: at most 50 conditions in a group.',
    ])
  })
})
