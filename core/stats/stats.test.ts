import { expect, test } from 'vitest'
import { benjaminiHochberg, twoProportions, wilson } from './proportion.js'
import { mean, quantile } from './quantile.js'
import { GroupMedians } from './groupMedians.js'
import { rankedCells, extentOf } from './rankedCells.js'
import { rankedValues } from './select.js'
import { mannKendall } from './trendTest.js'
import { welch } from './welch.js'

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
      for (const q of [0, 0.5, 0.9, 0.99, 1])
        expect(rankedValues(values.slice(), q * (size - 1))).toBe(quantile(sorted, q))
    }
})

test('percentiles of many values are those of the sorted list: skewed, with repeats, all the same, of huge extents', () => {
  const random = (() => {
    let state = 7
    return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
  })()
  const kinds: (() => number)[] = [
    random,
    () => Math.round(random() * 40) / 10,
    () => Math.exp(random() * 30) * (random() < 0.3 ? -1 : 1),
    () => (random() < 0.5 ? -1 : 1) * Number.MAX_VALUE * random(),
    () => 5,
    () => (random() < 0.999 ? 1 : 1e9),
  ]
  for (const value of kinds) {
    const values = Float64Array.from({ length: 6000 }, value)
    const sorted = values.slice().sort()
    for (const q of [0, 0.25, 0.5, 0.9, 0.99, 1]) {
      const rank = q * (sorted.length - 1)
      const [low, high] = [sorted[Math.floor(rank)], sorted[Math.ceil(rank)]]
      const found = rankedValues(values.slice(), rank)
      expect(found).toBe(low === high ? low : low + (rank - Math.floor(rank)) * (high - low))
    }
  }
})

test('percentiles of cells and of their runs are those of the sorted lists', () => {
  let state = 7
  const random = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
  const kinds = [
    random,
    () => Math.exp(random() * 20),
    () => Math.round(random() * 5),
    () => 5,
    () => (random() - 0.5) * 1e308,
  ]
  for (const value of kinds)
    for (const [groups, buckets, each] of [
      [1, 1, 1],
      [2, 3, 700],
      [3, 40, 4],
    ]) {
      const width = buckets + 1
      const held = Array.from({ length: groups * width }, (): number[] => [])
      const pieces = [0, 1].map(() => {
        const cells: number[] = []
        const numbers: number[] = []
        for (let i = 0; i < each * groups * buckets; i++) {
          const cell = Math.floor(random() * groups) * width + Math.floor(random() * buckets)
          const number = value()
          cells.push(cell)
          numbers.push(number)
          held[cell].push(number)
          held[cell - (cell % width) + buckets].push(number)
        }
        return { cells: Uint32Array.from(cells), numbers: Float64Array.from(numbers) }
      })
      const numbers = pieces.map((piece) => piece.numbers)
      const input = { cells: pieces.map(({ cells }) => cells), numbers, extents: numbers.map(extentOf) }
      for (const q of [0.5, 0.9, 0.99]) {
        const expected = held.map((list) => (list.length > 0 ? quantile(Float64Array.from(list).sort(), q)! : NaN))
        const found = rankedCells(input, groups * width, width, q)
        found.forEach((figure, cell) => {
          if (Number.isNaN(expected[cell])) expect(figure).toBeNaN()
          else expect(Math.abs(figure - expected[cell])).toBeLessThanOrEqual(1e-9 * Math.abs(expected[cell]))
        })
      }
    }
})

test('medians of many groups at once are those of sorting, also of times longer than four bytes tell', () => {
  let seed = 11
  const next = () => (seed = (seed * 48_271) % 2_147_483_647)
  for (const most of [1, 20, 1e6, 1e11]) {
    const given = Array.from({ length: 999 }, () => ({
      group: next() % 7,
      ms: Math.floor((next() / 2_147_483_647) ** 4 * most),
    }))
    // Of the last group there is nothing, of the one before a single time.
    given.push({ group: 7, ms: most })
    const groups = new GroupMedians(9)
    for (const { group, ms } of given) groups.count(group, ms)
    groups.narrow()
    for (const { group, ms } of given) groups.collect(group, ms)
    const own = (group: number) =>
      Float64Array.from(given.flatMap((each) => (each.group === group ? each.ms : []))).sort()
    expect([...groups.medians()]).toEqual(Array.from({ length: 9 }, (_, group) => quantile(own(group), 0.5) ?? NaN))
  }
})

test('Mann–Kendall: every later figure larger; none rising; too few', () => {
  // 8 figures: 28 pairs, variance 8 · 7 · 21 / 18 = 65.33, z = 27 / 8.083 = 3.3405
  expect(mannKendall([1, 2, 3, 4, 5, 6, 7, 8])).toEqual({ tau: 1, p: expect.closeTo(0.000836, 5) as number })
  expect(mannKendall([1, 2, 1, 2, 1, 2, 1, 2])!.p).toBeGreaterThan(0.3)
  expect(mannKendall([5, 5, 5, 5, 5, 5, 5, 5])).toBeNull()
  expect(mannKendall([1, 2, 3])).toBeNull()
})

test('Welch: of equal spread and number it is the plain t-test, so the tables of t say what to expect', () => {
  // The standard error is 1, with 8 degrees of freedom: 2.896 is the 99 % point.
  expect(welch({ count: 5, mean: 0, variance: 2.5 }, { count: 5, mean: 2.896, variance: 2.5 })).toBeCloseTo(0.02, 4)
  // All the spread on one side: 4 degrees, whose 97.5 % point is 2.776.
  expect(welch({ count: 5, mean: 0, variance: 5 }, { count: 5, mean: 2.776, variance: 0 })).toBeCloseTo(0.05, 4)
  expect(welch({ count: 1, mean: 1, variance: 0 }, { count: 9, mean: 2, variance: 1 })).toBeNull()
  expect(welch({ count: 5, mean: 1, variance: 0 }, { count: 9, mean: 2, variance: 0 })).toBeNull()
})
