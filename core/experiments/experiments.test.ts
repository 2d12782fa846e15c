import { describe, expect, test } from 'vitest'
import { sharesNeed } from '../stats/power.js'
import { daysNeeded } from './length.js'
import { guardOf, verdictOf, worstGuard } from './verdict.js'

const judged = (low: number, high: number, p: number | null) => ({
  difference: (low + high) / 2,
  interval: { low, high },
  p,
})

describe('the verdict is the first that holds', () => {
  test('a broken split before anything else, however sure the figures look', () => {
    expect(verdictOf(judged(3, 8, 0.0001), true, 4, 'up')).toBe('do not decide on this')
    expect(verdictOf(null, true, 4, 'up')).toBe('do not decide on this')
  })

  test('no difference worth having before better: sure to be one, and sure to be small', () => {
    expect(verdictOf(judged(0.5, 3.5, 0.01), false, 4, 'up')).toBe('no difference worth having')
    expect(verdictOf(judged(0.5, 4.5, 0.01), false, 4, 'up')).toBe('better')
  })

  test('better and worse by which way is good; p decides, also where the interval disagrees', () => {
    expect(verdictOf(judged(1, 9, 0.02), false, 4, 'up')).toBe('better')
    expect(verdictOf(judged(1, 9, 0.02), false, 4, 'down')).toBe('worse')
    expect(verdictOf(judged(-9, -1, 0.02), false, 4, 'down')).toBe('better')
    expect(verdictOf(judged(-0.1, 9, 0.049), false, 4, 'up')).toBe('better')
    expect(verdictOf(judged(0.1, 9, 0.05), false, 4, 'up')).toBe('not yet')
    expect(verdictOf(judged(1, 9, null), false, 4, 'up')).toBe('not yet')
    expect(verdictOf(null, false, 4, 'up')).toBe('not yet')
  })
})

test('a guardrail holds, is broken or undecided by the ends of its interval, and the worst variant’s is shown', () => {
  // Not under −0.50: good is up.
  expect(guardOf({ low: -0.4, high: 0.3 }, 0.5, 'up')).toBe('holds')
  expect(guardOf({ low: -0.5, high: 0.3 }, 0.5, 'up')).toBe('undecided')
  expect(guardOf({ low: -0.9, high: -0.5 }, 0.5, 'up')).toBe('undecided')
  expect(guardOf({ low: -0.9, high: -0.6 }, 0.5, 'up')).toBe('broken')
  // Not over +1 point: good is down.
  expect(guardOf({ low: -2, high: 0.9 }, 1, 'down')).toBe('holds')
  expect(guardOf({ low: 1.1, high: 3 }, 1, 'down')).toBe('broken')
  expect(guardOf({ low: 0, high: 3 }, 0, 'down')).toBe('undecided')
  expect(guardOf(null, 1, 'down')).toBe('undecided')
  expect(worstGuard(['holds', 'undecided', 'holds'])).toBe('undecided')
  expect(worstGuard(['holds', 'broken', 'undecided'])).toBe('broken')
})

describe('how long it takes', () => {
  const half = { share: 1, weights: [1, 1], withinDays: 7 }

  test('until the past like period had as many for every variant, and the window of what is measured after it', () => {
    // 100 of each: 200 people, which are there on the second day.
    expect(daysNeeded({ ...half, firsts: [120, 80, 90], needed: [100, 100] })).toBe(2 + 7)
    expect(daysNeeded({ ...half, firsts: [120, 79, 90], needed: [100, 100] })).toBe(3 + 7)
  })

  test('a smaller variant and a share rolled out take longer', () => {
    const firsts = Array.from({ length: 60 }, () => 100)
    // A quarter of half of 100 a day are 12.5: 200 on the sixteenth day.
    expect(daysNeeded({ firsts, share: 0.5, weights: [3, 1], needed: [200, 200], withinDays: 0.5 })).toBe(16 + 1)
  })

  test('beyond the past period it goes on as in its last seven days; who never comes is waited for in vain', () => {
    const firsts = [500, ...Array.from({ length: 7 }, () => 10)]
    // 570 of 1,000; 430 more at 10 a day.
    expect(daysNeeded({ ...half, firsts, needed: [500, 500] })).toBe(8 + 43 + 7)
    expect(daysNeeded({ ...half, firsts: [500, 0, 0, 0, 0, 0, 0, 0], needed: [500, 500] })).toBeNull()
    expect(daysNeeded({ ...half, firsts: [500], weights: [1, 0], needed: [5, 5] })).toBeNull()
    expect(daysNeeded({ ...half, firsts: [], needed: [5, 5] })).toBeNull()
  })

  test('from 31 % at least 4 points more: so many people, so many weeks', () => {
    // z 1.959964 and 0.841621; p̄ 0.33: (1.959964 · 0.664982 + 0.841621 · 0.664379)² ÷ 0.0016 = 2168.06.
    const each = sharesNeed(0.31, 0.35)
    expect(each).toBe(2169)
    const firsts = Array.from({ length: 28 }, () => 100)
    expect(daysNeeded({ ...half, firsts, needed: [each, each] })).toBe(44 + 7)
  })
})
