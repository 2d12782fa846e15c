import { rangeSchema } from './rangeSchema.js'
import type { Range } from './range.js'
import { describe, expect, test } from 'vitest'
import { bucketAt, bucketsOf, gridOf } from './buckets.js'
import { spanOf, startOfDay, startOfHour, type Calendar, type Unit } from './range.js'
import { Temporal } from 'temporal-polyfill'

const lisbon: Calendar = { zone: 'Europe/Lisbon', firstDayOfWeek: 1 }
const at = (iso: string) => Date.parse(iso)
const iso = (ms: number) => new Date(ms).toISOString()

describe('a range', () => {
  const span = (range: Range, now: string, calendar = lisbon) => {
    const { from, until } = spanOf(range, at(now), calendar)
    return [iso(from), iso(until)]
  }

  test('of whole days runs from the start of the first to the end of the last, in the zone', () => {
    expect(span({ from: '2026-06-01', to: '2026-06-02' }, '2026-07-01T00:00:00Z')).toEqual([
      '2026-05-31T23:00:00.000Z',
      '2026-06-02T23:00:00.000Z',
    ])
  })

  test('ends at now at the latest, and now itself is seen', () => {
    expect(span({ from: '2026-06-01', to: '2026-06-30' }, '2026-06-10T12:00:00Z')[1]).toBe('2026-06-10T12:00:00.001Z')
    expect(span({ from: '2026-06-01' }, '2026-06-10T12:00:00Z')[1]).toBe('2026-06-10T12:00:00.001Z')
  })

  test('in the future is empty', () => {
    const { from, until } = spanOf({ from: '2027-01-01', to: '2027-01-02' }, at('2026-06-10T12:00:00Z'), lisbon)
    expect(until).toBe(from)
    expect(
      bucketsOf({ from, until, firstDay: '2027-01-01', lastDay: '2027-01-02' }, 'day', at('2026-06-10'), lisbon),
    ).toEqual([])
  })

  test.each<[Range, string]>([
    [{ last: 1, unit: 'day' }, '2026-11-18T00:00:00.000Z'],
    [{ last: 7, unit: 'day' }, '2026-11-12T00:00:00.000Z'],
    [{ last: 1, unit: 'week' }, '2026-11-16T00:00:00.000Z'],
    [{ last: 3, unit: 'month' }, '2026-08-31T23:00:00.000Z'],
    [{ last: 1, unit: 'quarter' }, '2026-09-30T23:00:00.000Z'],
    [{ last: 2, unit: 'hour' }, '2026-11-18T14:00:00.000Z'],
  ])('%o is the current unit and the whole ones before it', (range, from) => {
    expect(span(range, '2026-11-18T15:30:00Z')[0]).toBe(from)
  })

  test.each([
    [{ last: 0, unit: 'day' }],
    [{ last: 3, unit: 'fortnight' }],
    [{ from: '2026-02-30' }],
    [{ from: '2026-03-02', to: '2026-03-01' }],
    [{ from: 'yesterday' }],
  ])('%o is refused', (range) => expect(rangeSchema.safeParse(range).success).toBe(false))
})

describe('the calendar', () => {
  test('a day starts when its first moment is, also where midnight does not exist', () => {
    // In Santiago the clocks go from 00:00 to 01:00 on 6 September 2026.
    expect(iso(startOfDay(Temporal.PlainDate.from('2026-09-06'), 'America/Santiago'))).toBe('2026-09-06T04:00:00.000Z')
    expect(iso(startOfDay(Temporal.PlainDate.from('2026-09-05'), 'America/Santiago'))).toBe('2026-09-05T04:00:00.000Z')
  })

  test('hours are those of the zone’s clock, also in zones of half an hour', () => {
    expect(iso(startOfHour(at('2026-06-01T10:10:00Z'), 'Asia/Kolkata'))).toBe('2026-06-01T09:30:00.000Z')
  })

  test('a range that ends within its last bucket cuts it, also while that is still open; one that runs on does not', () => {
    const now = at('2026-11-15T12:00:00Z')
    const last = (range: Range, unit: Unit) => bucketsOf(spanOf(range, now, lisbon), unit, now, lisbon).at(-1)
    expect(last({ from: '2026-10-01', to: '2026-11-20' }, 'month')).toMatchObject({ open: true, cut: true })
    expect(last({ from: '2026-10-01', to: '2026-11-15' }, 'month')).toMatchObject({ open: true, cut: true })
    expect(last({ from: '2026-10-01', to: '2026-11-14' }, 'month')).toMatchObject({ open: false, cut: true })
    expect(last({ from: '2026-10-01', to: '2026-11-30' }, 'month')).toMatchObject({ open: true, cut: false })
    expect(last({ from: '2026-10-01', to: '2026-11-15' }, 'day')).toMatchObject({ open: true, cut: false })
    expect(last({ from: '2026-10-01' }, 'month')).toMatchObject({ open: true, cut: false })
    expect(last({ last: 2, unit: 'month' }, 'month')).toMatchObject({ open: true, cut: false })
  })

  test('quarters start in January', () => {
    const span = spanOf({ from: '2026-02-01', to: '2026-08-31' }, at('2026-12-01'), lisbon)
    const buckets = bucketsOf(span, 'quarter', at('2026-12-01'), lisbon)
    expect(buckets.map(({ key, cut }) => [key, cut])).toEqual([
      ['2026-01-01', true],
      ['2026-04-01', false],
      ['2026-07-01', true],
    ])
  })

  test.each<[Unit, string]>([
    ['hour', 'Asia/Kathmandu'],
    ['day', 'Australia/Lord_Howe'],
    ['week', 'America/Santiago'],
    ['month', 'Europe/Lisbon'],
  ])('buckets of a year by %s in %s meet without gaps, and the grid finds each', (unit, zone) => {
    const calendar = { zone, firstDayOfWeek: 3 }
    const now = at('2027-01-01')
    const range: Range =
      unit === 'hour' ? { from: '2026-03-20', to: '2026-04-20' } : { from: '2026-01-01', to: '2026-12-31' }
    const span = spanOf(range, now, calendar)
    const buckets = bucketsOf(span, unit, now, calendar)
    for (let i = 1; i < buckets.length; i++) expect(buckets[i].start).toBe(buckets[i - 1].end)
    const grid = gridOf(span, buckets)
    buckets.forEach(({ start, end }, b) => {
      expect(bucketAt(grid, Math.max(start, span.from))).toBe(b)
      expect(bucketAt(grid, Math.min(end, span.until) - 1)).toBe(b)
    })
  })

  test('asking again with a longer range adds buckets and changes none', () => {
    const now = at('2026-12-01')
    const short = bucketsOf(spanOf({ from: '2026-01-05', to: '2026-02-01' }, now, lisbon), 'week', now, lisbon)
    const long = bucketsOf(spanOf({ from: '2026-01-05', to: '2026-03-01' }, now, lisbon), 'week', now, lisbon)
    expect(long.slice(0, short.length)).toEqual(short)
    expect(long).toHaveLength(8)
  })
})
