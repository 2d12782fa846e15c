import jStat from 'jstat'
import { describe, expect, test } from 'vitest'
import { alwaysValid, evidence } from './alwaysValid.js'
import { joined, lessNoise, meanOf, noMoments, ratioOf, ratiosDiffer, type Moments } from './moments.js'
import { sampleRatio } from './sampleRatio.js'
import { unit } from './unit.js'
import { meansDiffer } from './welch.js'

/** What two variants are compared by. */
const momentsOf = (pairs: readonly (readonly [x: number, y: number])[]): Moments =>
  pairs.reduce<Moments>((sum, [x, y]) => joined(sum, { count: 1, x, y, xx: x * x, yy: y * y, xy: x * y }), noMoments())
const normal = (text: string) => jStat.normal.inv(unit(text), 0, 1)

describe('the sample ratio', () => {
  test('Pearson’s χ² of 1,060 and 940 against halves: 3,600 ÷ 1,000 twice', () => {
    const found = sampleRatio([{ people: [1060, 940], weights: [1, 1] }])!
    expect(found.chiSquare).toBeCloseTo(7.2, 12)
    expect(found.freedom).toBe(1)
    // The table of χ² with one degree of freedom: 6.635 at 1 %, 7.879 at 0.5 %.
    expect(found.p).toBeGreaterThan(0.005)
    expect(found.p).toBeLessThan(0.01)
    expect(found.broken).toBe(false)
  })

  test('a split of 55 to 45 instead of halves is broken once eleven hundred people are in it', () => {
    expect(sampleRatio([{ people: [550, 450], weights: [1, 1] }])).toMatchObject({ chiSquare: 10, broken: false })
    expect(sampleRatio([{ people: [605, 495], weights: [1, 1] }])!.broken).toBe(true)
    expect(sampleRatio([{ people: [550, 450], weights: [55, 45] }])!.p).toBeCloseTo(1, 10)
  })

  test('after changed weights each stretch is tested by itself, and both are summed', () => {
    const first = { people: [1060, 940], weights: [1, 1] }
    const then = { people: [290, 710], weights: [1, 3] }
    // (290 − 250)² ÷ 250 + (710 − 750)² ÷ 750 = 6.4 + 2.1333
    expect(sampleRatio([first, then])).toMatchObject({ freedom: 2 })
    expect(sampleRatio([first, then])!.chiSquare).toBeCloseTo(7.2 + 6.4 + 2.13333, 4)
    // Taken together as if nothing had changed it would be another number.
    expect(sampleRatio([{ people: [1350, 1650], weights: [1, 1] }])!.chiSquare).toBeCloseTo(30, 10)
  })

  test('somebody in a variant that has no weight is a broken split; nobody anywhere is none', () => {
    expect(sampleRatio([{ people: [50, 50, 1], weights: [1, 1, 0] }])).toMatchObject({ p: 0, broken: true, freedom: 1 })
    expect(sampleRatio([{ people: [50, 50, 0], weights: [1, 1, 0] }])!.p).toBeCloseTo(1, 10)
    expect(sampleRatio([{ people: [0, 0], weights: [1, 1] }])).toBeNull()
    expect(sampleRatio([{ people: [10], weights: [1] }])).toBeNull()
  })
})

describe('means and ratios', () => {
  test('Welch’s own degrees of freedom: 1 2 3 4 5 against 2 4 6 8 10', () => {
    const a = meanOf(momentsOf([2, 4, 6, 8, 10].map((y) => [0, y])))
    const b = meanOf(momentsOf([1, 2, 3, 4, 5].map((y) => [0, y])))
    expect([a.variance, b.variance]).toEqual([10, 2.5])
    const found = meansDiffer(a, b)!
    // s² ÷ n are 2 and 0.5; degrees 2.5² ÷ (4 ÷ 4 + 0.25 ÷ 4) = 5.882; t₀.₉₇₅ of them 2.459.
    expect(found.variance).toBeCloseTo(2.5, 12)
    expect(found.interval.high - found.difference).toBeCloseTo(2.4591 * Math.sqrt(2.5), 3)
    expect(found.difference).toBe(3)
    expect(found.p).toBeCloseTo(0.1073, 3)
  })

  test('nothing that varies is a gap', () => {
    const same = meanOf(momentsOf(Array.from({ length: 5 }, () => [0, 4])))
    expect(meansDiffer(same, same)).toBeNull()
    expect(
      ratioOf(
        momentsOf([
          [3, 0],
          [4, 0],
        ]),
      ),
    ).toBeNull()
  })

  test('a ratio and its variance by hand: 10 ÷ 4 of two people', () => {
    // x 6 and 4, y 3 and 1: R 2.5, s_x² 2, s_y² 2, s_xy 2; (2 − 10 + 12.5) ÷ (2 · 2²) = 0.5625.
    expect(
      ratioOf(
        momentsOf([
          [6, 3],
          [4, 1],
        ]),
      ),
    ).toEqual({ ratio: 2.5, variance: 0.5625 })
  })

  test('of ratios where nothing differs one in twenty is taken for a difference', () => {
    let found = 0
    const runs = 500
    for (let run = 0; run < runs; run++) {
      const group = (name: string) =>
        momentsOf(
          Array.from({ length: 60 }, (_, i) => {
            const visits = 1 + Math.floor(5 * unit(`visits ${name} ${run} ${i}`))
            // What somebody buys goes with how often they come: that is what the formula is for.
            return [visits * (2 + normal(`buys ${name} ${run} ${i}`)), visits]
          }),
        )
      if (ratiosDiffer(group('a'), group('b'))!.p < 0.05) found++
    }
    expect(found / runs).toBeGreaterThan(0.05 - 3 * Math.sqrt((0.05 * 0.95) / runs))
    expect(found / runs).toBeLessThan(0.05 + 3.5 * Math.sqrt((0.05 * 0.95) / runs))
  })
})

describe('less noise from the past', () => {
  test('θ over all together, the mean of the past taken out, by hand', () => {
    // All x: 1 2 3 4, y: 2 4 6 9. cov = 3.8333, var 1.6667, θ = 2.3; mean of x 2.5.
    const [a, b] = [
      momentsOf([
        [1, 2],
        [3, 6],
      ]),
      momentsOf([
        [2, 4],
        [4, 9],
      ]),
    ]
    const { theta, groups, saved } = lessNoise([a, b])
    expect(theta).toBeCloseTo(2.3, 12)
    expect(groups[0].mean).toBeCloseTo(4 - 2.3 * (2 - 2.5), 12)
    expect(groups[1].mean).toBeCloseTo(6.5 - 2.3 * (3 - 2.5), 12)
    // y − 2.3 x of the first: −0.3 and −0.9; of the second: −0.6 and −0.2.
    expect(groups[0].variance).toBeCloseTo(0.18, 12)
    expect(groups[1].variance).toBeCloseTo(0.08, 12)
    // var y 8.9167; var of −0.3 −0.6 −0.9 −0.2: 0.1 in all.
    expect(saved).toBeCloseTo(1 - 0.1 / 8.916667, 6)
  })

  test('no past: nothing is taken away', () => {
    const groups = [
      momentsOf([
        [0, 2],
        [0, 6],
      ]),
      momentsOf([
        [0, 4],
        [0, 9],
      ]),
    ]
    expect(lessNoise(groups)).toMatchObject({ theta: 0, saved: 0 })
    expect(lessNoise(groups).groups).toEqual(groups.map(meanOf))
  })
})

describe('always valid', () => {
  test('the evidence of one look, by hand: V 1, τ 1, difference 2', () => {
    expect(evidence({ difference: 2, variance: 1 }, 1)).toBeCloseTo(Math.sqrt(0.5) * Math.E, 12)
    const found = alwaysValid([{ difference: 2, variance: 1 }], 1)!
    expect(found.p).toBeCloseTo(1 / (Math.sqrt(0.5) * Math.E), 12)
    // ±√(2 · (2 ln 20 + ln 2)) = ±3.6563
    expect(found.interval!.high).toBeCloseTo(2 + 3.6563, 3)
    expect(found.interval!.low).toBeCloseTo(2 - 3.6563, 3)
  })

  test('p and interval agree: 0 is outside of the interval where p is under 5 %, at each look', () => {
    for (let difference = 0; difference < 8; difference += 0.25) {
      const { p, interval } = alwaysValid([{ difference, variance: 1 }], 1.5)!
      expect(interval!.low > 0).toBe(p < 0.05)
    }
  })

  test('p never rises, the interval never widens; looks that exclude each other leave none; without variance nothing is said', () => {
    const looks = [3, 1, 6, 2].map((difference) => ({ difference, variance: 1 }))
    const ps = looks.map((_, i) => alwaysValid(looks.slice(0, i + 1), 1)!.p)
    expect([...ps].sort((a, b) => b - a)).toEqual(ps)
    expect(
      alwaysValid(
        [
          { difference: -9, variance: 1 },
          { difference: 9, variance: 1 },
        ],
        1,
      )!.interval,
    ).toBeNull()
    expect(alwaysValid([{ difference: 5, variance: 0 }], 1)).toBeNull()
    expect(alwaysValid(looks, 0)).toBeNull()
  })

  test('looked at on forty days where nothing differs, at most one in twenty is ever told to; a fixed p is far more often', () => {
    const runs = 1000
    let always = 0
    let peeked = 0
    for (let run = 0; run < runs; run++) {
      let sum = 0
      const looks = Array.from({ length: 40 }, (_, day) => {
        // 25 people a day in each variant, of deviation 1.
        sum += normal(`look ${run} ${day}`) * Math.sqrt(25 * 2)
        const people = 25 * (day + 1)
        return { difference: sum / people, variance: 2 / people }
      })
      if (alwaysValid(looks, 0.2)!.p < 0.05) always++
      if (looks.some(({ difference, variance }) => Math.abs(difference) > 1.96 * Math.sqrt(variance))) peeked++
    }
    expect(always / runs).toBeLessThanOrEqual(0.05)
    expect(peeked / runs).toBeGreaterThan(0.2)
  })
})
