import { describe, expect, test } from 'vitest'
import { isRefusal, placeOf, sketchOf, stopAt, timelineOf } from './timeline.js'

const minute = 60_000

describe('a session as a line', () => {
  const times = [0, 10_000, 10_000 + 20 * minute, 40_000 + 20 * minute]
  test('to scale every pause is as long as it was', () => {
    expect(timelineOf(times, false).stops.map(({ along }) => along)).toEqual(times)
    expect(timelineOf(times, false).length).toBe(40_000 + 20 * minute)
  })
  test('shortened, only long pauses are cut, and say how long they were', () => {
    const { stops, length } = timelineOf(times, true)
    expect(stops.map(({ along }) => along)).toEqual([0, 10_000, 25_000, 55_000])
    expect(stops.map(({ shortened }) => shortened)).toEqual([false, false, true, false])
    expect(stops[2].pauseMs).toBe(20 * minute)
    expect(length).toBe(55_000)
  })
  test('a place on the line is at the last stop before it; of stops at one moment at the last', () => {
    const line = timelineOf([0, 5000, 5000, 9000], false)
    expect([-1, 0, 4999, 5000, 8000, 9000, 99_000].map((along) => stopAt(line, along))).toEqual([0, 0, 0, 2, 2, 3, 3])
  })
  test('one event, or none', () => {
    expect(timelineOf([7], true)).toEqual({
      stops: [{ timeMs: 7, pauseMs: 0, shortened: false, along: 0 }],
      length: 0,
    })
    expect(timelineOf([], true)).toEqual({ stops: [], length: 0 })
  })
})

test('what went wrong stands out, by name or property', () => {
  expect(
    ['Card refused', 'payment_failed', 'Screen froze', 'Empty dock met'].every((name) => isRefusal(name, {})),
  ).toBe(true)
  expect(['Card added', 'Ride completed', 'Page viewed'].some((name) => isRefusal(name, {}))).toBe(false)
  expect(isRefusal('Saved', { error: 'disk full' })).toBe(true)
  expect(isRefusal('Saved', { error: false })).toBe(false)
})

test('places and what their drawings show', () => {
  expect(placeOf({ screen: 'Map', page: '/x' })).toEqual({ kind: 'screen', name: 'Map' })
  expect(placeOf({ page: '/prices' })).toEqual({ kind: 'page', name: '/prices' })
  expect(placeOf({ page: '' })).toBeNull()
  expect(['Map', '/sign-up', '/prices', '/', '/about'].map(sketchOf)).toEqual([
    'map',
    'form',
    'list',
    'start',
    'article',
  ])
})
