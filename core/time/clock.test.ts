import { expect, test } from 'vitest'
import { clockOf, type Clock } from './clock.js'

const at = (clock: Clock, iso: string) => {
  const quarter = Math.floor((Date.parse(iso) - clock.origin) / 900_000)
  return [clock.weekday[quarter], clock.hour[quarter]]
}

test('weekday and hour on a zone’s clock, also on the days of its changes', () => {
  const lisbon = clockOf(Date.parse('2026-03-27T00:00:00Z'), Date.parse('2026-10-27T00:00:00Z'), 'Europe/Lisbon')
  expect(at(lisbon, '2026-03-28T23:59:00Z')).toEqual([5, 23])
  // Sunday 29 March: 01:00 becomes 02:00
  expect(at(lisbon, '2026-03-29T00:59:00Z')).toEqual([6, 0])
  expect(at(lisbon, '2026-03-29T01:00:00Z')).toEqual([6, 2])
  expect(at(lisbon, '2026-03-29T22:30:00Z')).toEqual([6, 23])
  expect(at(lisbon, '2026-03-29T23:00:00Z')).toEqual([0, 0])
  // Sunday 25 October: 02:00 becomes 01:00, so 01:30 comes twice
  expect(at(lisbon, '2026-10-25T00:30:00Z')).toEqual([6, 1])
  expect(at(lisbon, '2026-10-25T01:30:00Z')).toEqual([6, 1])
  expect(at(lisbon, '2026-10-25T02:00:00Z')).toEqual([6, 2])
})

test('zones that are not whole hours off', () => {
  const delhi = clockOf(Date.parse('2026-01-05T00:00:00Z'), Date.parse('2026-01-06T00:00:00Z'), 'Asia/Kolkata')
  expect(at(delhi, '2026-01-05T00:29:00Z')).toEqual([0, 5])
  expect(at(delhi, '2026-01-05T00:30:00Z')).toEqual([0, 6])
})
