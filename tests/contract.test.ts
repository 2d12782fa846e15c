import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { referenceFunnel } from '../core/analyses/funnel/reference.js'
import type { FunnelStep } from '../core/analyses/funnel/question.js'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { Question, Result } from '../core/analyses/registry.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { referenceTrend } from '../core/analyses/trend/reference.js'
import type { Breakdown, EventChoice, Mark } from '../core/questions/parts.js'
import { spanOf } from '../core/time/range.js'
import { answer, days, logOf, MONDAY, NOW, peopleIn, UTC, type TestEvent, type TestLog } from './eventLog.js'

/** What every kind of study promises: any cut of the people gives the same, and so does the slow plain reading. */

const HOUR = 3_600_000
const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot', 'eve', 'flo'),
  event: fc.constantFrom('a', 'b', 'c'),
  // Few distinct times, so that equal ones are common; some outside of the range.
  time: fc.integer({ min: -20, max: 200 }).map((h) => MONDAY + h * 6 * HOUR),
  properties: fc.oneof(
    fc.constant({}),
    fc.record({ size: fc.constantFrom('s', 'm', 'l') }),
    fc.record({ size: fc.subarray(['s', 'm', 'l'], { minLength: 1 }) }),
  ),
})
const events = fc.array(event, { minLength: 3, maxLength: 60 }).map((list) => [
  ...list,
  // Every name is known, whatever the dice say.
  ...['a', 'b', 'c'].map((name) => ({
    person: 'zoe',
    event: name,
    time: MONDAY - days(300),
    properties: { size: 's' },
  })),
])
const cuts = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 5 })
const show = { form: 'lines', as: 'number' } as const
const size = { of: 'event', name: 'size' } as const
const range = { from: '2026-01-05', to: '2026-02-08' }

const question: fc.Arbitrary<Question> = fc.oneof(
  fc.record({
    kind: fc.constant('trend' as const),
    series: fc
      .record({
        event: fc.constantFrom<EventChoice>({ names: ['a'] }, { names: ['a', 'b'] }, { activity: true }),
        measure: fc.constantFrom('people' as const, 'events' as const, 'events per person' as const),
      })
      .map((series) => [series]),
    every: fc.constantFrom('day' as const, 'week' as const, 'month' as const),
    range: fc.constant(range),
    breakdowns: fc.constantFrom<Breakdown[] | undefined>(undefined, [{ by: size, keep: 10 }], [{ by: size, keep: 1 }]),
    show: fc.constant(show),
  }),
  fc.record({
    kind: fc.constant('funnel' as const),
    steps: fc.array(
      fc.constantFrom<FunnelStep>(
        { event: { names: ['a'] } },
        { event: { names: ['b'] } },
        { event: { names: ['a', 'c'] } },
      ),
      { minLength: 1, maxLength: 4 },
    ),
    window: fc.constantFrom({ count: 1, unit: 'day' as const }, { count: 7, unit: 'day' as const }),
    range: fc.constant(range),
    breakdowns: fc.constantFrom<Breakdown[] | undefined>(undefined, [{ by: size, keep: 1 }]),
  }),
)

/** One person's events in order of time, then arrival. */
function byPerson(test: TestLog) {
  return test.people.map((person) =>
    test.events
      .map((e, arrival) => ({ ...e, arrival }))
      .filter((e) => e.person === person)
      .sort((a, b) => a.time - b.time || a.arrival - b.arrival),
  )
}

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
        for (const [mark, people] of figures(answer(log, asked)))
          expect(new Set(peopleIn(log, asked, [mark])).size).toBe(people)
      }),
      { numRuns: 150 },
    )
  })
})

function figures(result: Result): [Mark, number][] {
  if (result.kind === 'trend')
    return [result.all, ...result.groups].flatMap((row) => {
      const group = row.key ? { group: row.key } : {}
      return [
        [{ kind: 'point', ...group } as Mark, row.totalPeople] as [Mark, number],
        ...result.buckets.map(
          ({ key }, b) => [{ kind: 'point', bucket: key, ...group } as Mark, row.people[b]] as [Mark, number],
        ),
      ]
    })
  return [result.all, ...result.groups].flatMap((row) =>
    row.steps.flatMap((step, i) => {
      const group = row.key ? { group: row.key } : {}
      return [
        [{ kind: 'step', step: i, what: 'reached', ...group } as Mark, step.people] as [Mark, number],
        [{ kind: 'step', step: i, what: 'lost', ...group } as Mark, step.lost] as [Mark, number],
        [{ kind: 'step', step: i, what: 'open', ...group } as Mark, step.open] as [Mark, number],
      ]
    }),
  )
}

describe('against the plain reading of the definition', () => {
  test('a trend', () => {
    const groupsOf = (properties: TestEvent['properties']) => {
      const value = properties?.size
      return value === undefined ? ['null'] : Array.isArray(value) ? [...new Set(value as string[])] : [value as string]
    }
    fc.assert(
      fc.property(events, (list) => {
        const log = logOf(list)
        const asked: Question = {
          kind: 'trend',
          series: [{ event: { names: ['a', 'b'] }, measure: 'events' }],
          every: 'week',
          range,
          breakdowns: [{ by: size, keep: 10 }],
          show,
        }
        const result = answer<TrendResult>(log, asked)
        const span = spanOf(range, NOW, UTC)
        const plainly = referenceTrend(
          list,
          result.buckets,
          span,
          (e) => e.event !== 'c',
          (e) => groupsOf(e.properties as never),
        )
        const got = new Map(
          result.groups.map((row) => [row.key && 'value' in row.key ? String(row.key.value) : 'rest', row]),
        )
        expect([...got.keys()].sort()).toEqual([...plainly.keys()].sort())
        for (const [name, counted] of plainly) {
          const row = got.get(name)!
          expect([row.values, row.people, row.total, row.totalPeople]).toEqual([
            counted.events,
            counted.people,
            counted.totalEvents,
            counted.totalPeople,
          ])
        }
      }),
      { numRuns: 200 },
    )
  })

  test('a funnel', () => {
    fc.assert(
      fc.property(
        events,
        fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 1, max: 10 }),
        (list, names, window) => {
          const log = logOf(list)
          const asked: Question = {
            kind: 'funnel',
            steps: names.map((name) => ({ event: { names: [name] } })),
            window: { count: window, unit: 'day' },
            range,
          }
          const now = MONDAY + days(30)
          const { all } = answer<FunnelResult>(log, asked, { now })
          const { from, until } = spanOf(range, now, UTC)
          const plainly = referenceFunnel(byPerson(log), names.length, (e, step) => e.event === names[step], {
            windowMs: days(window),
            from,
            until,
            now,
          })
          expect(all.steps.map(({ people }) => people)).toEqual(plainly.reached)
          expect(all.open).toBe(plainly.open)
          plainly.fromPrevious.forEach((times, step) => {
            if (times.length % 2 === 1) expect(all.steps[step].fromPrevious.median).toBe(times[(times.length - 1) / 2])
          })
        },
      ),
      { numRuns: 400 },
    )
  })
})
