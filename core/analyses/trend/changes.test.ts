import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { clearestSpan, isUsualDifference, spansOf } from './changes.js'

describe('two levels', () => {
  test('every span is looked at once: changes of level up to the end, and times that came and went', () => {
    // Of six buckets: one change of level with three on each side, and one time of two with two before and after.
    expect(spansOf(6)).toEqual([
      { from: 3, until: 6 },
      { from: 2, until: 4 },
    ])
    expect(spansOf(4)).toEqual([])
  })
  test('by the F statistic, its p times the number of spans and rows', () => {
    const values = [14, 14, 13, 69, 71, 66, 64, 11, 10, 4, 11]
    const found = clearestSpan(values, true, 1)!
    expect(found).toMatchObject({ from: 3, until: 7, inside: 67.5 })
    expect(found.outside).toBeCloseTo(11)
    // Within: 14 ÷ … is less than chance makes counts of 31.5 on average vary, so that is their variance: F = 257.6.
    expect(56.5 ** 2 / (1 / 4 + 1 / 7) / (347 / 11)).toBeCloseTo(257.6, 0)
    expect(clearestSpan(values, true, 4)!.p).toBeCloseTo(found.p * 4, 12)
  })
  test('counts that differ by no more than chance have none, however steady they are', () => {
    expect(clearestSpan([9, 9, 9, 9, 12, 12, 12, 12], true, 1)).toBeNull()
    expect(clearestSpan([9, 9, 9, 9, 12, 12, 12, 12], false, 1)).toMatchObject({ from: 4, p: 0 })
  })
  test('is the same for a line turned upside down', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 6, maxLength: 14 }), (values) => {
        const found = clearestSpan(values, false, 1)
        const turned = clearestSpan(
          values.map((x) => 1000 - x),
          false,
          1,
        )
        // What is less than a tenth of the higher level is not told of there.
        if (turned) expect(found).toMatchObject({ from: turned.from, until: turned.until })
      }),
    )
  })
})

describe('two buckets', () => {
  const calm = [50, 54, 47, 52, 49, 53, 48]
  test('differ as usual when earlier pairs do as much', () => {
    expect(isUsualDifference([...calm, 56], 1, false)).toBe(true)
    expect(isUsualDifference([...calm, 90], 1, false)).toBe(false)
  })
  test('of counts at least what chance makes is usual', () => {
    expect(isUsualDifference([50, 50, 50, 50, 50, 50, 50, 60], 1, true)).toBe(true)
    expect(isUsualDifference([50, 50, 50, 50, 50, 50, 50, 60], 1, false)).toBe(false)
  })
  test('without earlier pairs only what is plain is said', () => {
    expect(isUsualDifference([100, 104], 1, true)).toBe(true)
    expect(isUsualDifference([100, 135], 1, true)).toBeNull()
    expect(isUsualDifference([100, 10], 1, true)).toBe(false)
    expect(isUsualDifference([100, 10], 1, false)).toBeNull()
    expect(isUsualDifference([null, 10], 1, true)).toBeNull()
  })
})
