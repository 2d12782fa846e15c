import fc from 'fast-check'
import { expect, test } from 'vitest'
import { dayFinder } from './dayFinder.js'
import { dayOf, startOfDay } from './range.js'

test.each(['UTC', 'Europe/Lisbon', 'America/Santiago', 'Asia/Kathmandu', 'Pacific/Apia'])(
  'finds the local day of any moment, near clock changes and a thousand years away, in %s',
  (zone) => {
    const startOf = dayFinder(zone)
    const anywhere = fc.oneof(
      fc.integer({ min: Date.UTC(2026, 2, 1), max: Date.UTC(2026, 10, 30) }),
      fc.integer({ min: Date.UTC(2011, 11, 28), max: Date.UTC(2012, 0, 2) }),
      fc.integer({ min: -62_135_596_800_000, max: 253_402_300_799_000 }),
    )
    fc.assert(
      fc.property(anywhere, (ms) => {
        expect(startOf(ms)).toBe(startOfDay(dayOf(ms, zone), zone))
      }),
      { numRuns: 300 },
    )
  },
)
