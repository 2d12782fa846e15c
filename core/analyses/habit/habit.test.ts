import { habitFindings } from './findings.js'
import { parseHabit } from './schema.js'
import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, test } from 'vitest'
import {
  faultsOf,
  answer,
  days,
  eventLog,
  logOf,
  MONDAY,
  peopleIn,
  type Asked,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { dayOf, startOfDay } from '../../time/range.js'
import type { HabitResult } from './finish.js'
import type { HabitPeriod, HabitQuestion } from './question.js'
import type { HabitMark } from './marks.js'

const asked = (more: Partial<HabitQuestion> = {}): HabitQuestion => ({
  kind: 'habit',
  start: { event: { names: ['ride'] } },
  period: 'week',
  range: { from: '2026-01-05', to: '2026-01-18' },
  show: { form: 'at least' },
  ...more,
})
const ask = (log: TestLog, more: Partial<HabitQuestion> = {}, how?: Asked) => answer<HabitResult>(log, asked(more), how)

describe('days in a week', () => {
  test('are different local days; a person counts once in each week', () => {
    const log = eventLog({ ada: 'ride@0d ride@0d+5h ride@2d ride@9d', bea: 'ride@6d+23h ride@7d', cai: 'other@1d' })
    const { all, periods } = ask(log)
    expect(periods).toEqual(['2026-01-05', '2026-01-12'])
    expect(all.periods).toEqual([
      [1, 1, 0, 0, 0, 0, 0],
      [2, 0, 0, 0, 0, 0, 0],
    ])
    expect(all.exactly.slice(0, 2)).toEqual([3, 1])
    expect(all.active).toBe(4)
    // One week of two days and three of one.
    expect(all.average).toBe(1.25)
    expect(all.people.slice(0, 2)).toEqual([2, 1])
    expect(all.peopleMore.slice(0, 3)).toEqual([2, 1, 0])
  })

  test('leave out weeks that the range cuts, or that are not over', () => {
    const log = eventLog({ ada: 'ride@3d ride@10d ride@17d' })
    const range = { from: '2026-01-07', to: '2026-01-31' }
    expect(ask(log, { range }, { now: MONDAY + days(20) }).periods).toEqual(['2026-01-12'])
    expect(ask(log, { range }, { now: MONDAY + days(21) }).periods).toEqual(['2026-01-12', '2026-01-19'])
  })

  test('turn up by weekday, on average over the weeks', () => {
    const { all, times } = ask(eventLog({ ada: 'ride@0d ride@7d ride@8d', bea: 'ride@0d ride@0d+1h' }))
    expect(times).toEqual([2, 2, 2, 2, 2, 2, 2])
    expect(all.pattern.slice(0, 3)).toEqual([
      { days: 3, people: 2 },
      { days: 1, people: 1 },
      { days: 0, people: 0 },
    ])
  })

  test('are their people: of a bar, a week, a weekday', () => {
    const log = eventLog({ ada: 'ride@0d ride@2d ride@9d', bea: 'ride@6d ride@7d', cai: 'other@1d' })
    const of = (mark: object) => peopleIn(log, asked(), [{ kind: 'days', ...mark } as HabitMark])
    expect(of({ days: 2 })).toEqual(['ada'])
    expect(of({ days: 1, more: true })).toEqual(['ada', 'bea'])
    expect(of({ days: 1, bucket: '2026-01-05' })).toEqual(['bea'])
    expect(of({ place: 2 })).toEqual(['ada'])
  })
})

describe('other periods', () => {
  test('hours in a day: the hour that autumn repeats is two', () => {
    const at = (text: string) => Temporal.ZonedDateTime.from(text).epochMilliseconds
    const log = logOf(
      [
        '2026-10-25T01:30+01:00[Europe/Lisbon]',
        '2026-10-25T01:30+00:00[Europe/Lisbon]',
        '2026-10-25T12:00[Europe/Lisbon]',
      ].map((text): TestEvent => ({ person: 'ada', event: 'ride', time: at(text) })),
      { zone: 'Europe/Lisbon' },
    )
    const how = { now: at('2026-11-20T12:00[Europe/Lisbon]'), calendar: { zone: 'Europe/Lisbon', firstDayOfWeek: 1 } }
    const { all, most } = ask(log, { period: 'day', range: { from: '2026-10-25', to: '2026-10-25' } }, how)
    expect(most).toBe(25)
    expect(all.exactly.indexOf(1)).toBe(3 - 1)
  })

  test('weeks in 4 weeks: put together from the last whole week backwards', () => {
    const log = eventLog({ ada: 'ride@0d ride@8d ride@15d ride@28d', bea: 'ride@36d' })
    const { periods, all } = ask(log, { period: '4 weeks', range: { from: '2026-01-05', to: '2026-02-15' } })
    // Six whole weeks: the last four of them, and a shorter piece that is left out.
    expect(periods).toEqual(['2026-01-19'])
    expect(all.periods).toEqual([[1, 1, 0, 0]])
  })

  test('a threshold of more days than a week has is a fault where it stands', () => {
    const { faults } = parseHabit(asked({ core: { days: 8, name: 'Core' } }))
    expect(faults.map(({ path }) => path[0])).toContain('core')
  })
})

describe('groups', () => {
  const ride = (person: string, at: number): TestEvent => ({ person, event: 'ride', time: MONDAY + days(at) })

  test('of people are ranked by person-weeks', () => {
    const log = logOf(
      [ride('ada', 0), ride('ada', 1), ride('ada', 7), ride('bea', 3), ride('cai', 2), ride('cai', 3)],
      { profiles: { ada: { plan: 'basic' }, bea: { plan: 'plus' }, cai: {} } },
    )
    const breakdowns = [{ by: { of: 'person' as const, name: 'plan' }, keep: 10 }]
    const { groups, all } = ask(log, { breakdowns })
    expect(groups.map(({ key, exactly }) => [key, exactly.slice(0, 3)])).toEqual([
      [{ value: 'basic' }, [1, 1, 0]],
      [{ value: 'plus' }, [1, 0, 0]],
      [{ value: null }, [0, 1, 0]],
    ])
    expect(all.exactly.slice(0, 3)).toEqual([2, 2, 0])
    expect(peopleIn(log, asked({ breakdowns }), [{ kind: 'days', days: 2, group: { value: 'basic' } }])).toEqual([
      'ada',
    ])
  })

  test('are not made by what is of an event', () => {
    const log = logOf([{ ...ride('ada', 0), properties: { bike: 'pedal' } }])
    for (const by of [{ of: 'event' as const, name: 'bike' }, { of: 'source' as const }, { of: 'weekday' as const }])
      expect(faultsOf(log, asked({ breakdowns: [{ by, keep: 10 }] }))).toMatchObject([
        { path: ['breakdowns', 0, 'by'], code: 'invalid' },
      ])
  })
})

const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot'),
  event: fc.constantFrom('ride', 'ride', 'other'),
  time: fc
    .tuple(fc.integer({ min: -10, max: 75 }), fc.constantFrom(0, 1, 86_399_999, 40_000_000, 4_500_000))
    .map(([day, ms]) => MONDAY + days(day) + ms),
  properties: fc.record({ bike: fc.constantFrom('pedal', 'cargo', 'tandem') }),
})
const timeline = fc
  .array(event, { maxLength: 60 })
  .map((list): TestEvent[] => [
    ...list,
    { person: 'zoe', event: 'ride', time: MONDAY - days(300), properties: { bike: 'pedal' } },
  ])
const period = fc.constantFrom<HabitPeriod>('day', 'week', 'month', '4 weeks', '8 weeks')
const how: Asked = { now: MONDAY + days(70) + 12_345_678, calendar: { zone: 'America/St_Johns', firstDayOfWeek: 7 } }

describe('on random timelines', () => {
  const question = (each: HabitPeriod, more: Partial<HabitQuestion> = {}) =>
    asked({ period: each, range: { last: 12, unit: 'week' }, ...more })

  test('is what the definition gives, period by period; at least one day is everybody; every bar is its people', () => {
    fc.assert(
      fc.property(timeline, period, (list, each) => {
        const log = logOf(list)
        const result = answer<HabitResult>(log, question(each), how)
        const { zone } = how.calendar!
        result.periods.forEach((key, p) => {
          const first = Temporal.PlainDate.from(key)
          const length = {
            day: { days: 1 },
            week: { weeks: 1 },
            month: { months: 1 },
            '4 weeks': { weeks: 4 },
            '8 weeks': { weeks: 8 },
          }[each]
          const [from, until] = [first, first.add(length)].map((day) => startOfDay(day, zone))
          expect(until).toBeLessThanOrEqual(how.now!)
          const unitOf = (at: number) => {
            if (each === 'day') return String(Math.floor((at + 30 * 60_000) / 3_600_000))
            const day = dayOf(at, zone)
            return result.unit === 'day'
              ? day.toString()
              : String(Math.floor(first.until(day, { largestUnit: 'days' }).days / 7))
          }
          const daysOf = (person: string) =>
            new Set(
              list
                .filter((one) => one.person === person && one.event === 'ride' && one.time >= from && one.time < until)
                .map(({ time }) => unitOf(time)),
            ).size
          const counted = log.people.map(daysOf)
          expect(result.all.periods[p]).toEqual(
            Array.from({ length: result.most }, (_, d) => counted.filter((n) => n === d + 1).length),
          )
          if (p > 5) return
          const mark: HabitMark = { kind: 'days', days: 2, more: true, bucket: key }
          expect(peopleIn(log, question(each), [mark], how)).toHaveLength(counted.filter((n) => n >= 2).length)
        })
        result.all.peopleMore.slice(0, 4).forEach((n, d) => {
          expect(peopleIn(log, question(each), [{ kind: 'days', days: d + 1, more: true }], how)).toHaveLength(n)
          expect(peopleIn(log, question(each), [{ kind: 'days', days: d + 1 }], how)).toHaveLength(result.all.people[d])
        })
        expect(result.all.exactly.reduce((sum, n) => sum + n, 0)).toBe(result.all.active)
        expect(habitFindings(result, question(each), { thisYear: 2026 }).findings.length).toBeGreaterThan(0)
      }),
      { numRuns: 40 },
    )
  })

  test('gives the same however the people are cut into ranges, with groups and without', () => {
    const by = fc.constantFrom<NonNullable<HabitQuestion['breakdowns']>>(
      [],
      [{ by: { of: 'person', name: 'plan' }, keep: 2 }],
    )
    fc.assert(
      fc.property(
        timeline,
        period,
        by,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true })),
        (list, each, breakdowns, cuts) => {
          const asked = question(each, breakdowns.length > 0 ? { breakdowns } : {})
          const log = logOf(list, { profiles: { ada: { plan: 'a' }, bea: { plan: 'b' }, cai: { plan: 'a' }, zoe: {} } })
          expect(answer(log, asked, { ...how, cuts })).toEqual(answer(log, asked, how))
        },
      ),
      { numRuns: 60 },
    )
  })
})
