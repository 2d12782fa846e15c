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
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import type { Split } from '../../questions/split.js'
import type { TrendResult } from './finish.js'
import type { TrendMeasure } from './measures.js'
import { withoutSeries, type TrendQuestion, type TrendSeries } from './question.js'

/** Figures worked out by hand for each measure, breakdown and comparison. */

const fare = { of: 'event', name: 'fare' } as const
const ride = (person: string, day: number, properties: TestEvent['properties'] = {}): TestEvent => ({
  person,
  event: 'ride',
  time: MONDAY + days(day),
  properties,
})
const weekly = (series: Partial<TrendSeries> & { measure: TrendMeasure }, more: Partial<TrendQuestion> = {}) =>
  ({
    kind: 'trend',
    series: [{ event: { names: ['ride'] }, ...series }],
    every: 'week',
    range: { from: '2026-01-05', to: '2026-01-25' },
    show: { form: 'lines', as: 'number' },
    ...more,
  }) satisfies TrendQuestion
const figures = (log: TestLog, question: TrendQuestion, line = 0, asked?: Asked) => {
  const { all } = answer<TrendResult>(log, question, asked).lines[line]
  return [...all.values, all.total]
}

describe('of a number that events carry', () => {
  // Week 1: ada 2 and 4, bea 9, cai none. Week 2: ada 1. Week 3: a text, which is no number.
  const log = logOf([
    ride('ada', 0, { fare: 2 }),
    ride('ada', 1, { fare: 4 }),
    ride('bea', 2, { fare: 9 }),
    ride('cai', 2),
    ride('ada', 7, { fare: 1 }),
    ride('ada', 14, { fare: '5' }),
  ])
  test.each<[TrendMeasure, (number | null)[]]>([
    ['sum', [15, 1, 0, 16]],
    ['average', [5, 1, null, 4]],
    ['minimum', [2, 1, null, 1]],
    ['maximum', [9, 1, null, 9]],
    // 1 2 4 9: between the closest ranks
    ['median', [4, 1, null, 3]],
    ['90th percentile', [8, 1, null, 7.5]],
    // ada 6 and bea 9 in week 1; ada 7 and bea 9 in all
    ['per person', [7.5, 1, null, 8]],
  ])('%s', (measure, expected) => {
    const got = figures(log, weekly({ measure, of: fare }))
    expect(got.map((x) => (x === null ? null : Number(x.toFixed(9))))).toEqual(expected)
  })

  test('distinct values keep the text "5" and the number 5 apart, and count a list’s elements', () => {
    const mixed = logOf([
      ride('ada', 0, { fare: 5 }),
      ride('ada', 1, { fare: '5' }),
      ride('bea', 2, { fare: ['5', 'x'] }),
      ride('bea', 8, { fare: 5 }),
    ])
    expect(figures(mixed, weekly({ measure: 'distinct values', of: fare }))).toEqual([3, 1, 0, 3])
  })

  test('a measure of a property that names none is a fault with its place', () => {
    expect(faultsOf(log, weekly({ measure: 'median' }))).toEqual([
      { path: ['series', 0, 'of'], code: 'no_property', got: 'median' },
    ])
  })
})

describe('people over longer times', () => {
  test('the share of active people asks neither for the group nor for the filter', () => {
    const log = eventLog({ ada: 'ride@0d', bea: 'look@1d', cai: 'mail@1d', dot: 'ride@8d' }, { passive: ['mail'] })
    expect(figures(log, weekly({ measure: 'share of active people' }))).toEqual([0.5, 1, null, 2 / 3])
  })

  test('people of the last 7 days, each day: before the range too, and up to the day’s end', () => {
    const log = eventLog({ ada: 'ride@-6d', bea: 'ride@-7d', cai: 'ride@1d' })
    const question = weekly(
      { measure: 'people in the last days', days: 7 },
      { every: 'day', range: { from: '2026-01-05', to: '2026-01-07' } },
    )
    // On the 5th: 30 Dec to 5 Jan. The whole range ends on the 7th: 1 to 7 Jan.
    expect(figures(log, question)).toEqual([1, 1, 1, 1])
    expect(peopleIn(log, question, [{ kind: 'point', bucket: '2026-01-05' }])).toEqual(['ada'])
    expect(peopleIn(log, question, [{ kind: 'point' }])).toEqual(['cai'])
  })

  test('people in the last days cannot be asked by hour', () => {
    const question = weekly({ measure: 'people in the last days' }, { every: 'hour' })
    expect(faultsOf(eventLog({ ada: 'ride@0d' }), question)[0]).toMatchObject({ code: 'not_by_hour' })
  })

  test('people so far count whoever did it before the bucket’s end, however long ago', () => {
    const log = eventLog({ ada: 'ride@-300d', bea: 'ride@0d ride@9d', cai: 'ride@20d', dot: 'ride@21d' })
    expect(figures(log, weekly({ measure: 'people so far' }))).toEqual([2, 2, 3, 3])
  })

  test('sessions that hold the event count where they start, even at the turn of the range', () => {
    const log = eventLog({
      // One session across midnight at the end of week 1, of which only the look lies in it.
      ada: 'look@6d+23h+50m ride@7d+10m',
      // A gap of exactly 30 minutes goes on; one more millisecond begins another.
      bea: 'ride@1d ride@1d+30m ride@1d+60m+1ms',
      // Starts before the range.
      cai: 'look@-5m ride@5m',
    })
    expect(figures(log, weekly({ measure: 'sessions' }))).toEqual([3, 0, 0, 3])
  })
})

describe('several series and formulas', () => {
  const log = logOf([ride('ada', 0, { fare: 6 }), ride('bea', 1, { fare: 3 }), ride('ada', 8), ride('dot', 20)])
  const two = (formula: string): TrendQuestion => ({
    ...weekly({ measure: 'people' }),
    series: [
      { event: { names: ['ride'] }, measure: 'people', name: 'riders' },
      { event: { names: ['ride'] }, measure: 'sum', of: fare, name: 'fares', hidden: true },
    ],
    formulas: [{ formula, unit: 'money' }],
  })

  test('a formula is worked out in each bucket and on the range’s own figures', () => {
    expect(figures(log, two('fares / riders'), 2)).toEqual([4.5, 0, 0, 3])
    // ÷ 0 is a gap
    expect(figures(log, two('riders / fares'), 2)).toEqual([2 / 9, null, null, 3 / 9])
  })

  test('a formula’s people are those of the series it uses', () => {
    const mark = { kind: 'point', bucket: '2026-01-05', formula: 0 } as const
    expect(peopleIn(log, two('fares / riders'), [mark])).toEqual(['ada', 'bea'])
  })

  test('a series taken away leaves formulas with the series they mean', () => {
    const unnamed: TrendQuestion = {
      ...weekly({ measure: 'events' }),
      series: [
        { event: { names: ['ride'] }, measure: 'events' },
        { event: { names: ['ride'] }, measure: 'people' },
      ],
      formulas: [{ formula: 'b * 10', unit: 'number' }],
      show: { form: 'lines', as: 'number', off: ['s1 null'] },
    }
    const left = withoutSeries(unnamed, 0)
    expect(figures(log, left, 1)).toEqual(figures(log, unnamed, 2))
    expect(left.show).toEqual({ form: 'lines', as: 'number' })
  })

  test('an unknown name, an open parenthesis and a name used twice are told with their places', () => {
    expect(faultsOf(log, two('fares / rider'))).toMatchObject([
      { path: ['formulas', 0, 'formula'], code: 'bad_formula', got: 'rider' },
    ])
    expect(faultsOf(log, two('(fares / riders'))).toMatchObject([{ code: 'bad_formula' }])
    const twice = { ...two('riders'), series: two('riders').series.map((series) => ({ ...series, name: 'x' })) }
    expect(faultsOf(log, { ...twice, formulas: [] })).toMatchObject([
      { path: ['series', 1, 'name'], code: 'name_twice', got: 'x' },
    ])
  })
})

describe('breakdowns', () => {
  const groups = (log: TestLog, breakdowns: Split[], measure: TrendMeasure = 'events') => {
    const { lines, keys, rest } = answer<TrendResult>(log, weekly({ measure }, { breakdowns }))
    return { totals: lines[0].groups.map(({ total }) => total), keys, rest }
  }
  const log = logOf([
    ride('ada', 0, { fare: 1, bike: 'pedal' }),
    ride('ada', 5, { fare: 2, bike: 'pedal' }),
    ride('bea', 5, { fare: 3, bike: 'cargo' }),
    ride('bea', 6, { fare: 10, bike: 'cargo' }),
    ride('cai', 6, { bike: 'pedal' }),
  ])
  const bike = { of: 'event', name: 'bike' } as const

  test('weekdays stand in the order of the week', () => {
    const { keys, totals } = groups(log, [{ by: { of: 'weekday' }, keep: 10 }])
    expect(keys).toEqual([{ weekday: 1 }, { weekday: 6 }, { weekday: 7 }])
    expect(totals).toEqual([1, 2, 2])
  })

  test('hours are those of the workspace’s clock', () => {
    const { lines, keys } = answer<TrendResult>(
      log,
      weekly({ measure: 'events' }, { breakdowns: [{ by: { of: 'hour' }, keep: 24 }] }),
      { calendar: { zone: 'Asia/Tokyo', firstDayOfWeek: 1 } },
    )
    expect([keys, lines[0].groups[0].total]).toEqual([[{ hour: 9 }], 5])
  })

  test('combinations of two breakdowns are ranked together, and the rest are counted as one', () => {
    const { keys, totals, rest } = groups(log, [
      { by: bike, keep: 2 },
      { by: { of: 'weekday' }, keep: 10 },
    ])
    // pedal on Monday, Saturday and Sunday, cargo on Saturday and Sunday: one each, by name
    expect(keys).toEqual([
      { each: [{ value: 'cargo' }, { weekday: 6 }] },
      { each: [{ value: 'cargo' }, { weekday: 7 }] },
      { rest: true },
    ])
    expect([totals, rest]).toEqual([[1, 1, 3], 3])
  })

  test('ranges of equal width hold their lower end; the last holds both', () => {
    const { keys, totals } = groups(log, [{ by: fare, keep: 10, cuts: { equal: 'width', parts: 3 } }])
    expect(keys).toEqual([{ range: [1, 4] }, { range: [7, 10], closed: true }, { value: null }])
    expect(totals).toEqual([3, 1, 1])
  })

  test('ranges with equally many events', () => {
    const { keys, totals } = groups(log, [{ by: fare, keep: 10, cuts: { equal: 'count', parts: 2 } }])
    expect(keys).toEqual([{ range: [1, 3] }, { range: [3, 10], closed: true }, { value: null }])
    expect(totals).toEqual([2, 2, 1])
  })

  test('own cut points, open at both ends', () => {
    const { keys, totals } = groups(log, [{ by: fare, keep: 10, cuts: { at: [2, 10] } }])
    expect(keys).toEqual([{ range: [null, 2] }, { range: [2, 10] }, { range: [10, null] }, { value: null }])
    expect(totals).toEqual([1, 2, 1, 1])
  })

  test('chosen groups, and what is not shown is in no row but in the whole', () => {
    expect(groups(log, [{ by: bike, keep: 10, only: [{ value: 'cargo' }], hideRest: true }])).toEqual({
      ...{ keys: [{ value: 'cargo' }], totals: [2], rest: 0 },
    })
    const without = answer<TrendResult>(
      log,
      weekly({ measure: 'events' }, { breakdowns: [{ by: fare, keep: 10, cuts: { at: [5] }, hideNone: true }] }),
    )
    expect([without.keys.length, without.lines[0].all.total]).toEqual([2, 5])
  })

  test('groups are ranked by the first measure, whatever it is', () => {
    const { keys } = groups(log, [{ by: bike, keep: 10 }], 'events')
    expect(keys).toEqual([{ value: 'pedal' }, { value: 'cargo' }])
    const byAverage = answer<TrendResult>(
      log,
      weekly({ measure: 'average', of: fare }, { breakdowns: [{ by: bike, keep: 10 }] }),
    )
    expect(byAverage.keys).toEqual([{ value: 'cargo' }, { value: 'pedal' }])
  })
})

describe('compared with', () => {
  const log = eventLog({ ada: 'ride@-7d ride@0d', bea: 'ride@-6d ride@9d', cai: 'ride@-21d' })
  const before = (question: TrendQuestion, asked?: Asked) => {
    const { lines, beforeBuckets } = answer<TrendResult>(log, question, asked)
    return { values: lines[0].before!.all.values, keys: beforeBuckets!.map(({ key }) => key) }
  }

  test('whole buckets go back by as many buckets', () => {
    expect(before(weekly({ measure: 'people' }, { compare: { to: 'before' } }))).toEqual({
      values: [1, 0, 2],
      keys: ['2025-12-15', '2025-12-22', '2025-12-29'],
    })
  })

  test('other days go back by as many days', () => {
    const question = weekly(
      { measure: 'people' },
      { every: 'day', range: { from: '2026-01-05', to: '2026-01-07' }, compare: { to: 'before' } },
    )
    expect(before(question).keys).toEqual(['2026-01-02', '2026-01-03', '2026-01-04'])
  })

  test('the last 2 weeks stand beside the 2 before, the open one beside an equally long part', () => {
    const question = weekly({ measure: 'people' }, { range: { last: 2, unit: 'week' }, compare: { to: 'before' } })
    const now = MONDAY + days(0.5)
    const { values, keys } = before(question, { now })
    expect(keys).toEqual(['2025-12-15', '2025-12-22'])
    expect(values).toEqual([1, 0])
    const wider = before({ ...question, range: { last: 1, unit: 'week' } }, { now: MONDAY + days(1) - 1 })
    // bea rode on Tuesday of the week before: later than the same time of that week
    expect(wider.values).toEqual([1])
  })

  test('a month earlier ends on the month’s last day where the date does not exist', () => {
    const question = weekly(
      { measure: 'people' },
      { every: 'day', range: { from: '2026-03-30', to: '2026-03-31' }, compare: { to: 'month' } },
    )
    expect(before(question, { now: Date.UTC(2026, 5, 1) }).keys).toEqual(['2026-02-28'])
  })

  test('its people can be read, and so can those of one bucket and not of another', () => {
    const question = weekly({ measure: 'people' }, { compare: { to: 'week' } })
    expect(peopleIn(log, question, [{ kind: 'point', before: true, bucket: '2025-12-29' }])).toEqual(['ada', 'bea'])
    expect(peopleIn(log, question, [{ kind: 'point', bucket: '2026-01-12', not: '2026-01-05' }])).toEqual(['bea'])
  })
})
