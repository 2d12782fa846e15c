import { atOnce } from '../steps.js'
import { expect, test } from 'vitest'
import { days, logOf, MONDAY, type TestEvent } from '../../tests/eventLog.js'
import { usageOfProperties, usageOfTypes } from './usage.js'

const NOW = MONDAY + days(60)
const at = (daysAgo: number, n = 0): TestEvent => ({
  ...{ person: `p${n}`, event: 'Ride', time: NOW - days(daysAgo), source: n % 2 ? 'app' : 'kiosk' },
  properties: n % 3 === 0 ? { km: n } : {},
})

test('usage counts all, the last 30 days and each of the last 8 weeks, up to now; hidden rows do not count', () => {
  const test = logOf([at(0, 0), at(6.9, 1), at(7, 2), at(29.9, 3), at(30, 4), at(55.9, 5), at(56, 6), at(-1, 7)])
  const [ride] = atOnce(usageOfTypes([test.log], 1, NOW))
  expect(ride).toMatchObject({ events: 7, recent: 4, firstMs: NOW - days(56), lastMs: NOW })
  expect(ride.weeks).toEqual([1, 0, 0, 2, 0, 0, 1, 2])
  expect([...ride.sources.values()].sort()).toEqual([3, 4])
  const km = atOnce(usageOfProperties([test.log], 1, NOW))[0].get(test.schema.propertyCode('km')!)!
  expect([km.events, km.recent]).toEqual([3, 2])
  const hidden = new Uint8Array(test.log.people)
  hidden[0] = 1
  expect(atOnce(usageOfTypes([{ ...test.log, hidden }], 1, NOW))[0].events).toBe(6)
  expect(atOnce(usageOfProperties([{ ...test.log, hidden }], 1, NOW))[0].get(0)!.events).toBe(2)
})
