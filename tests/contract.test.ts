import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { funnelFigures, funnelQuestions } from './funnelQuestions.js'
import type { FunnelQuestion } from '../core/analyses/funnel/question.js'
import type { CrosstabResult } from '../core/analyses/crosstab/finish.js'
import type { Question, Result, Mark } from '../core/analyses/registry.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { MEASURES, trendMeasures } from '../core/analyses/trend/measures.js'
import type { TrendQuestion, TrendSeries } from '../core/analyses/trend/question.js'
import { referenceFigure, type ReferenceQuestion } from '../core/analyses/trend/reference.js'
import type { EventChoice, NestedKey, PropertyRef } from '../core/questions/parts.js'
import type { Split } from '../core/questions/split.js'
import { spanOf } from '../core/time/range.js'
import { answer, days, logOf, MONDAY, NOW, peopleIn, UTC, type TestEvent } from './eventLog.js'

/** What every kind of study promises: any cut of the people gives the same, and so does the slow plain reading. */

const HOUR = 3_600_000
const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot', 'eve', 'flo'),
  event: fc.constantFrom('a', 'b', 'c'),
  // Few distinct times, so that equal ones are common; some outside of the range.
  time: fc.integer({ min: -20, max: 200 }).map((h) => MONDAY + h * 6 * HOUR),
  properties: fc.oneof(
    fc.constant({}),
    fc.record({
      size: fc.constantFrom('s', 'm', 'l'),
      minutes: fc.integer({ min: 0, max: 40 }),
      bike: fc.constantFrom('pedal', 'cargo'),
    }),
    fc.record({ size: fc.subarray(['s', 'm', 'l'], { minLength: 1 }), minutes: fc.constantFrom(0.5, 3, 3, 'long') }),
  ),
})
const events = fc.array(event, { minLength: 3, maxLength: 60 }).map((list) => [
  ...list,
  // Every name is known, whatever the dice say.
  ...['a', 'b', 'c'].map((name) => ({
    person: 'zoe',
    event: name,
    time: MONDAY - days(300),
    properties: { size: 's', minutes: 1, bike: 'pedal' },
  })),
])
const cuts = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 5 })
const show = { form: 'lines', as: 'number' } as const
const size = { of: 'event', name: 'size' } as const
const range = { from: '2026-01-05', to: '2026-02-08' }

const minutes = { of: 'event', name: 'minutes' } as const
const bike = { of: 'event', name: 'bike' } as const

const series: fc.Arbitrary<TrendSeries> = fc
  .record({
    event: fc.constantFrom<EventChoice>({ names: ['a'] }, { names: ['a', 'b'] }, { activity: true }),
    measure: fc.constantFrom(...trendMeasures),
    of: fc.constantFrom<PropertyRef>(minutes, minutes, size),
    days: fc.constantFrom(3, 7, 28),
  })
  .map(({ of, days: window, ...rest }) => ({
    ...rest,
    ...(MEASURES[rest.measure].of === 'any' ? { of } : MEASURES[rest.measure].of === 'number' ? { of: minutes } : {}),
    ...(rest.measure === 'people in the last days' ? { days: window } : {}),
  }))

const splits = fc.constantFrom<Split[] | undefined>(
  undefined,
  [{ by: size, keep: 10 }],
  [{ by: size, keep: 1 }],
  [{ by: size, keep: 2, only: [{ value: 'm' }, { value: null }], order: 'name' }],
  [{ by: size, keep: 10, hideNone: true }],
  [{ by: { of: 'weekday' }, keep: 10 }],
  // Values without lists and numbers go a shorter way, alone, in pairs, and beside what is not so simple.
  [{ by: bike, keep: 1, hideNone: true }],
  [
    { by: bike, keep: 2 },
    { by: { of: 'source' }, keep: 10 },
  ],
  [
    { by: bike, keep: 3 },
    { by: { of: 'weekday' }, keep: 10 },
  ],
  [
    { by: bike, keep: 3 },
    { by: bike, keep: 10, order: 'name' },
  ],
  [
    { by: size, keep: 3 },
    { by: { of: 'hour' }, keep: 10 },
  ],
  [{ by: minutes, keep: 10, cuts: { equal: 'width', parts: 3 } }],
  [{ by: minutes, keep: 2, cuts: { equal: 'count', parts: 4 }, hideRest: true }],
  [
    { by: minutes, keep: 50, cuts: { at: [3, 20] } },
    { by: size, keep: 10 },
    { by: minutes, keep: 10 },
  ],
)

const question: fc.Arbitrary<Question> = fc.oneof(
  fc.record({
    kind: fc.constant('trend' as const),
    series: fc.array(series, { minLength: 1, maxLength: 3 }),
    every: fc.constantFrom('day' as const, 'week' as const, 'month' as const),
    range: fc.constant(range),
    breakdowns: splits,
    compare: fc.constantFrom<TrendQuestion['compare']>(undefined, { to: 'before' }, { to: 'month' }),
    show: fc.constant(show),
  }),
  funnelQuestions.map((asked): Question => ({ ...asked, count: undefined })),
  fc.record({
    kind: fc.constant('crosstab' as const),
    series: fc.array(series, { minLength: 1, maxLength: 2 }),
    every: fc.constantFrom('week' as const, 'month' as const),
    range: fc.constant(range),
    rows: splits.filter((list) => list !== undefined),
    column: fc.constantFrom<Split | undefined>(
      undefined,
      { by: bike, keep: 1 },
      { by: size, keep: 2, hideNone: true },
      { by: minutes, keep: 10, cuts: { equal: 'width', parts: 2 } },
    ),
    show: fc.constant({ cells: 'bars' as const, beside: 'trend' as const }),
  }),
)

describe('every kind of study', () => {
  test('gives the same however the people are cut into ranges', () => {
    fc.assert(
      fc.property(events, question, cuts, (list, asked, where) => {
        const log = logOf(list)
        expect(answer(log, asked, { cuts: where })).toEqual(answer(log, asked))
      }),
      { numRuns: 300 },
    )
  })

  test('shows in each figure exactly the people that can be read from it', () => {
    fc.assert(
      fc.property(events, question, (list, asked) => {
        const log = logOf(list)
        for (const [mark, people] of figures(answer(log, asked), asked))
          expect(new Set(peopleIn(log, asked, [mark])).size).toBe(people)
      }),
      { numRuns: 40 },
    )
  })
})

function figures(result: Result, asked: Question): [Mark, number][] {
  if (result.kind === 'crosstab')
    return [result.all, ...result.rows].flatMap(({ path, people }) =>
      result.columns.map(({ series, key }, c): [Mark, number] => [
        { kind: 'cell', row: path, series, ...(key ? { column: key } : {}) },
        people[c],
      ]),
    )
  if (result.kind === 'trend')
    return result.lines.flatMap((line) =>
      [false, true].flatMap((before) => {
        const rows = before ? line.before : line
        const buckets = (before ? result.beforeBuckets : result.buckets) ?? []
        if (!rows || !('series' in line.of)) return []
        const of = { series: line.of.series, ...(before ? { before: true } : {}) }
        return [rows.all, ...rows.groups].flatMap((row) => {
          const group = row.key ? { group: row.key } : {}
          return [
            [{ kind: 'point', ...of, ...group } as Mark, row.totalPeople] as [Mark, number],
            ...buckets.map(
              ({ key }, b) =>
                [{ kind: 'point', ...of, bucket: key, ...group } as Mark, row.people[b]] as [Mark, number],
            ),
          ]
        })
      }),
    )
  if (result.kind === 'overlap')
    return result.regions.map(({ in: inside, people }): [Mark, number] => [{ kind: 'part', in: inside }, people])
  if (result.kind === 'funnel') return funnelFigures(result, asked as FunnelQuestion)
  // Kinds with tests of their own for it.
  throw new RangeError(result.kind)
}

describe('against the plain reading of the definition', () => {
  test('a trend, of every measure, in each bucket and over the range, by group and all together', () => {
    const groupsOf = ({ properties }: TestEvent): string[] => {
      const value = properties?.size
      return value === undefined ? ['null'] : Array.isArray(value) ? [...new Set(value as string[])] : [value as string]
    }
    const dayStart = (start: number) => Math.floor((start - MONDAY) / days(1)) * days(1) + MONDAY
    fc.assert(
      fc.property(events, series, fc.constantFrom('day' as const, 'week' as const), (list, asked, every) => {
        const log = logOf(list)
        const breakdowns = [{ by: size, keep: 50 }]
        const question: Question = { kind: 'trend', series: [asked], every, range, breakdowns, show }
        const result = answer<TrendResult>(log, question)
        const span = spanOf(range, NOW, UTC)
        const { event } = asked
        const reference: ReferenceQuestion = {
          measure: asked.measure,
          matches: (e) => 'activity' in event || event.names.includes(e.event),
          valueOf: (e) => asked.of && e.properties?.['name' in asked.of ? asked.of.name : ''],
          isActive: () => true,
          ...{ sessionMs: 30 * 60_000, now: NOW },
        }
        const [line] = result.lines
        const names = new Set(list.flatMap(groupsOf))
        for (const row of [line.all, ...line.groups]) {
          const name = row.key && 'value' in row.key ? String(row.key.value) : null
          names.delete(name!)
          const spans = [...result.buckets.map(({ start, end }) => ({ from: start, until: end })), span]
          spans.forEach((each, index) => {
            const lastDay = dayStart(Math.min(each.until, span.until) - 1)
            const window = {
              from: lastDay - days((asked.days ?? 28) - 1),
              until: Math.min(lastDay + days(1), span.until),
            }
            const plain = referenceFigure(
              list,
              reference,
              each,
              window,
              (e) => name === null || groupsOf(e as TestEvent).includes(name),
            )
            const figure = index === result.buckets.length ? row.total : row.values[index]
            const people = index === result.buckets.length ? row.totalPeople : row.people[index]
            if (plain.figure === null || figure === null) expect(figure).toBe(plain.figure)
            else expect(figure).toBeCloseTo(plain.figure, 9)
            expect(people).toBe(plain.people.length)
          })
        }
        // What is missing has nothing in the range.
        for (const name of names) {
          const window = { from: span.until - days(asked.days ?? 28), until: span.until }
          const { people } = referenceFigure(list, reference, span, window, (e) =>
            groupsOf(e as TestEvent).includes(name),
          )
          expect(people).toEqual([])
        }
      }),
      { numRuns: 400 },
    )
  })

  test('a trend of two breakdowns, one of the event and one of the person, of some of them', () => {
    const names = ['ada', 'bea', 'cai', 'dot', 'eve', 'flo', 'zoe']
    const plans = fc.array(fc.constantFrom('monthly', 'annual', null), { minLength: 7, maxLength: 7 })
    const chosen = fc.array(fc.boolean(), { minLength: 7, maxLength: 7 })
    const measure = fc.constantFrom('people' as const, 'events' as const)
    fc.assert(
      fc.property(events, plans, chosen, measure, fc.integer({ min: 1, max: 6 }), (list, plan, isIn, of, keep) => {
        const planOf = (person: string) => plan[names.indexOf(person)]
        const log = logOf(list, {
          // Somebody who did nothing has one, so that the property is known however the others' fall.
          profiles: {
            ...Object.fromEntries(names.flatMap((name) => (planOf(name) ? [[name, { plan: planOf(name)! }]] : []))),
            gus: { plan: 'monthly' },
          },
        })
        const among = Uint8Array.from(['', ...log.people], (name) => (isIn[names.indexOf(name)] ? 1 : 0))
        const breakdowns: Split[] = [
          { by: bike, keep },
          { by: { of: 'person', name: 'plan' }, keep: 10 },
        ]
        const { lines, buckets } = answer<TrendResult>(
          log,
          { kind: 'trend', series: [{ event: { names: ['a'] }, measure: of }], every: 'day', range, breakdowns, show },
          { among },
        )
        const kept = lines[0].groups.flatMap(({ key }) => (key && 'each' in key ? [JSON.stringify(key.each)] : []))
        const groupOf = ({ properties, person }: TestEvent) =>
          JSON.stringify([{ value: properties?.bike ?? null }, { value: planOf(person) }])
        for (const { key, values, people, total, totalPeople } of [lines[0].all, ...lines[0].groups]) {
          const isOf = (event: TestEvent) =>
            !key || ('each' in key ? groupOf(event) === JSON.stringify(key.each) : !kept.includes(groupOf(event)))
          const counted = (from: number, until: number) => {
            const found = list.filter(
              (each) =>
                each.event === 'a' && each.time >= from && each.time < until && isIn[names.indexOf(each.person)],
            )
            const own = found.filter(isOf)
            return { events: own.length, people: new Set(own.map(({ person }) => person)).size }
          }
          buckets.forEach(({ start, end }, b) => {
            const plain = counted(start, end)
            expect([values[b], people[b]]).toEqual([plain[of], plain.people])
          })
          const whole = counted(buckets[0].start, buckets.at(-1)!.end)
          expect([total, totalPeople]).toEqual([whole[of], whole.people])
        }
      }),
      { numRuns: 150 },
    )
  })

  test('a crosstab, of every measure, in each cell, row, column and total', () => {
    const sizesOf = ({ properties }: TestEvent): unknown[] => {
      const value = properties?.size
      return Array.isArray(value) ? [...new Set(value)] : [value ?? null]
    }
    const bikeOf = ({ properties }: TestEvent): unknown => properties?.bike ?? null
    const keep = fc.integer({ min: 1, max: 3 })
    fc.assert(
      fc.property(events, series, keep, keep, keep, (list, asked, outer, inner, columns) => {
        const log = logOf(list)
        const rows: Split[] = [
          { by: size, keep: outer },
          { by: bike, keep: inner },
        ]
        const column: Split = { by: { of: 'source' }, keep: columns }
        const sourced = list.map((event, i) => ({ ...event, source: ['app', 'web', 'kiosk'][i % 3] }))
        const both = answer<CrosstabResult>(logOf(sourced), {
          ...{ kind: 'crosstab', series: [asked], every: 'week', range, rows, column },
          show: { cells: 'bars', beside: 'trend' },
        })
        const span = spanOf(range, NOW, UTC)
        const window = { from: span.until - days(asked.days ?? 28), until: span.until }
        const { event } = asked
        const reference: ReferenceQuestion = {
          measure: asked.measure,
          matches: (e) => 'activity' in event || event.names.includes(e.event),
          valueOf: (e) => asked.of && e.properties?.['name' in asked.of ? asked.of.name : ''],
          isActive: () => true,
          ...{ sessionMs: 30 * 60_000, now: NOW },
        }
        expect(log.people.length).toBeGreaterThan(0)
        const keptWithin = (path: readonly NestedKey[]) =>
          both.rows.flatMap((row) => {
            const own = row.path.at(-1)!
            const isChild = JSON.stringify(row.path.slice(0, -1)) === JSON.stringify(path)
            return isChild && 'value' in own ? [own.value as unknown] : []
          })
        const isOf = (values: unknown[], key: NestedKey, kept: unknown[]) =>
          'rest' in key
            ? values.some((value) => !kept.includes(value))
            : values.includes('value' in key ? key.value : 0)
        const keptColumns = both.columns.flatMap(({ key }) => (key && 'value' in key ? [key.value as unknown] : []))
        for (const row of [both.all, ...both.rows]) {
          const [first, second] = row.path
          both.columns.forEach(({ key }, c) => {
            const { figure, people } = referenceFigure(sourced, reference, span, window, (e) => {
              const of = e as TestEvent
              if (first && !isOf(sizesOf(of), first, keptWithin([]))) return false
              if (second && !isOf([bikeOf(of)], second, keptWithin([first]))) return false
              return key === null || isOf([of.source], key, keptColumns)
            })
            expect(row.people[c]).toBe(people.length)
            if (figure === null || row.values[c] === null) expect(row.values[c]).toBe(figure)
            else expect(row.values[c]).toBeCloseTo(figure, 9)
          })
        }
      }),
      { numRuns: 300 },
    )
  })
})
