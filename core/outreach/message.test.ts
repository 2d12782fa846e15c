import { describe, expect, test } from 'vitest'
import fc from 'fast-check'
import { placeOf } from '../stats/assign.js'
import { meansNeed, sharesNeed, smallestGain } from '../stats/power.js'
import { holm } from '../stats/proportion.js'
import { chancesOfBest, floored } from './adaptive.js'
import { counted } from './characters.js'
import { admission, variantOf, DAY_MS } from './entering.js'
import { fieldsIn, fillText, readText } from './fields.js'
import { nextWithin } from './hours.js'
import { messageSchema } from './message.js'

const utc = (text: string) => Date.parse(`${text}Z`)
const said = (ms: number) => new Date(ms).toISOString()

describe('who comes in', () => {
  const now = utc('2026-10-10T12:00:00')
  const stranger = { optedOut: false, notAmong: false, lastMs: null, sentMs: [] }

  test('each once, or again after so many days', () => {
    expect(admission(stranger, {}, now)).toBe('enters')
    const was = { ...stranger, lastMs: now - 7 * DAY_MS }
    expect(admission(was, {}, now)).toBe('was in')
    expect(admission(was, { again: 7 }, now)).toBe('enters')
    expect(admission(was, { again: 8 }, now)).toBe('was in')
  })

  test('not who wants nothing, nor who is left out', () => {
    expect(admission({ ...stranger, optedOut: true }, {}, now)).toBe('opted out')
    expect(admission({ ...stranger, notAmong: true }, {}, now)).toBe('not among')
  })

  test('not who was sent enough: the first moment of the days does not count, the last does', () => {
    const cap = { most: 2, days: 7 }
    const sent = (...ago: number[]) => ({ ...stranger, sentMs: ago.map((ms) => now - ms) })
    expect(admission(sent(0, 7 * DAY_MS - 1), { cap }, now)).toBe('capped')
    expect(admission(sent(0, 7 * DAY_MS), { cap }, now)).toBe('enters')
    expect(admission(sent(DAY_MS), { cap }, now)).toBe('enters')
  })
})

describe('which variant', () => {
  test('the hold-out comes first in the cumulated weights', () => {
    // 20 % are left alone, the rest is shared 3 : 1, so that the bounds are 0.2 and 0.8.
    const weights = [20, 0.75 * 80, 0.25 * 80]
    expect([0, 0.1999, 0.2, 0.7999, 0.8, 0.9999].map((at) => placeOf(at, weights))).toEqual([0, 0, 1, 1, 2, 2])
  })

  test('the last with weight takes what rounding leaves', () => {
    expect(placeOf(0.9999999999999999, [0.1, 0.2, 0.7, 0])).toBe(2)
  })

  test('goes by the unit of key and person: a3e970e975ee4 ÷ 2⁵² is 0.6403 of `ride:1`', () => {
    expect(variantOf('ride', '1', 64, [1])).toBe(0)
    expect(variantOf('ride', '1', 65, [1])).toBeNull()
  })

  test('whoever is left alone stays so, however the variants share', () => {
    fc.assert(
      fc.property(fc.string(), fc.double({ min: 0, max: 1, noNaN: true }), (person, share) => {
        const alone = variantOf('k', person, 30, [0.5, 0.5]) === null
        expect(variantOf('k', person, 30, [share, 1 - share]) === null).toBe(alone)
      }),
    )
  })
})

describe('a moving split', () => {
  test('nothing known: all alike; Beta(2,1) beats Beta(1,2) five times of six', () => {
    expect(
      chancesOfBest([
        { did: 0, over: 0 },
        { did: 0, over: 0 },
      ])[0],
    ).toBeCloseTo(0.5, 9)
    // ∫ 2x (1 − (1 − x)²) dx = 2 (2/3 − 1/4) = 5/6.
    expect(
      chancesOfBest([
        { did: 1, over: 1 },
        { did: 0, over: 1 },
      ])[0],
    ).toBeCloseTo(5 / 6, 7)
  })

  test('two variants agree with the sum that is known in closed form', () => {
    // P(B > A) = Σ over i < αB of B(αA + i, βA + βB) ÷ ((βB + i) B(1 + i, βB) B(αA, βA)).
    const lnGamma = (n: number) => Array.from({ length: n - 1 }, (_, i) => Math.log(i + 1)).reduce((a, b) => a + b, 0)
    const lnBeta = (a: number, b: number) => lnGamma(a) + lnGamma(b) - lnGamma(a + b)
    const [a, b] = [
      { did: 40, over: 300 },
      { did: 55, over: 310 },
    ]
    const [aa, ab, ba, bb] = [41, 261, 56, 256]
    let sum = 0
    for (let i = 0; i < ba; i++)
      sum += Math.exp(lnBeta(aa + i, ab + bb) - Math.log(bb + i) - lnBeta(1 + i, bb) - lnBeta(aa, ab))
    expect(chancesOfBest([a, b])[1]).toBeCloseTo(sum, 6)
  })

  test('many people: the chances are still exact, and add up', () => {
    const chances = chancesOfBest([
      { did: 50_000, over: 200_000 },
      { did: 50_300, over: 200_000 },
      { did: 10, over: 400 },
    ])
    expect(chances.reduce((x, y) => x + y, 0)).toBeCloseTo(1, 12)
    // z = 0.0015 ÷ √(2 · 0.25 · 0.75 ÷ 200,000) = 1.0946: Φ = 0.8632, and the third has next to none.
    expect(chances[1]).toBeCloseTo(0.8632, 3)
  })

  test('below 5 % is set to 5 %, the others scaled in proportion, until none is below', () => {
    expect(floored([0.9, 0.08, 0.02])).toEqual([
      expect.closeTo((0.9 / 0.98) * 0.95),
      expect.closeTo((0.08 / 0.98) * 0.95),
      0.05,
    ])
    // 0.051 goes below once the first is set: 0.051 ÷ 0.991 × 0.95 = 0.0489.
    expect(floored([0.94, 0.051, 0.009])).toEqual([expect.closeTo(0.9), 0.05, 0.05])
    expect(floored([1, 0, 0, 0, 0])).toEqual([expect.closeTo(0.8), 0.05, 0.05, 0.05, 0.05])
  })
})

describe('how many people are needed', () => {
  test('60 % against 70 %: 356 of each; a mean half a deviation apart: 63 of each', () => {
    expect(sharesNeed(0.6, 0.7)).toBe(356)
    expect(meansNeed(1, 0.5)).toBe(63)
  })

  test('the smallest gain is the one that needs just so many', () => {
    const gain = smallestGain(0.22, 246, 2202)!
    expect(sharesNeed(0.22, 0.22 + gain, 2202 / 246)).toBeLessThanOrEqual(246)
    expect(sharesNeed(0.22, 0.22 + gain - 1e-4, 2202 / 246)).toBeGreaterThan(246)
    expect(smallestGain(0.5, 2, 2)).toBeNull()
  })

  test('Holm: each times how many are left, never less than the one before', () => {
    expect(holm([0.01, 0.04, 0.03])).toEqual([expect.closeTo(0.03), expect.closeTo(0.06), expect.closeTo(0.06)])
  })
})

describe('hours of the day', () => {
  const hours = { from: 9, to: 20 }
  const next = (ms: number, zone = 'Europe/Lisbon') => said(nextWithin(ms, hours, zone))

  test('within them at once, else when they begin next', () => {
    expect(next(utc('2026-12-01T09:00:00'))).toBe('2026-12-01T09:00:00.000Z')
    expect(next(utc('2026-12-01T19:59:59'))).toBe('2026-12-01T19:59:59.000Z')
    expect(next(utc('2026-12-01T20:00:00'))).toBe('2026-12-02T09:00:00.000Z')
    expect(next(utc('2026-12-01T03:00:00'))).toBe('2026-12-01T09:00:00.000Z')
  })

  test('on the clock of the person’s own zone, and over a change of the clock', () => {
    expect(next(utc('2026-12-01T09:00:00'), 'America/New_York')).toBe('2026-12-01T14:00:00.000Z')
    expect(next(utc('2026-03-28T22:00:00'))).toBe('2026-03-29T08:00:00.000Z')
  })
})

describe('texts', () => {
  const values = new Map([['first name', 'Rui']])
  const fill = (text: string, who = values) => fillText(readText(text).parts, (name) => who.get(name) ?? null, '…')

  test('fields hold what a person has, else what is given for them', () => {
    expect(fill('Hello {first name, or "there"}!')).toEqual({ text: 'Hello Rui!', missing: [] })
    expect(fill('Hello {first name, or “there”}!', new Map())).toEqual({ text: 'Hello there!', missing: [] })
    expect(fill('Hello {first name}!', new Map())).toEqual({ text: 'Hello …!', missing: ['first name'] })
    expect(fill('{{kept}} as it is')).toEqual({ text: '{kept} as it is', missing: [] })
  })

  test('what is wrong is told with its place', () => {
    const faults = (text: string) => readText(text).faults.map(({ from, to }) => text.slice(from, to))
    expect(faults('Hi {name')).toEqual(['{name'])
    expect(faults('Hi {}, {plan or "x"}, {plan, else "x"}')).toEqual(['{}', '{plan, else "x"}'])
    expect(faults('a } b')).toEqual(['}'])
    expect(fieldsIn(['{a} {b}', '{a, or "x"}'])).toEqual(['a', 'b'])
  })

  test('are as long as their channel counts', () => {
    expect(counted('push', 'Zoë 👩‍👩‍👧 waits').characters).toBe(11)
    expect(counted('text', 'a'.repeat(160))).toEqual({ characters: 160, parts: 1, alphabet: 'plain' })
    expect(counted('text', 'a'.repeat(161)).parts).toBe(2)
    expect(counted('text', '€'.repeat(80))).toEqual({ characters: 160, parts: 1, alphabet: 'plain' })
    expect(counted('text', 'ł'.repeat(71))).toMatchObject({ parts: 2, alphabet: 'wide' })
  })
})

test('a definition that cannot be is refused with its place', () => {
  const whole = {
    ...{ name: 'Third ride', segment: 's', trigger: { kind: 'comes in' }, destination: 'push' },
    variants: [{ name: 'A', text: 'x' }],
    ...{ goal: { event: { names: ['Ride'] } }, within: { count: 3, unit: 'day' } },
  }
  const wrong = (more: object) =>
    messageSchema.safeParse({ ...whole, ...more }).error?.issues.map(({ path }) => path[0])
  expect(wrong({})).toBeUndefined()
  expect(wrong({ variants: [{ name: 'A' }, { name: 'a' }] })).toEqual(['variants'])
  expect(wrong({ variants: [{ name: 'left alone' }] })).toEqual(['variants'])
  expect(wrong({ split: { kind: 'fixed', weights: [0] } })).toEqual(['split'])
  expect(wrong({ hours: { from: 20, to: 9 } })).toEqual(['hours'])
})
