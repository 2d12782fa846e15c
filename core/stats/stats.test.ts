import { expect, test } from 'vitest'
import { benjaminiHochberg, twoProportions, wilson } from './proportion.js'
import { mean, quantile } from './quantile.js'
import { rankedValues } from './select.js'
import { mannKendall } from './trendTest.js'

test('Wilson interval of 18 of 100, by hand', () => {
  // centre (0.18 + z²/200) / (1 + z²/100), half-width z √(0.18·0.82/100 + z²/40000) / (1 + z²/100), z = 1.959964
  const { low, high } = wilson(18, 100)!
  expect(low).toBeCloseTo(0.117, 4)
  expect(high).toBeCloseTo(0.2667, 4)
})

test('a proportion of nobody has no interval; none and all stay within 0 and 1', () => {
  expect(wilson(0, 0)).toBeNull()
  expect(wilson(0, 10)!.low).toBe(0)
  expect(wilson(10, 10)!.high).toBeCloseTo(1, 12)
})

test('two-proportion z-test, pooled, by hand', () => {
  // 30/100 against 45/100: pooled 0.375, z = −0.15 / √(0.375·0.625·0.02) = −2.1909
  const { z, p } = twoProportions({ part: 30, whole: 100 }, { part: 45, whole: 100 })!
  expect(z).toBeCloseTo(-2.1909, 4)
  expect(p).toBeCloseTo(0.02846, 4)
  expect(twoProportions({ part: 0, whole: 0 }, { part: 1, whole: 2 })).toBeNull()
})

test('Benjamini–Hochberg keeps the order given and never falls', () => {
  expect(benjaminiHochberg([0.01, 0.04, 0.03, 0.005])).toEqual([0.02, 0.04, 0.04, 0.02])
})

test('percentiles interpolate between the closest ranks; of nothing there is none', () => {
  expect(quantile([1, 2, 3, 4], 0.5)).toBe(2.5)
  expect(quantile([10, 20], 0.9)).toBeCloseTo(19)
  expect([quantile([], 0.5), mean([])]).toEqual([null, null])
})

test('selection finds the same percentiles as sorting, whatever the order and with equal values', () => {
  let seed = 7
  const next = () => (seed = (seed * 48_271) % 2_147_483_647)
  for (const size of [1, 2, 3, 10, 101, 1000])
    for (const spread of [3, 1_000_000]) {
      const values = Float64Array.from({ length: size }, () => next() % spread)
      const sorted = values.slice().sort()
      for (const q of [0, 0.5, 0.9, 0.99, 1]) expect(rankedValues(values.slice(), q)).toBe(quantile(sorted, q))
    }
})

test('Mann–Kendall: every later figure larger; none rising; too few', () => {
  // 8 figures: 28 pairs, variance 8 · 7 · 21 / 18 = 65.33, z = 27 / 8.083 = 3.3405
  expect(mannKendall([1, 2, 3, 4, 5, 6, 7, 8])).toEqual({ tau: 1, p: expect.closeTo(0.000836, 5) as number })
  expect(mannKendall([1, 2, 1, 2, 1, 2, 1, 2])!.p).toBeGreaterThan(0.3)
  expect(mannKendall([5, 5, 5, 5, 5, 5, 5, 5])).toBeNull()
  expect(mannKendall([1, 2, 3])).toBeNull()
})
