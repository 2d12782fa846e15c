import { expect, test } from 'vitest'
import { withinStrata, type Stratum } from './strata.js'

const stratum = (x: number, n: number, y: number, m: number): Stratum => ({
  did: { part: x, whole: n },
  others: { part: y, whole: m },
})

test('admissions to six departments, much published: of a large difference next to nothing is left', () => {
  // Men and women, admitted and not, by department (Bickel, Hammel and O'Connell 1975, the six largest).
  const departments = [
    stratum(512, 825, 89, 108),
    stratum(353, 560, 17, 25),
    stratum(120, 325, 202, 593),
    stratum(138, 417, 131, 375),
    stratum(53, 191, 94, 393),
    stratum(22, 373, 24, 341),
  ]
  const found = withinStrata(departments)!
  // 1198 of 2691 men against 557 of 1835 women are 14.2 points; χ² without correction is 1.5246.
  expect(found.p).toBeCloseTo(0.2169, 4)
  expect(Math.abs(found.difference)).toBeLessThan(0.02)
  expect(found.low).toBeLessThan(0)
  expect(found.high).toBeGreaterThan(0)
})

test('two strata by hand', () => {
  // Weights 10 × 10 ÷ 20 = 5 and 20 × 20 ÷ 40 = 10; differences 0.4 and 0.1.
  const found = withinStrata([stratum(6, 10, 2, 10), stratum(10, 20, 8, 20)])!
  expect(found.difference).toBeCloseTo((5 * 0.4 + 10 * 0.1) / 15, 12)
  // a − E: 6 − 4 and 10 − 9; variances 10 × 10 × 8 × 12 ÷ (400 × 19) and 20 × 20 × 18 × 22 ÷ (1600 × 39)
  const z = 3 / Math.sqrt(9600 / 7600 + 158_400 / 62_400)
  expect(z).toBeCloseTo(1.5389, 3)
  expect(found.p).toBeCloseTo(0.1238, 3)
})

test('a stratum without people on both sides says nothing; without any there is nothing to say', () => {
  const one = [stratum(30, 40, 20, 80)]
  expect(withinStrata([...one, stratum(5, 9, 0, 0), stratum(0, 0, 3, 4)])).toEqual(withinStrata(one))
  expect(withinStrata([stratum(5, 9, 0, 0)])).toBeNull()
})

test('its interval holds what is so about 95 times of 100, over few large strata and many small ones', () => {
  let seed = 7
  const next = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647
  const draw = (n: number, chance: number) => {
    let found = 0
    for (let i = 0; i < n; i++) if (next() < chance) found++
    return found
  }
  for (const [strata, size] of [
    [3, 120],
    [60, 4],
  ]) {
    let held = 0
    for (let round = 0; round < 2000; round++) {
      const tables = Array.from({ length: strata }, (_, k) => {
        const [n, m, usual] = [1 + Math.floor(next() * size), 1 + Math.floor(next() * size), 0.1 + (0.6 * k) / strata]
        return stratum(draw(n, usual + 0.15), n, draw(m, usual), m)
      })
      const { low, high } = withinStrata(tables)!
      if (low <= 0.15 && high >= 0.15) held++
    }
    // Five standard errors of 2,000 rounds.
    expect(Math.abs(held / 2000 - 0.95)).toBeLessThan(0.025)
  }
})
