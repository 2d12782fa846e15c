import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  faultsOf,
  logOf,
  MONDAY,
  peopleIn,
  type Asked,
  type TestLog,
} from '../../../tests/eventLog.js'
import type { TrendResult } from './finish.js'
import type { TrendMeasure } from './measures.js'
import type { TrendQuestion } from './question.js'

const trend = (more: Partial<TrendQuestion> = {}, measure: TrendMeasure = 'people'): TrendQuestion => ({
  kind: 'trend',
  series: [{ event: { names: ['ride'] }, measure }],
  every: 'week',
  range: { from: '2026-01-05', to: '2026-01-25' },
  show: { form: 'lines', as: 'number' },
  ...more,
})
/** The first line of the answer. */
const ask = (log: TestLog, question: TrendQuestion, asked?: Asked) => {
  const result = answer<TrendResult>(log, question, asked)
  return { ...result, ...result.lines[0] }
}
const values = (line: { all: { values: (number | null)[] } }) => line.all.values

describe('measures', () => {
  const log = eventLog({ ada: 'ride@0d ride@1d ride@8d', grace: 'ride@2d other@3d', hedy: 'other@1d' })

  test('people are distinct in each bucket, and over the range counted on the range', () => {
    const { all } = ask(log, trend())
    expect(all.values).toEqual([2, 1, 0])
    expect(all.total).toBe(2)
  })

  test('events are all that match; an empty bucket is 0', () => {
    const { all } = ask(log, trend({}, 'events'))
    expect([all.values, all.total]).toEqual([[3, 1, 0], 4])
  })

  test('events per person divide by who did it; an empty bucket is a gap', () => {
    const { all } = ask(log, trend({}, 'events per person'))
    expect([all.values, all.total]).toEqual([[1.5, 1, null], 2])
  })

  test('any activity counts every type that is not passive', () => {
    const seen = eventLog({ ada: 'ride@0d', grace: 'mail@0d', hedy: 'other@0d' }, { passive: ['mail'] })
    const question = trend({ series: [{ event: { activity: true }, measure: 'people' }] })
    expect(ask(seen, question).all.total).toBe(2)
  })
})

describe('time', () => {
  test('the range holds its first day from midnight and its last day to the end', () => {
    const log = eventLog({ a: 'ride@-1ms', b: 'ride@0d', c: 'ride@21d', d: 'ride@20d+23h+59m+59s+999ms' })
    expect(ask(log, trend()).all.total).toBe(2)
  })

  test('midnight belongs to the day it begins', () => {
    const log = eventLog({ ada: 'ride@1d', grace: 'ride@0d+23h+59m+59s+999ms' })
    const result = ask(log, trend({ every: 'day', range: { from: '2026-01-05', to: '2026-01-06' } }))
    expect(values(result)).toEqual([1, 1])
  })

  test('days are cut in the workspace’s zone', () => {
    const log = eventLog({ ada: 'ride@-2h' })
    const question = trend({ every: 'day', range: { from: '2026-01-05', to: '2026-01-05' } })
    expect(ask(log, question, { calendar: { zone: 'Asia/Tokyo', firstDayOfWeek: 1 } }).all.total).toBe(1)
  })

  const lisbon = { calendar: { zone: 'Europe/Lisbon', firstDayOfWeek: 1 }, now: Date.UTC(2026, 11, 1) }
  const at = (iso: string) => ({ person: iso, event: 'ride', time: Date.parse(iso) })

  test('the day of the spring change has 23 hours', () => {
    // 29 March 2026: 01:00 becomes 02:00 in Lisbon; the day ends at 23:00 UTC.
    const log = logOf([at('2026-03-29T00:00:00Z'), at('2026-03-29T22:59:59.999Z'), at('2026-03-29T23:00:00Z')])
    const day = trend({ every: 'day', range: { from: '2026-03-29', to: '2026-03-30' } })
    expect(values(ask(log, day, lisbon))).toEqual([2, 1])
    const hours = ask(log, trend({ every: 'hour', range: { from: '2026-03-29', to: '2026-03-29' } }), lisbon)
    expect(hours.buckets).toHaveLength(23)
  })

  test('the repeated hour of autumn is two', () => {
    // 25 October 2026: 02:00 becomes 01:00 in Lisbon; 00:30 UTC and 01:30 UTC are both 01:30.
    const log = logOf([at('2026-10-25T00:30:00Z'), at('2026-10-25T01:30:00Z')])
    const question = trend({ every: 'hour', range: { from: '2026-10-25', to: '2026-10-25' } }, 'events')
    const result = ask(log, question, lisbon)
    expect(result.buckets).toHaveLength(25)
    expect(values(result).slice(0, 4)).toEqual([0, 1, 1, 0])
    expect(new Set(result.buckets.map(({ key }) => key)).size).toBe(25)
  })

  test('weeks begin on the workspace’s first day', () => {
    const log = eventLog({ ada: 'ride@-1d', grace: 'ride@0d' })
    const question = trend({ range: { from: '2026-01-04', to: '2026-01-10' } })
    expect(values(ask(log, question, { calendar: { zone: 'UTC', firstDayOfWeek: 7 } }))).toEqual([2])
    expect(values(ask(log, question))).toEqual([1, 1])
  })

  test('the last 2 weeks are the current one up to now and the whole one before', () => {
    const log = eventLog({ a: 'ride@-1ms', b: 'ride@0d', c: 'ride@7d', d: 'ride@9d', e: 'ride@10d' })
    const result = ask(log, trend({ range: { last: 2, unit: 'week' } }), { now: MONDAY + days(9) })
    expect(values(result)).toEqual([1, 2])
    expect(result.buckets.map(({ open, cut }) => [open, cut])).toEqual([
      [false, false],
      [true, false],
    ])
  })

  test('a bucket has ended when the first moment after it is now', () => {
    const log = eventLog({ ada: 'ride@0d' })
    const openAt = (now: number) =>
      ask(log, trend({ range: { from: '2026-01-05', to: '2026-01-11' } }), { now }).buckets[0].open
    expect(openAt(MONDAY + days(7) - 1)).toBe(true)
    expect(openAt(MONDAY + days(7))).toBe(false)
  })

  test('a bucket that the range cuts holds what is inside, and is marked', () => {
    const log = eventLog({ ada: 'ride@1d', grace: 'ride@2d', hedy: 'ride@8d', ines: 'ride@9d' })
    const result = ask(log, trend({ range: { from: '2026-01-07', to: '2026-01-13' } }))
    expect(values(result)).toEqual([1, 1])
    expect(result.buckets.map(({ cut }) => cut)).toEqual([true, true])
  })
})

describe('breakdown', () => {
  const ride = (person: string, day: number, properties: Record<string, string | string[] | number>) => ({
    person,
    event: 'ride',
    time: MONDAY + days(day),
    properties,
  })
  const log = logOf([
    ride('ada', 0, { bike: 'pedal' }),
    ride('ada', 1, { bike: 'electric' }),
    ride('grace', 1, { bike: 'electric' }),
    ride('hedy', 2, { bike: 'cargo' }),
    { person: 'ines', event: 'ride', time: MONDAY },
  ])
  const by = (name: string, keep = 10, measure: TrendMeasure = 'people') =>
    trend({ breakdowns: [{ by: { of: 'event', name }, keep }] }, measure)

  test('no value is a group of its own; equal groups go by name, no value last', () => {
    const { groups } = ask(log, by('bike'))
    expect(groups.map(({ key, total }) => [key, total])).toEqual([
      [{ value: 'electric' }, 2],
      [{ value: 'cargo' }, 1],
      [{ value: 'pedal' }, 1],
      [{ value: null }, 1],
    ])
  })

  test('everything else counts its people once, and the whole is not the sum', () => {
    const result = ask(log, by('bike', 1))
    expect(result.groups.map(({ key, total }) => [key, total])).toEqual([
      [{ value: 'electric' }, 2],
      [{ rest: true }, 3],
    ])
    expect([result.rest, result.all.total, result.overlap]).toEqual([3, 4, true])
  })

  test('a list puts one event in each of its groups, once', () => {
    const said = logOf([
      ride('ada', 0, { said: ['good', 'quick'] }),
      ride('grace', 0, { said: ['good', 'good'] }),
      ride('hedy', 0, { said: [] }),
    ])
    const { groups, all } = ask(said, by('said', 10, 'events'))
    expect(groups.map(({ key, total }) => [key, total])).toEqual([
      [{ value: 'good' }, 2],
      [{ value: 'quick' }, 1],
      [{ value: null }, 1],
    ])
    expect(all.total).toBe(3)
  })

  test('the text "5" is not the number 5', () => {
    const mixed = logOf([ride('ada', 0, { code: '5' }), ride('grace', 0, { code: 5 }), ride('hedy', 0, { code: 5 })])
    expect(ask(mixed, by('code')).groups.map(({ key, total }) => [key, total])).toEqual([
      [{ value: 5 }, 2],
      [{ value: '5' }, 1],
    ])
  })

  test('dates are grouped by local day', () => {
    const booked = logOf(
      [
        ride('ada', 0, { booked: '2026-01-01T23:30:00Z' }),
        ride('grace', 0, { booked: '2026-01-02T01:00:00Z' }),
        ride('hedy', 0, { booked: '2026-01-04' }),
      ],
      { zone: 'Europe/Paris' },
    )
    const { groups } = ask(booked, by('booked'), {
      calendar: { zone: 'Europe/Paris', firstDayOfWeek: 1 },
    })
    expect(groups.map(({ key, total }) => [key, total])).toEqual([
      [{ value: '2026-01-02' }, 2],
      [{ value: '2026-01-04' }, 1],
    ])
  })

  test('a group’s people are those of its cells', () => {
    const question = by('bike')
    const mark = { kind: 'point', bucket: '2026-01-05', group: { value: 'electric' } } as const
    expect(peopleIn(log, question, [mark])).toEqual(['ada', 'grace'])
    expect(peopleIn(log, question, [{ kind: 'point', group: { value: null } }])).toEqual(['ines'])
    expect(peopleIn(log, question, [mark, { kind: 'point', group: { value: 'cargo' } }])).toEqual([
      'ada',
      'grace',
      'hedy',
    ])
  })
})

describe('faults', () => {
  const log = eventLog({ ada: 'ride@0d' })

  test('an unknown event is told with its place and the nearest name', () => {
    const question = trend({ series: [{ event: { names: ['rude'] }, measure: 'people' }] })
    expect(faultsOf(log, question)).toEqual([
      { path: ['series', 0, 'event'], code: 'unknown_event', got: 'rude', want: 'ride' },
    ])
  })

  test('so many points that nobody can read them are refused', () => {
    const question = trend({ every: 'hour', range: { from: '2025-01-01', to: '2026-01-01' } })
    expect(faultsOf(log, question)[0]).toMatchObject({ code: 'too_many_buckets', path: ['every'] })
  })
})
