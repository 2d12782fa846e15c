import { describe, expect, test } from 'vitest'
import { addRow, logistic, noSlope, stepOf, sumOf, type SparseRows } from './logistic.js'
import { auc, compareAucs, sparseAuc } from './roc.js'
import { unit } from './unit.js'

const rowsOf = (table: number[][]): SparseRows => ({
  starts: Uint32Array.from([0, ...table.map((_, i) => table.slice(0, i + 1).flat().length)]),
  column: Uint16Array.from(table.flatMap((row) => row.map((_, column) => column))),
  value: Float64Array.from(table.flat()),
})

/** Newton's steps until nothing moves. */
function fit(table: number[][], did: number[], lambda: number): Float64Array {
  const rows = rowsOf(table)
  let weights = new Float64Array(table[0].length + 1)
  for (let round = 0; round < 50; round++) {
    const slope = noSlope(weights.length)
    did.forEach((own, row) => addRow(slope, rows, row, own, weights))
    const { largest, step } = stepOf(slope, weights, lambda)
    if (largest < 1e-12) break
    weights = weights.map((weight, k) => weight - step[k])
  }
  return weights
}

describe('the logistic regression', () => {
  test('of hours of study and passing, as it is widely printed: −4.0777 + 1.5046 × hours', () => {
    const hours = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 1.75, 2, 2.25, 2.5, 2.75, 3, 3.25, 3.5, 4, 4.25, 4.5, 4.75, 5, 5.5]
    const passed = [0, 0, 0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 1, 1, 1, 1, 1]
    const [slope, intercept] = fit(
      hours.map((each) => [each]),
      passed,
      0,
    )
    expect(slope).toBeCloseTo(1.5046, 4)
    expect(intercept).toBeCloseTo(-4.0777, 4)
    const rows = rowsOf([[2], [4]])
    const weights = Float64Array.from([slope, intercept])
    expect(logistic(sumOf(rows, 0, weights))).toBeCloseTo(0.26, 2)
    expect(logistic(sumOf(rows, 1, weights))).toBeCloseTo(0.87, 2)
  })

  test('of two groups without a hold is the logarithm of their odds; a hold draws the weight to 0 and leaves the intercept free', () => {
    const table = Array.from({ length: 40 }, (_, i) => [i < 20 ? 1 : 0])
    const did = table.map(([x], i) => (x ? (i < 15 ? 1 : 0) : i < 25 ? 1 : 0))
    const [free, base] = fit(table, did, 0)
    expect(free).toBeCloseTo(Math.log(3) - Math.log(1 / 3), 8)
    expect(base).toBeCloseTo(Math.log(1 / 3), 8)
    const [held, middle] = fit(table, did, 100)
    expect(Math.abs(held)).toBeLessThan(0.01)
    expect(logistic(middle)).toBeCloseTo(0.5, 1)
  })
})

describe('the area under the curve', () => {
  const scores = Float64Array.from([0.1, 0.4, 0.35, 0.8, 0.4, 0.7])
  const did = Uint8Array.from([0, 0, 1, 1, 1, 0])

  test('is the share of pairs in the right order, ties half', () => {
    // 0.35: over 0.1. 0.8: over all three. 0.4: over 0.1, even with 0.4. So 1 + 3 + 1.5 of 9.
    expect(auc(scores, did)!.value).toBeCloseTo(5.5 / 9, 12)
    expect(auc(scores, Uint8Array.from([0, 0, 0, 0, 0, 0]))).toBeNull()
  })

  test('has an interval from how the pairs of each person vary', () => {
    // Of those who did it 1/3, 1, 1/2; of those who did not 1, 1/2, 1/3 of pairs are won.
    const spread = (list: number[]) => {
      const mean = list.reduce((a, b) => a + b) / list.length
      return list.reduce((sum, x) => sum + (x - mean) ** 2, 0) / (list.length - 1)
    }
    const variance = spread([1 / 3, 1, 1 / 2]) / 3 + spread([1, 1 / 2, 1 / 3]) / 3
    expect(auc(scores, did)!.variance).toBeCloseTo(variance, 12)
  })

  test('of two scores of the same people differs by nothing where they rank alike', () => {
    const same = compareAucs(
      scores,
      scores.map((x) => x * 2),
      did,
    )!
    expect(same.difference).toMatchObject({ value: 0, p: null })
    const other = compareAucs(
      scores,
      scores.map((x) => -x),
      did,
    )!
    expect(other.b.value).toBeCloseTo(1 - 5.5 / 9, 12)
    expect(other.difference.value).toBeCloseTo(2 / 9, 12)
  })

  test('is the same where most have nothing', () => {
    const values = [0, 2, 0, -1, 2, 0, 0, 3, -1, 0]
    const own = [1, 1, 0, 0, 1, 0, 1, 1, 1, 0]
    const some = values.flatMap((x, i) => (x === 0 ? [] : [i]))
    const none = values.flatMap((x, i) => (x === 0 ? [own[i]] : []))
    expect(
      sparseAuc(
        Float64Array.from(some, (i) => values[i]),
        Uint8Array.from(some, (i) => own[i]),
        none.length,
        none.reduce((a, b) => a + b),
      ),
    ).toBeCloseTo(auc(Float64Array.from(values), Uint8Array.from(own))!.value, 12)
  })
})

test.each([
  ['ride:1', 0xa3e970e975ee4],
  ['ride:Zoë', 0xea20e9b5341d9],
  ['ride:rollout:1', 0xaee3db63e315c],
])('the unit of %s is the same everywhere', (text, digits) => {
  expect(unit(text)).toBe(digits / 2 ** 52)
})
