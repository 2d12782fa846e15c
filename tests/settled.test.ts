import { describe, expect, test } from 'vitest'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { Question } from '../core/analyses/registry.js'
import { beforePeriod } from '../core/time/comparison.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { GroupKey } from '../core/questions/parts.js'
import { bucketsOf } from '../core/time/buckets.js'
import { spanOf } from '../core/time/range.js'
import { answer, days, eventLog, logOf, MONDAY, type TestEvent } from './eventLog.js'
import { membersIn } from './segmentLog.js'

/** Rules that two readers of them might have understood differently, each with its hand-worked numbers. */

const range = { from: '2026-01-05', to: '2026-02-01' }
const did = (name: string) => ({ event: { names: [name] } })
const funnel = (more: object): Question =>
  ({ kind: 'funnel', steps: [did('look'), did('buy')], window: { count: 7, unit: 'day' }, range, ...more }) as Question
const trend = (more: object): Question =>
  ({ kind: 'trend', series: [{ ...did('look'), measure: 'events' }], every: 'week', range, ...more }) as Question
const at = (person: string, event: string, hour: number, properties = {}): TestEvent => ({
  ...{ person, event, time: MONDAY + hour * 3_600_000, properties },
})

describe('funnels', () => {
  test('repeats count only what carries the attempt’s value, where one is held the same', () => {
    const log = logOf([
      at('ada', 'look', 0, { cart: 1 }),
      at('ada', 'look', 1, { cart: 2 }),
      at('ada', 'look', 2, { cart: 1 }),
      at('ada', 'buy', 3, { cart: 1 }),
    ])
    const repeats = (more: object) =>
      answer<FunnelResult>(log, funnel({ show: { form: 'repeats' }, ...more })).repeats![0]
    expect(repeats({ same: { of: 'event', name: 'cart' } })).toMatchObject({ people: 1, mean: 2 })
    expect(repeats({})).toMatchObject({ people: 1, mean: 3 })
  })

  test('after a loss: what followed any of a person’s attempts that were lost there', () => {
    const log = eventLog({ ada: 'look@0h help@0h+1m look@30d+0h call@30d+1m', bea: 'buy@0d help@20d call@20d' })
    const asked = funnel({
      count: 'attempts',
      range: { from: '2026-01-05', to: '2026-02-28' },
      show: { form: 'after', step: 0, within: { count: 1, unit: 'hour' } },
    })
    const { look } = answer<FunnelResult>(log, asked)
    const found = look!.form === 'after' ? look!.events.map((row) => [row.event, row.people]) : []
    expect(found).toEqual([
      ['call', 1],
      ['help', 1],
    ])
  })

  test('what sets them apart leaves out what steps name, and nothing where a step is any activity', () => {
    const people = Array.from({ length: 30 }, (_, i) => `p${i}`)
    const log = eventLog(
      Object.fromEntries(people.map((name, i) => [name, i < 15 ? 'look@0d help@1d buy@2d' : 'look@0d help@1d'])),
    )
    const events = (steps: object[]) => {
      const { look } = answer<FunnelResult>(log, funnel({ steps, show: { form: 'apart' } }))
      return look!.form === 'apart' ? look!.features.map(({ feature }) => feature.event) : []
    }
    expect(events([did('look'), did('buy')])).toEqual(['help'])
    expect(events([did('look'), { event: { activity: true } }, did('buy')])).toContain('help')
  })
})

describe('groups', () => {
  const by = (name: string, more = {}) => ({ by: { of: 'event' as const, name }, keep: 10, ...more })
  const keys = (result: TrendResult, line = 0) => result.lines[line].groups.map(({ key }) => key)

  test('a segment takes people of a very group, also of one that the study does not keep', () => {
    const log = logOf([
      ...['a', 'b', 'c'].flatMap((person) => at(person, 'look', 0, { size: 'large' })),
      at('d', 'look', 0, { size: 'small' }),
    ])
    const study = trend({ breakdowns: [by('size', { keep: 1 })] })
    const group: GroupKey = { value: 'small' }
    const rule = { hold: 'all' as const, of: [{ kind: 'study' as const, study, marks: [{ kind: 'point', group }] }] }
    expect(membersIn(log, rule as never)).toEqual(['d'])
  })

  test('everything else takes what a further series has and the first never had', () => {
    const log = logOf([
      ...[0, 1, 2].map((i) => at(`a${i}`, 'look', 0, { size: 'large' })),
      at('b', 'look', 0, { size: 'small' }),
      at('c', 'buy', 0, { size: 'huge' }),
      at('a0', 'buy', 0, { size: 'large' }),
    ])
    const series = [
      { ...did('look'), measure: 'events' },
      { ...did('buy'), measure: 'events' },
    ]
    const result = answer<TrendResult>(log, trend({ series, breakdowns: [by('size', { keep: 1 })] }))
    expect(keys(result)).toEqual([{ value: 'large' }, { rest: true }])
    expect(result.lines.map(({ groups }) => groups.map(({ total }) => total))).toEqual([
      [3, 1],
      [1, 1],
    ])
  })

  test('equal ranges of numbers stand by their lower end; what is no number is no value, and last among equals', () => {
    const log = logOf([
      at('a', 'look', 0, { size: 25 }),
      at('b', 'look', 0, { size: 5 }),
      at('c', 'look', 0, { size: 15 }),
      at('d', 'look', 0, { size: 'huge' }),
      at('e', 'buy', 0),
    ])
    const result = answer<TrendResult>(log, trend({ breakdowns: [by('size', { cuts: { at: [10, 20] } })] }))
    expect(keys(result)).toEqual([{ range: [null, 10] }, { range: [10, 20] }, { range: [20, null] }, { value: null }])
  })

  test('automatic ranges of equal count begin with values there are, equal ones falling together', () => {
    const sizes = [1, 1, 1, 2, 3, 4, 5, 9]
    const log = logOf(sizes.map((size, i) => at(`p${i}`, 'look', 0, { size })))
    const cuts = { equal: 'count' as const, parts: 4 }
    const result = answer<TrendResult>(log, trend({ breakdowns: [by('size', { cuts })] }))
    // Of 8 sorted values those at the 0-based places 2, 4 and 6: 1, 3 and 5; the first range would be empty.
    const found = keys(result).map((key) => ('range' in key! ? key.range : key))
    expect(found).toHaveLength(new Set(found.map(String)).size)
    expect(result.lines[0].groups.reduce((sum, { total }) => sum + total!, 0)).toBe(8)
    expect(found).toContainEqual([3, 5])
  })
})

describe('time', () => {
  test('hours are counted from the first moment of the local day, also across a change of half an hour', () => {
    // On 5 April 2026 Lord Howe’s clocks go back by half an hour: the day has 24½ hours.
    const calendar = { zone: 'Australia/Lord_Howe', firstDayOfWeek: 1 }
    const now = Date.UTC(2026, 3, 10)
    const span = spanOf({ from: '2026-04-05', to: '2026-04-06' }, now, calendar)
    const hours = bucketsOf(span, 'hour', now, calendar)
    expect(hours).toHaveLength(25 + 24)
    expect(hours.map(({ start, end }) => (end - start) / 60_000).filter((minutes) => minutes !== 60)).toEqual([30])
    expect(hours[25].key.slice(0, 16)).toBe('2026-04-06T00:00')
    expect(hours.every(({ end }, i) => i === hours.length - 1 || hours[i + 1].start === end)).toBe(true)
    // The last three hours of the day after end at now and begin on its own hours.
    const soon = Date.UTC(2026, 3, 6, 0, 15)
    const last = bucketsOf(spanOf({ last: 3, unit: 'hour' }, soon, calendar), 'hour', soon, calendar)
    expect(last.map(({ key }) => key.slice(11, 16))).toEqual(['08:00', '09:00', '10:00'])
  })

  test('the last hours against a week, month or year earlier begin and end at the same times of day', () => {
    const calendar = { zone: 'Europe/Lisbon', firstDayOfWeek: 1 }
    const now = Date.UTC(2026, 10, 18, 15, 20)
    for (const [to, from] of [
      ['week', '2026-11-11T13:00:00Z'],
      ['month', '2026-10-18T12:00:00Z'], // still summer time there
      ['year', '2025-11-18T13:00:00Z'],
    ] as const) {
      const { span, buckets } = beforePeriod({ last: 3, unit: 'hour' }, { to }, 'hour', now, calendar)
      expect(new Date(span.from).toISOString()).toBe(from.replace('Z', '.000Z'))
      expect(span.until - span.from).toBe(2 * 3_600_000 + 20 * 60_000 + 1)
      expect(buckets.map(({ open }) => open)).toEqual([false, false, true])
    }
  })

  test('the last weeks against a year earlier end as far into their week’s day as now', () => {
    const calendar = { zone: 'UTC', firstDayOfWeek: 1 }
    const now = Date.UTC(2026, 10, 18, 15)
    const { span } = beforePeriod({ last: 2, unit: 'week' }, { to: 'year' }, 'week', now, calendar)
    expect(new Date(span.until - 1).toISOString()).toBe('2025-11-18T15:00:00.000Z')
    expect(new Date(span.from).toISOString()).toBe('2025-11-09T00:00:00.000Z')
  })

  test('habit by month over eleven years is answered: by how much there is to tell, not by days', () => {
    const log = logOf([
      { person: 'a', event: 'look', time: MONDAY },
      { person: 'a', event: 'look', time: MONDAY + days(1) },
    ])
    const habit = { kind: 'habit', start: did('look'), period: 'month', show: { form: 'at least' } }
    const result = answer(log, { ...habit, range: { from: '2015-01-01', to: '2026-01-31' } } as Question, {
      now: Date.UTC(2026, 1, 10),
    })
    expect(result).toMatchObject({ all: { active: 1 } })
  })
})
