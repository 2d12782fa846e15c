import { describe, expect, test } from 'vitest'
import { beforePeriod, type Comparison } from './comparison.js'
import type { Range } from './range.js'

const calendar = { zone: 'Europe/Lisbon', firstDayOfWeek: 1 }
const NOW = Date.parse('2026-11-18T15:20:00Z')
const periodOf = (range: Range, compare: Comparison, every: 'day' | 'week' | 'month' = 'day') => {
  const { from, until } = beforePeriod(range, compare, every, NOW, calendar).span
  return [new Date(from).toISOString(), new Date(until).toISOString()]
}

describe('the time that another stands beside', () => {
  test('of a range that runs on ends at the same time of its day', () => {
    expect(periodOf({ last: 7, unit: 'day' }, { to: 'week' })).toEqual([
      '2026-11-05T00:00:00.000Z',
      '2026-11-11T15:20:00.001Z',
    ])
    expect(periodOf({ from: '2026-11-12' }, { to: 'week' })[1]).toBe('2026-11-11T15:20:00.001Z')
  })
  test('of a range with a last day takes whole days, also where that is today', () => {
    expect(periodOf({ from: '2026-11-12', to: '2026-11-18' }, { to: 'week' })).toEqual([
      '2026-11-05T00:00:00.000Z',
      '2026-11-12T00:00:00.000Z',
    ])
  })
  test('just before a range that reaches beyond now are as many days as have begun', () => {
    expect(periodOf({ from: '2026-11-01', to: '2026-11-30' }, { to: 'before' })).toEqual([
      // Eighteen days, the first of them in summer time.
      '2026-10-13T23:00:00.000Z',
      '2026-11-01T00:00:00.000Z',
    ])
  })
  test('just before a range of whole months that is over are as many months', () => {
    expect(periodOf({ from: '2026-02-01', to: '2026-03-31' }, { to: 'before' }, 'month')).toEqual([
      '2025-12-01T00:00:00.000Z',
      '2026-02-01T00:00:00.000Z',
    ])
  })
})
