import fc from 'fast-check'
import { expect, test } from 'vitest'
import { quantile } from '../../stats/quantile.js'
import { welch } from '../../stats/welch.js'
import { timesApart } from './timesApart.js'

/** Mean and variance by n − 1 as they are defined. */
function spreadOf(values: number[]) {
  const mean = values.reduce((sum, x) => sum + x, 0) / values.length
  const squares = values.reduce((sum, x) => sum + (x - mean) ** 2, 0)
  return { count: values.length, mean, variance: squares / (values.length - 1) }
}
const median = (values: number[]) => quantile(Float64Array.from(values).sort(), 0.5)
const logOf = (ms: number) => Math.log(Math.max(1, ms / 1000))

test('medians of both sides, and the test on logarithms, are those of the plain definition; in any order', () => {
  const ways = fc.array(fc.record({ ms: fc.integer({ min: 0, max: 9e8 }), own: fc.boolean() }), { maxLength: 60 })
  fc.assert(
    fc.property(ways, (all) => {
      const asked = (list: typeof all) =>
        timesApart(Float64Array.from(list, ({ ms }) => ms))(list.map(({ own }) => (own ? 1 : 0)))
      const found = asked(all)
      expect(asked([...all].reverse())).toEqual(found)
      const own = all.filter((way) => way.own).map(({ ms }) => ms)
      const others = all.filter((way) => !way.own).map(({ ms }) => ms)
      if (own.length === 0 || others.length === 0) {
        expect(found).toBeNull()
        return
      }
      expect(found).toMatchObject({ count: own.length, others: others.length })
      expect([found!.median, found!.othersMedian]).toEqual([median(own), median(others)])
      const p = welch(spreadOf(own.map(logOf)), spreadOf(others.map(logOf)))
      // Where all times are nearly one, rounding decides whether anything varies.
      if (p !== null && found!.p !== null) expect(found!.p).toBeCloseTo(p, 3)
      else expect(found!.p ?? p ?? 0).toBeLessThanOrEqual(1)
    }),
  )
})
