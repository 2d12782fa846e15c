import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { cutPoints } from './split.js'

const counts = (numbers: readonly number[]) => {
  const found = new Map<number, number>()
  for (const x of numbers) found.set(x, (found.get(x) ?? 0) + 1)
  return found
}

describe('cut points', () => {
  test('of equal width stand at equal distances from the least to the largest', () => {
    expect(cutPoints({ equal: 'width', parts: 4 }, counts([0, 3, 8]))).toEqual([0, 2, 4, 6, 8])
  })

  test('of numbers that hardly differ are fewer', () => {
    const [least, most] = [0.999999999999998, 0.999999999999999]
    const points = cutPoints({ equal: 'width', parts: 10 }, counts([least, most]))
    expect(points.length).toBeLessThan(11)
    expect(points).toEqual([...new Set(points)])
  })

  test('with equally many events: a number is never torn apart', () => {
    expect(cutPoints({ equal: 'count', parts: 2 }, counts([1, 2, 3, 4]))).toEqual([1, 3, 4])
    expect(cutPoints({ equal: 'count', parts: 4 }, counts([5, 5, 5, 5, 5, 9]))).toEqual([5, 9])
  })

  test('with equally many events: the number at each part’s place in their order begins it', () => {
    // Of six in order the one at place 3, counted from 0, is a 2; of seven the ones at places 3 and 5.
    expect(cutPoints({ equal: 'count', parts: 2 }, counts([1, 2, 2, 2, 2, 3]))).toEqual([1, 2, 3])
    expect(cutPoints({ equal: 'count', parts: 3 }, counts([1, 2, 3, 4, 5, 6, 7]))).toEqual([1, 4, 6, 7])
  })

  test('of one number alone make one range that holds it; of none there are none', () => {
    expect(cutPoints({ equal: 'width', parts: 3 }, counts([7, 7]))).toEqual([7, 7])
    expect(cutPoints({ equal: 'count', parts: 3 }, counts([7, 7]))).toEqual([7, 7])
    expect(cutPoints({ equal: 'count', parts: 3 }, counts([]))).toEqual([])
  })

  test('always rise, from the least number to the largest, and are no more than asked for', () => {
    const number = fc.oneof(fc.integer({ min: -50, max: 50 }), fc.double({ min: -1, max: 1, noNaN: true }))
    fc.assert(
      fc.property(
        fc.array(number, { minLength: 2, maxLength: 60 }),
        fc.constantFrom('width' as const, 'count' as const),
        fc.integer({ min: 2, max: 12 }),
        (numbers, equal, parts) => {
          const [least, most] = [Math.min(...numbers), Math.max(...numbers)]
          if (least === most) return
          const points = cutPoints({ equal, parts }, counts(numbers))
          // 0 and −0 are one number.
          expect(points[0] === least && points.at(-1) === most).toBe(true)
          expect(points.length).toBeLessThanOrEqual(parts + 1)
          for (let i = 1; i < points.length; i++) expect(points[i]).toBeGreaterThan(points[i - 1])
        },
      ),
      { numRuns: 500 },
    )
  })
})
