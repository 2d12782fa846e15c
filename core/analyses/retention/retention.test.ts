import { parseRetention } from './schema.js'
import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  faultsOf,
  logOf,
  MONDAY,
  NOW,
  peopleIn,
  type Asked,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { spanOf } from '../../time/range.js'
import type { RetentionResult } from './finish.js'
import type { RetentionQuestion } from './question.js'
import { referenceStarters, stepsApart } from './reference.js'
import type { RetentionMark } from './marks.js'

const asked = (more: Partial<RetentionQuestion> = {}): RetentionQuestion => ({
  kind: 'retention',
  start: { event: { names: ['join'] } },
  back: { event: { names: ['ride'] } },
  every: 'week',
  range: { from: '2026-01-05', to: '2026-01-25' },
  show: { form: 'curve' },
  ...more,
})
const ask = (log: TestLog, more: Partial<RetentionQuestion> = {}, how?: Asked) =>
  answer<RetentionResult>(log, asked(more), how)
/** People who came back, by cohort and period; a cell that is not complete in brackets, one not begun a dash. */
const cells = ({ all }: RetentionResult) =>
  all.cells.map((row) =>
    row
      .map(({ state, returned }) => (state === 'complete' ? returned : state === 'open' ? `(${returned})` : '–'))
      .join(' '),
  )
const line = ({ all }: RetentionResult) => all.line.map(({ returned, people }) => `${returned}/${people}`).join(' ')

describe('periods of the calendar', () => {
  test('a start in the last minute of a week and a return in the first of the next are a week apart', () => {
    const log = eventLog({ ada: 'join@6d+23h+59m ride@7d', bea: 'join@0d ride@6d+23h+59m ride@14d' })
    const result = ask(log, { upTo: 3 })
    expect(result.all.started).toEqual([2, 0, 0])
    expect(cells(result)).toEqual(['1 1 1 0', '0 0 0 0', '0 0 0 0'])
  })

  test('only what comes later than the start is a return, also in the start’s own period', () => {
    const log = eventLog({ ada: 'ride@0d join@1d', bea: 'join@1d ride@1d', cai: 'join@1d ride@1d+1ms' })
    // Bea's ride has the time of her start and arrived after it: it is later in her order.
    expect(cells(ask(log, { upTo: 1 }))[0]).toBe('2 0')
  })

  test('the same event is no return of itself', () => {
    const log = eventLog({ ada: 'ride@0d', bea: 'ride@0d ride@0d ride@8d' })
    const question: Partial<RetentionQuestion> = { start: { event: { names: ['ride'] } }, back: undefined, upTo: 1 }
    expect(cells(ask(log, question))[0]).toBe('1 1')
  })

  test('returns are looked for up to now, wherever the range ends; later ones do not count', () => {
    const log = eventLog({ ada: 'join@20d ride@29d', bea: 'join@20d ride@27d+12h' })
    const range = { from: '2026-01-19', to: '2026-01-25' }
    const now = MONDAY + days(28) - 1
    // At the last moment of week 1 it is not over: a bucket has ended when the first moment after it is now.
    expect(cells(ask(log, { range, upTo: 2 }, { now }))).toEqual(['0 (1) –'])
    expect(cells(ask(log, { range, upTo: 2 }, { now: now + 1 }))).toEqual(['0 1 (0)'])
  })

  test('first in the range, or first ever: who did it before is left out', () => {
    const log = eventLog({ ada: 'join@-1ms join@1d ride@8d', bea: 'join@2d ride@9d' })
    expect(ask(log).all.people).toBe(2)
    expect(ask(log, { first: true }).all.people).toBe(1)
  })

  test('the first ever of the filter, not of the event', () => {
    const join = (time: number, plan: string): TestEvent => ({
      ...{ person: 'ada', event: 'join', time: MONDAY + time, properties: { plan } },
    })
    const log = logOf([join(-days(2), 'day'), join(days(1), 'month'), join(days(2), 'month')])
    const start = {
      event: { names: ['join'] },
      where: { property: { of: 'event' as const, name: 'plan' }, op: 'is' as const, values: ['month'] },
    }
    const result = ask(log, { start, back: { event: { names: ['join'] } }, first: true, upTo: 1 })
    expect(result.all.people).toBe(1)
    expect(cells(result)[0]).toBe('1 0')
  })

  test('days are 23 and 25 hours long where the clocks change', () => {
    // Lisbon: forward on 29 March 2026 at 01:00, back on 25 October at 02:00.
    const at = (text: string) => Temporal.PlainDateTime.from(text).toZonedDateTime('Europe/Lisbon').epochMilliseconds
    const events = (rows: [string, string, string][]): TestEvent[] =>
      rows.map(([person, event, when]) => ({ person, event, time: at(when) }))
    const log = logOf(
      events([
        ['ada', 'join', '2026-03-28T23:59'],
        ['ada', 'ride', '2026-03-30T00:00'],
        ['bea', 'join', '2026-10-24T23:59'],
        ['bea', 'ride', '2026-10-25T23:59'],
      ]),
      { zone: 'Europe/Lisbon' },
    )
    const how = { now: at('2026-11-20T12:00'), calendar: { zone: 'Europe/Lisbon', firstDayOfWeek: 1 } }
    const of = (day: string) => ({ every: 'day' as const, range: { from: day, to: day }, upTo: 2 })
    // Two days on, though not a day by the clock: the day between has 23 hours.
    expect(cells(ask(log, of('2026-03-28'), how))).toEqual(['0 0 1'])
    // 25 hours by the clock, yet the next day.
    expect(cells(ask(log, of('2026-10-24'), how))).toEqual(['0 1 0'])
    expect(cells(ask(log, { ...of('2026-10-24'), by: 'clock' }, how))).toEqual(['0 1 0'])
    // 23 hours and a minute by the clock.
    expect(cells(ask(log, { ...of('2026-03-28'), by: 'clock' }, how))).toEqual(['1 0 0'])
  })

  test('hours are real hours of the workspace’s clock', () => {
    const log = eventLog({ ada: 'join@59m ride@1h', bea: 'join@1h+1m ride@2h+59m' })
    const how = { now: MONDAY + days(1) }
    const hours = { every: 'hour' as const, range: { from: '2026-01-05', to: '2026-01-05' }, upTo: 2 }
    expect(cells(ask(log, hours, how)).slice(0, 2)).toEqual(['0 1 0', '0 1 0'])
    expect(cells(ask(log, { ...hours, by: 'clock' }, how)).slice(0, 2)).toEqual(['1 0 0', '0 1 0'])
  })

  test('a range that cuts a week leaves its periods whole', () => {
    const log = eventLog({ ada: 'join@3d ride@6d+23h ride@7d', bea: 'join@1d ride@8d' })
    const result = ask(log, { range: { from: '2026-01-07', to: '2026-01-18' }, upTo: 1 })
    expect(result.cohorts.map(({ key, cut }) => [key, cut])).toEqual([
      ['2026-01-05', true],
      ['2026-01-12', false],
    ])
    expect(result.all.started).toEqual([1, 0])
    expect(cells(result)[0]).toBe('1 1')
  })
})

describe('periods by the clock', () => {
  test('a period ends exactly its length after the start', () => {
    const log = eventLog({ ada: 'join@2d+5h ride@9d+5h', bea: 'join@2d+5h ride@9d+4h+59m+59s+999ms' })
    expect(cells(ask(log, { by: 'clock', upTo: 2 }))[0]).toBe('1 1 0')
  })

  test('a cell is complete when the period has ended for the latest of its people', () => {
    const log = eventLog({ ada: 'join@0d ride@8d', bea: 'join@6d' })
    const range = { from: '2026-01-05', to: '2026-01-11' }
    const now = MONDAY + days(20)
    expect(cells(ask(log, { by: 'clock', range, upTo: 1 }, { now: now - 1 }))).toEqual(['0 (1)'])
    expect(cells(ask(log, { by: 'clock', range, upTo: 1 }, { now }))).toEqual(['0 1'])
  })

  test('a month is 30 days of 24 hours', () => {
    const log = eventLog({ ada: 'join@0d ride@29d+23h', bea: 'join@0d ride@30d' })
    const range = { from: '2026-01-01', to: '2026-01-31' }
    expect(cells(ask(log, { every: 'month', by: 'clock', range, upTo: 1 }, { now: MONDAY + days(90) }))).toEqual([
      '1 1',
    ])
  })
})

describe('from the period on', () => {
  test('holds whoever comes back then or at any time later', () => {
    const log = eventLog({ ada: 'join@0d ride@22d', bea: 'join@0d ride@1d', cai: 'join@0d ride@40d' })
    expect(cells(ask(log, { upTo: 4 }))[0]).toBe('1 0 0 1 0')
    expect(cells(ask(log, { upTo: 4, count: 'from' }))[0]).toBe('3 2 2 2 1')
  })
})

describe('brackets of days', () => {
  const brackets: [number, number][] = [
    [0, 7],
    [8, 30],
    [31, 45],
  ]
  test('hold both their ends; day 0 is the start’s local day', () => {
    const log = eventLog({ ada: 'join@0d+20h ride@7d+23h', bea: 'join@0d+20h ride@8d', cai: 'join@0d ride@31d' })
    const range = { from: '2026-01-05', to: '2026-01-11' }
    expect(cells(ask(log, { brackets, range }))).toEqual(['1 1 1'])
    // By the clock Bea's ride 7 d 4 h after her start is still on day 7.
    expect(cells(ask(log, { brackets, range, by: 'clock' }))).toEqual(['2 0 1'])
  })

  test('are complete when their last day has ended for the latest of the cohort', () => {
    const log = eventLog({ ada: 'join@0d', bea: 'join@5d', zoe: 'ride@-9d' })
    const range = { from: '2026-01-05', to: '2026-01-11' }
    const at = (day: number) => cells(ask(log, { brackets, range }, { now: Math.round(MONDAY + days(day)) }))[0]
    // Bea’s day 7 is the twelfth after Monday.
    expect(at(13 - 1 / 86_400_000)).toBe('(0) (0) –')
    expect(at(13)).toBe('0 (0) –')
    expect(at(31)).toBe('0 (0) (0)')
  })

  test('spans that overlap, or end before they begin, are faults where they stand', () => {
    const wrong = (list: [number, number][]) => [
      ...new Set(parseRetention(asked({ brackets: list })).faults.map(({ path }) => path[0])),
    ]
    expect(wrong(brackets)).toEqual([])
    expect(wrong([[0, 7], [7, 9]])).toEqual(['brackets']) // prettier-ignore
    expect(wrong([[9, 7]])).toEqual(['brackets'])
  })
})

describe('the line of all cohorts', () => {
  const log = eventLog({ ada: 'join@0d ride@8d', bea: 'join@1d', cai: 'join@8d ride@16d', dot: 'join@15d ride@21d' })
  const how = { now: MONDAY + days(23) }

  test('adds up people over complete cells only', () => {
    const result = ask(log, { upTo: 2 }, how)
    expect(cells(result)).toEqual(['0 1 0', '0 1 (0)', '0 (1) –'])
    // Week 1: Ada of two, Cai of one; Dot's, still open, would make it 3 of 4.
    expect(line(result)).toBe('0/4 2/3 0/2')
    expect(result.all.line[1].value).toBeCloseTo(2 / 3)
    expect(result.all.line[1].cohorts).toBe(2)
  })

  test('its people are those of the complete cells', () => {
    const mark = (what: 'returned' | 'not' | 'started', more: object = {}): RetentionMark => ({
      kind: 'cohort',
      what,
      ...more,
    })
    expect(peopleIn(log, asked({ upTo: 2 }), [mark('returned', { period: 1 })], how)).toEqual(['ada', 'cai'])
    expect(peopleIn(log, asked({ upTo: 2 }), [mark('not', { period: 1 })], how)).toEqual(['bea'])
    const cell = { period: 1, cohort: '2026-01-19' }
    expect(peopleIn(log, asked({ upTo: 2 }), [mark('returned', cell)], how)).toEqual(['dot'])
    expect(peopleIn(log, asked({ upTo: 2 }), [mark('started')], how)).toEqual(['ada', 'bea', 'cai', 'dot'])
    expect(peopleIn(log, asked({ upTo: 2 }), [mark('started', { cohort: '2026-01-05' })], how)).toEqual(['ada', 'bea'])
  })

  test('gone are those for whom the period is over, whatever the cell', () => {
    const two = eventLog({ ada: 'join@0d', bea: 'join@5d' })
    const question = asked({ by: 'clock', range: { from: '2026-01-05', to: '2026-01-11' } })
    const of = (what: 'not' | 'gone'): RetentionMark => ({ kind: 'cohort', cohort: '2026-01-05', period: 0, what })
    const seen = { now: MONDAY + days(8) }
    const log = logOf([...two.events, { person: 'zoe', event: 'ride', time: MONDAY - days(9) }])
    expect(peopleIn(log, question, [of('not')], seen)).toEqual(['ada', 'bea'])
    expect(peopleIn(log, question, [of('gone')], seen)).toEqual(['ada'])
  })
})

describe('measures', () => {
  const ride = (person: string, at: number, fare?: number | string): TestEvent => ({
    ...{ person, event: 'ride', time: MONDAY + at },
    ...(fare === undefined ? {} : { properties: { fare } }),
  })
  const join = (person: string): TestEvent => ({ person, event: 'join', time: MONDAY })
  const log = logOf([
    ...['ada', 'bea', 'cai', 'dot'].map(join),
    ride('ada', days(7), 2),
    ride('ada', days(8), 3),
    ride('ada', days(15), 5),
    ride('bea', days(9), 'free'),
    ride('cai', days(16)),
  ])
  const fare = { of: 'event' as const, name: 'fare' }
  const values = (more: Partial<RetentionQuestion>) =>
    ask(log, { range: { from: '2026-01-05', to: '2026-01-11' }, upTo: 2, ...more }).all.cells[0].map(
      ({ value }) => value,
    )

  test('shares, people, times, times of each who came back, sums, and sums for each of the cohort', () => {
    expect(values({})).toEqual([0, 0.5, 0.5])
    expect(values({ measure: 'people' })).toEqual([0, 2, 2])
    expect(values({ measure: 'events' })).toEqual([0, 3, 2])
    expect(values({ measure: 'events per person' })).toEqual([null, 1.5, 1])
    expect(values({ measure: 'sum', of: fare })).toEqual([0, 5, 5])
    expect(values({ measure: 'per person', of: fare })).toEqual([0, 1.25, 1.25])
  })

  test('cumulated: the lifetime value up to each period', () => {
    expect(values({ measure: 'per person', of: fare, cumulated: true })).toEqual([0, 1.25, 2.5])
    expect(values({ measure: 'events', cumulated: true })).toEqual([0, 3, 5])
  })

  test('a sum without a property is a fault with its place', () => {
    expect(faultsOf(log, asked({ measure: 'sum' }))).toMatchObject([{ path: ['measure'], code: 'no_property' }])
  })

  test('more cohorts than anybody can read are refused', () => {
    expect(faultsOf(log, asked({ every: 'hour', range: { last: 12, unit: 'week' } }))).toMatchObject([
      { path: ['every'], code: 'too_many_buckets' },
    ])
  })
})

describe('groups', () => {
  test('are read at the start, ranked by how many start, and the rest counted as one', () => {
    const join = (person: string, at: number, town: string): TestEvent => ({
      ...{ person, event: 'join', time: MONDAY + days(at), properties: { town } },
    })
    const log = logOf([
      join('ada', 0, 'Quay'),
      join('bea', 0, 'Quay'),
      join('cai', 0, 'Mint'),
      join('dot', 1, 'Mill'),
      // Not the first of hers: it says nothing.
      join('ada', 1, 'Mill'),
      { person: 'ada', event: 'ride', time: MONDAY + days(7) },
      { person: 'dot', event: 'ride', time: MONDAY + days(7) },
    ])
    const by = { of: 'event' as const, name: 'town' }
    const result = ask(log, { breakdowns: [{ by, keep: 1 }], upTo: 1 })
    expect(result.groups.map(({ key, people, line }) => [key, people, line[1].returned])).toEqual([
      [{ value: 'Quay' }, 2, 1],
      [{ rest: true }, 2, 1],
    ])
    const mark: RetentionMark = { kind: 'cohort', period: 1, what: 'returned', group: { rest: true } }
    expect(peopleIn(log, asked({ breakdowns: [{ by, keep: 1 }], upTo: 1 }), [mark])).toEqual(['dot'])
  })
})

const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot', 'eve', 'flo', 'gus'),
  event: fc.constantFrom('join', 'ride', 'ride'),
  // Few distinct times, many at the edges of days, weeks and months, some outside of the range and after now.
  time: fc
    .tuple(fc.integer({ min: -8, max: 66 }), fc.constantFrom(0, 1, 86_399_999, 43_200_000, 3_600_000))
    .map(([day, ms]) => MONDAY + days(day) + ms),
  properties: fc.record({ town: fc.constantFrom('Quay', 'Mint', 'Mill') }),
})
const people = fc.array(event, { minLength: 2, maxLength: 50 }).map((list) => [
  ...list,
  ...['join', 'ride'].map((name) => ({
    ...{ person: 'zoe', event: name, time: MONDAY - days(300) },
    properties: { town: 'Quay' },
  })),
])
const modes: fc.Arbitrary<Partial<RetentionQuestion>> = fc.record(
  {
    every: fc.constantFrom('day' as const, 'week' as const, 'month' as const),
    by: fc.constantFrom('clock' as const),
    count: fc.constantFrom('from' as const),
    first: fc.constant(true as const),
    back: fc.constantFrom({ event: { names: ['ride'] } }, { event: { activity: true as const } }),
    brackets: fc.constantFrom<[number, number][]>(
      [
        [0, 0],
        [1, 7],
        [9, 20],
      ],
      [[3, 10]],
    ),
    upTo: fc.integer({ min: 1, max: 8 }),
    breakdowns: fc.constant([{ by: { of: 'event' as const, name: 'town' }, keep: 2 }]),
  },
  { requiredKeys: ['every'] },
)

describe('on random timelines, in every mode', () => {
  const how = { now: NOW, calendar: { zone: 'Europe/Lisbon', firstDayOfWeek: 7 } }
  const question = (more: Partial<RetentionQuestion>): RetentionQuestion => {
    const { back: _back, ...plain } = asked({ range: { from: '2026-01-07', to: '2026-02-11' } })
    return { ...plain, ...more }
  }

  test('is what the definition gives, cell by cell; and each cell’s people are those that can be read from it', () => {
    fc.assert(
      fc.property(people, modes, (list, more) => {
        const asked = question(more)
        const log = logOf(list, { zone: how.calendar.zone })
        const result = answer<RetentionResult>(log, asked, how)
        const span = spanOf(asked.range, how.now, how.calendar)
        const rules = {
          isStart: ({ event }: { event: string }) => event === 'join',
          isBack: ({ event }: { event: string }) =>
            asked.back && 'activity' in asked.back.event ? true : event === (asked.back ? 'ride' : 'join'),
          ...{ firstEver: asked.first === true, every: asked.every, clock: asked.by === 'clock' },
          ...{ brackets: asked.brackets !== undefined, onward: asked.count === 'from' },
          ...{ from: span.from, until: span.until, ...how },
        }
        const starters = referenceStarters(list, rules)
        const isEnded = (start: number, last: number) => {
          // Over when now is at least a step past the last one, at its very beginning included.
          const apart = stepsApart(start, how.now, rules)
          return apart > last
        }
        result.cohorts.forEach(({ key, open }, c) => {
          const own = starters.filter(({ cohort }) => cohort === key)
          expect(result.all.started[c]).toBe(own.length)
          result.periods.forEach(([low, high], k) => {
            const back = own.filter(({ steps }) => steps.some((step) => step >= low && (rules.onward || step <= high)))
            const cell = result.all.cells[c][k]
            expect(cell.returned).toBe(back.length)
            if (own.length > 0)
              expect(cell.state === 'complete').toBe(!open && own.every(({ start }) => isEnded(start.time, high)))
            const mark: RetentionMark = { kind: 'cohort', cohort: key, period: k, what: 'returned' }
            expect(peopleIn(log, asked, [mark], how).sort()).toEqual(back.map(({ person }) => person).sort())
          })
        })
        for (const group of result.groups)
          group.line.forEach((point, k) => {
            const mark = (what: 'returned' | 'not'): RetentionMark => ({
              ...{ kind: 'cohort', period: k, what },
              group: group.key!,
            })
            expect(peopleIn(log, asked, [mark('returned')], how)).toHaveLength(point.returned)
            expect(peopleIn(log, asked, [mark('not')], how)).toHaveLength(point.people - point.returned)
          })
      }),
      { numRuns: 150 },
    )
  })

  test('from the period on is never fewer than in it, and never rises; everybody is in one cohort', () => {
    fc.assert(
      fc.property(people, modes, (list, more) => {
        const log = logOf(list, { zone: how.calendar.zone })
        const { count: _count, ...plain } = question(more)
        const inside = answer<RetentionResult>(log, plain, how)
        const onward = answer<RetentionResult>(log, { ...plain, count: 'from' }, how)
        inside.all.cells.forEach((row, c) =>
          row.forEach(({ returned }, k) => {
            expect(onward.all.cells[c][k].returned).toBeGreaterThanOrEqual(returned)
            if (k > 0) expect(onward.all.cells[c][k].returned).toBeLessThanOrEqual(onward.all.cells[c][k - 1].returned)
          }),
        )
        expect(inside.all.started.reduce((sum, n) => sum + n, 0)).toBe(inside.all.people)
      }),
      { numRuns: 100 },
    )
  })

  test('gives the same however the people are cut into ranges', () => {
    fc.assert(
      fc.property(people, modes, fc.array(fc.double({ min: 0, max: 1, noNaN: true })), (list, more, cuts) => {
        const log = logOf(list)
        expect(answer(log, question(more), { ...how, cuts })).toEqual(answer(log, question(more), how))
      }),
      { numRuns: 100 },
    )
  })
})
