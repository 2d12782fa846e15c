import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  eventLog,
  faultsOf,
  logOf,
  MONDAY,
  NOW,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { said } from '../../../tests/said.js'
import { parseQuestion } from '../registry.js'
import { attributionFindings } from './findings.js'
import { costEach } from './costWords.js'
import { creditsOf } from './credits.js'
import type { AttributionResult, CreditSide, GoalCredit } from './finish.js'
import type { AttributionMark } from './marks.js'
import { plainModels, usualAttribution, type AttributionQuestion, type Model } from './question.js'
import { referenceConversions, referenceShares } from './reference.js'

const DAY = 86_400_000
const base: AttributionQuestion = {
  ...usualAttribution('buy'),
  range: { from: '2026-01-05', to: '2026-01-18' },
  by: { of: 'event', name: 'from' },
  lookBack: { count: 3, unit: 'day' },
}
const UNITS: Record<string, number> = { d: DAY, h: 3_600_000, m: 60_000, ms: 1 }

/** Touches as `ad@0d`, conversions as `buy@1d` or `buy=30@1d`, in words. */
function made(people: Record<string, string>): TestLog {
  return eventLog(
    Object.fromEntries(
      Object.entries(people).map(([person, text]) => [
        person,
        text.split(' ').map((word): TestEvent => {
          const [what, when] = word.split('@')
          const offset = when.split('+').reduce((sum, part) => {
            const [, n, unit] = /^(-?[\d.]+)(d|h|ms|m)$/.exec(part)!
            return sum + Number(n) * UNITS[unit]
          }, 0)
          const [event, number] = what.split('=')
          const time = MONDAY + offset
          if (event === 'buy' || event === 'join')
            return { person, event, time, properties: number ? { price: Number(number) } : {} }
          return { person, event: 'visit', time, properties: { from: event } }
        }),
      ]),
    ),
  )
}
const ask = (log: TestLog, more: Partial<AttributionQuestion> = {}) =>
  answer<AttributionResult>(log, { ...base, ...more })

/** By value: its credit by a model, those without any left out. */
function by(result: AttributionResult, model: Model, goal = 0, side?: (of: GoalCredit) => CreditSide) {
  const own = result.goals[goal]
  const credits = creditsOf(own, side ? side(own) : own.all, model)!
  return Object.fromEntries(
    result.values.flatMap((key, at) =>
      credits[at] === 0 ? [] : [['rest' in key ? 'rest' : String('value' in key && key.value), round(credits[at])]],
    ),
  )
}
const round = (x: number) => Math.round(x * 1e6) / 1e6

describe('models', () => {
  test('one touch has all of it, by every model', () => {
    const result = ask(made({ p: 'ad@0d buy@1d' }), { models: ['removal', 'shapley'] })
    for (const model of [...plainModels, { own: [10, 80, 10] } as Model]) expect(by(result, model)).toEqual({ ad: 1 })
  })

  test('two touches', () => {
    const result = ask(made({ p: 'ad@0d search@1d buy@1d+1h' }), { halfLife: 1 })
    expect(by(result, 'first')).toEqual({ ad: 1 })
    expect(by(result, 'last')).toEqual({ search: 1 })
    expect(by(result, 'linear')).toEqual({ ad: 0.5, search: 0.5 })
    // A day apart with a half-life of a day: 1 to 2.
    expect(by(result, 'decay')).toEqual({ ad: 0.333333, search: 0.666667 })
    expect(by(result, '40-20-40')).toEqual({ ad: 0.5, search: 0.5 })
    expect(by(result, '20-20-60')).toEqual({ ad: 0.25, search: 0.75 })
    expect(by(result, '60-20-20')).toEqual({ ad: 0.75, search: 0.25 })
    expect(by(result, { own: [0, 100, 0] })).toEqual({ ad: 0.5, search: 0.5 })
    expect(by(result, 'participation')).toEqual({ ad: 1, search: 1 })
  })

  test('three touches, and five of which one value comes twice', () => {
    const three = ask(made({ p: 'ad@0d search@1d mail@2d buy@2d' }), { halfLife: 1 })
    expect(by(three, '40-20-40')).toEqual({ ad: 0.4, search: 0.2, mail: 0.4 })
    expect(by(three, '20-20-60')).toEqual({ ad: 0.2, search: 0.2, mail: 0.6 })
    expect(by(three, '60-20-20')).toEqual({ ad: 0.6, search: 0.2, mail: 0.2 })
    expect(by(three, { own: [10, 60, 30] })).toEqual({ ad: 0.1, search: 0.6, mail: 0.3 })
    // 1, 2, 4 of 7.
    expect(by(three, 'decay')).toEqual({ ad: 0.142857, search: 0.285714, mail: 0.571429 })
    const five = ask(made({ p: 'ad@0d search@1d mail@1d+1h search@1d+2h ad@2d buy@2d' }))
    expect(by(five, 'linear')).toEqual({ ad: 0.4, search: 0.4, mail: 0.2 })
    expect(by(five, '40-20-40')).toEqual({ ad: 0.8, search: 0.133333, mail: 0.066667 })
    expect(by(five, 'participation')).toEqual({ ad: 1, search: 1, mail: 1 })
  })

  test('the last that is not direct; where all are direct, the last', () => {
    const log = made({ p: 'ad@0d own@1d own@2d buy@2d', q: 'own@0d typed@1d buy@1d' })
    const direct = [{ value: 'own' }, { value: 'typed' }]
    expect(by(ask(log, { direct }), 'last other')).toEqual({ ad: 1, typed: 1 })
    expect(by(ask(log), 'last other')).toEqual({ own: 1, typed: 1 })
  })
})

describe('what a touch is', () => {
  test('the edge of the look-back counts, what is a millisecond older does not; nor what comes after', () => {
    const result = ask(
      made({
        edge: 'ad@1d buy@4d',
        older: 'ad@1d buy@4d+1ms',
        same: 'buy@4d ad@4d',
        after: 'buy@4d ad@4d+1ms',
      }),
    )
    expect(by(result, 'last')).toEqual({ ad: 2 })
    expect(result.goals[0].all).toMatchObject({ conversions: 4, noneConversions: 2, none: 2, nonePeople: 2 })
  })

  test('touches from before the range count, conversions do not', () => {
    expect(by(ask(made({ p: 'ad@-1d buy@0d', q: 'ad@-2d buy@-1d' })), 'last')).toEqual({ ad: 1 })
  })

  test('by sessions the conversion’s own is the first', () => {
    const log = made({ p: 'ad@0d search@1d mail@2d buy@2d+10m' })
    const back = (count: number) => by(ask(log, { lookBack: { count, unit: 'session' } }), 'linear')
    expect(back(1)).toEqual({ mail: 1 })
    expect(back(2)).toEqual({ search: 0.5, mail: 0.5 })
    expect(back(9)).toEqual({ ad: 0.333333, search: 0.333333, mail: 0.333333 })
  })

  test('one touch serves every conversion that it lies before', () => {
    const result = ask(made({ p: 'ad@0d buy@1d search@1d+1h buy@2d' }))
    expect(by(result, 'first')).toEqual({ ad: 2 })
    expect(by(result, 'last')).toEqual({ ad: 1, search: 1 })
    expect(result.goals[0].all).toMatchObject({ conversions: 2, people: 1 })
  })

  test('what is left out is none, and the others share', () => {
    const log = made({ p: 'ad@0d search@1d buy@1d', q: 'ad@0d buy@1d' })
    const result = ask(log, { leftOut: [{ value: 'ad' }] })
    expect(by(result, 'first')).toEqual({ search: 1 })
    expect(result.goals[0].all.none).toBe(1)
  })

  test('chosen events alone, and told apart by which they are', () => {
    const log = eventLog({ p: 'rate@0d share@1d buy@1d+1h', q: 'share@0d buy@1d' })
    const touches = { event: { names: ['rate', 'share'] } }
    const result = ask(log, { by: { of: 'event name' }, touches })
    expect(by(result, 'first')).toEqual({ rate: 1, share: 1 })
    expect(by(result, 'last')).toEqual({ share: 2 })
    expect(by(ask(log, { by: { of: 'event name' }, touches, leftOut: [{ value: 'rate' }] }), 'first')).toEqual({
      share: 2,
    })
  })

  test('of channel rules only what some row catches, also where a row gives what the fallback gives', () => {
    const visit = (from: string, hours: number): TestEvent => ({
      ...{ person: 'p', event: 'visit', time: MONDAY + hours * 3_600_000, properties: { from } },
    })
    const property = { of: 'event' as const, name: 'from' }
    const log = logOf(
      [visit('letter', 0), visit('ad', 1), visit('typed', 2), { person: 'p', event: 'buy', time: MONDAY + DAY }],
      {
        mending: {
          derived: [
            {
              ...{ name: 'Channel', of: 'event', description: '', channels: true },
              recipe: {
                kind: 'rules',
                rows: [
                  { where: { property, op: 'is', values: ['ad'] }, gives: { text: 'Advertising' } },
                  { where: { property, op: 'is', values: ['letter'] }, gives: { text: 'Direct' } },
                ],
                otherwise: { text: 'Direct' },
              },
            },
          ],
        },
      },
    )
    const result = ask(log, { by: { of: 'event', name: 'Channel' } })
    expect(by(result, 'linear')).toEqual({ Direct: 0.5, Advertising: 0.5 })
  })
})

test('texts and numbers together are all told apart, and have their people', () => {
  const touch = (person: string, from: string | number): TestEvent[] => [
    { person, event: 'visit', time: MONDAY, properties: { from } },
    { person, event: 'buy', time: MONDAY + DAY },
  ]
  const log = logOf([...touch('p', 'ad'), ...touch('q', 7)])
  expect(by(ask(log), 'last')).toEqual({ ad: 1, 7: 1 })
  const credited = (mark: object) => peopleIn(log, base, [{ kind: 'credit', ...mark } as AttributionMark])
  expect([credited({ value: { value: 7 } }), credited({ none: true })]).toEqual([['q'], []])
})

describe('what a conversion is worth', () => {
  const log = made({ p: 'ad@0d buy=30@1d search@1d+1h buy@2d', q: 'search@0d buy=5@1d', r: 'buy=7@1d' })

  test('the number that it carries; without one nothing', () => {
    const result = ask(log, { worth: { sum: { of: 'event', name: 'price' } } })
    expect(by(result, 'first')).toEqual({ ad: 30, search: 5 })
    expect(result.goals[0].all).toMatchObject({ worth: 42, none: 7, conversions: 4, people: 3 })
  })

  test('of people the first in the time asked about', () => {
    const result = ask(log, { worth: 'people' })
    expect(by(result, 'last')).toEqual({ ad: 1, search: 1 })
    expect(result.goals[0].all).toMatchObject({ worth: 3, none: 1 })
  })

  test('first ever: who did it before the range has none in it', () => {
    const result = ask(made({ p: 'buy@-1d ad@0d buy@1d', q: 'ad@0d buy@1d buy@2d' }), { first: true })
    expect(by(result, 'first')).toEqual({ ad: 1 })
  })

  test('several conversions stand side by side', () => {
    const result = ask(made({ p: 'ad@0d join@1d search@1d+1h buy@2d' }), {
      goals: [{ event: { names: ['buy'] } }, { event: { names: ['join'] } }],
    })
    expect([by(result, 'last'), by(result, 'last', 1)]).toEqual([{ search: 1 }, { ad: 1 }])
  })
})

test('by week, and by what is known of people', () => {
  const log = made({ p: 'ad@0d buy@1d buy@8d', q: 'search@7d ad@7d buy@8d' })
  const weekly = ask(log, { every: 'week', lookBack: { count: 30, unit: 'day' } })
  expect(weekly.goals[0].over.map((side) => by(weekly, 'first', 0, () => side))).toEqual([
    { ad: 1 },
    { ad: 1, search: 1 },
  ])
  const withPlans = logOf(log.events, { profiles: { p: { plan: 'Annual' }, q: { plan: 'None' } } })
  const grouped = ask(withPlans, { breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }] })
  expect(grouped.goals[0].groups.map((side) => [side.key, by(grouped, 'first', 0, () => side)])).toEqual([
    [{ value: 'Annual' }, { ad: 1 }],
    [{ value: 'None' }, { search: 1 }],
  ])
})

test('of more than fifty values the commonest are told apart, and what is called direct', () => {
  const people: Record<string, string> = { all: 'zz@0d buy@1d' }
  for (let i = 0; i < 60; i++) people[`p${i}`] = `v${String(i).padStart(2, '0')}@0d buy@1d`
  people.more = 'v59@0d buy@1d'
  const result = ask(made(people), { direct: [{ value: 'zz' }] })
  expect(result.values).toHaveLength(52)
  expect(result.values[0]).toEqual({ value: 'v59' })
  expect(result.values).toContainEqual({ value: 'zz' })
  expect([result.restValues, by(result, 'last').rest]).toEqual([10, 10])
})

describe('from all ways', () => {
  test('removal effect by hand: three who go over A and B', () => {
    // start → A → B → bought; start → A → lost; start → B → lost. From A half go to B, from B half buy.
    // Bought from the start: 2/3 × 1/2 × 1/2 + 1/3 × 1/2 = 1/3. Without A: 1/3 × 1/2 = 1/6, half is lost. Without B: all.
    const log = made({ p: 'A@0d B@0d+1h buy@1d', q: 'A@0d', r: 'B@0d' })
    const result = ask(log, { models: ['removal'] })
    const [goal] = result.goals
    const effects = Object.fromEntries(
      result.values.map((key, at) => ['value' in key && key.value, round(goal.removal![at].effect)]),
    )
    expect(effects).toEqual({ A: 0.5, B: 1 })
    expect(by(result, 'removal')).toEqual({ A: 0.333333, B: 0.666667 })
  })

  test('runs of one value are one step, and those who did not convert go by the range', () => {
    const once = made({ p: 'A@0d B@0d+1h buy@1d', q: 'A@0d', r: 'B@0d' })
    const often = made({ p: 'A@0d A@0d+1h B@0d+2h B@0d+3h buy@1d', q: 'A@-9d A@0d A@1d', r: 'B@0d B@20d' })
    const [one, other] = [once, often].map((log) => by(ask(log, { models: ['removal'] }), 'removal'))
    expect(one).toEqual(other)
  })

  test('Shapley values by hand: A alone 1 of 2, B alone none of 1, both 1 of 1', () => {
    // v(A) = 1/2, v(B) = 0, v(AB) = 2/4. A: (1/2 + 1/2 − 0) ÷ 2 = 1/2; B: (0 + 1/2 − 1/2) ÷ 2 = 0.
    const log = made({ a: 'A@0d buy@1d', b: 'A@0d', c: 'B@0d', d: 'A@0d B@1d buy@1d' })
    expect(by(ask(log, { models: ['shapley'] }), 'shapley')).toEqual({ A: 2 })
  })

  test('the glove game: who has the one left glove has two thirds of the pair', () => {
    const log = made({ a: 'left@0d right@1h buy@1d', b: 'left@0d other@1h buy@1d' })
    const shares = by(ask(log, { models: ['shapley'] }), 'shapley')
    expect(shares).toEqual({ left: round(4 / 3), right: round(1 / 3), other: round(1 / 3) })
  })

  test('three ways over three values: without the first half is lost, without either other all', () => {
    const log = made({ p: 'C1@0d C2@1h C3@2h buy@1d', q: 'C1@0d', r: 'C2@0d C3@1h' })
    const result = ask(log, { models: ['removal'] })
    const effects = result.values.map((key, at) => [
      'value' in key && key.value,
      round(result.goals[0].removal![at].effect),
    ])
    expect(Object.fromEntries(effects)).toEqual({ C1: 0.5, C2: 1, C3: 1 })
    expect(by(result, 'removal')).toEqual({ C1: 0.2, C2: 0.4, C3: 0.4 })
  })

  test('of thirteen values that all do the same each has the same, about, and they add up', () => {
    const people: Record<string, string> = {}
    for (let i = 0; i < 13; i++) {
      people[`p${i}`] = `v${i}@0d buy@1d`
      people[`q${i}`] = `v${i}@0d`
    }
    const credits = Object.values(by(ask(made(people), { models: ['shapley'] }), 'shapley'))
    expect(credits.reduce((a, b) => a + b, 0)).toBeCloseTo(13, 3)
    for (const credit of credits) expect(Math.abs(credit - 1)).toBeLessThan(0.4)
  })
})

test('whole paths, with who went them and did not convert; how many touches, and how long', () => {
  const log = made({ p: 'ad@0d ad@1h search@2h buy@1d', q: 'ad@0d search@1h', r: 'ad@0d buy@2d', s: 'buy@1d' })
  const [goal] = ask(log, { show: { form: 'touches' } }).goals
  expect(goal.ways).toEqual([
    { values: [{ value: 'ad' }], conversions: 1, worth: 1, people: 1, others: 0 },
    { values: [{ value: 'ad' }, { value: 'search' }], conversions: 1, worth: 1, people: 1, others: 1 },
  ])
  expect(goal.touches.slice(0, 4)).toEqual([1, 1, 0, 1])
  expect(goal.median).toBe(1.5 * DAY)
  expect(goal.ages).toEqual([0, 1, 1, 0, 0, 0, 0])
})

test('people behind a credit, behind what has no touch, and behind a path', () => {
  const log = made({ p: 'ad@0d search@1d buy@1d', q: 'ad@0d buy@1d', r: 'buy@1d' })
  const people = (mark: Partial<AttributionMark>) =>
    peopleIn(log, base, [{ kind: 'credit', ...mark } as AttributionMark])
  const ad = { value: { value: 'ad' } }
  expect(people({})).toEqual(['p', 'q', 'r'])
  expect(people(ad)).toEqual(['p', 'q'])
  expect(people({ ...ad, model: 'last' })).toEqual(['q'])
  expect(people({ ...ad, model: 'first' })).toEqual(['p', 'q'])
  expect(people({ none: true })).toEqual(['r'])
  expect(people({ many: 2 })).toEqual(['p'])
  expect([people({ age: 1 }), people({ age: 2 })]).toEqual([['p', 'q'], []])
  expect(people({ kind: 'touches', values: [{ value: 'ad' }, { value: 'search' }] })).toEqual(['p'])
})

describe('as a slow reading of the definition', () => {
  const at = (day: string) => Date.parse(`${day}T00:00:00Z`)
  const span = { from: at('2026-01-05'), until: at('2026-01-19'), now: NOW }
  const seldom = <T>(value: fc.Arbitrary<T>) =>
    fc.oneof({ weight: 2, arbitrary: fc.constant(undefined) }, { weight: 1, arbitrary: value })
  const events = fc.array(
    fc.record({
      person: fc.constantFrom('p', 'q', 'r'),
      event: fc.constantFrom('visit', 'visit', 'mail', 'buy', 'join'),
      time: fc
        .oneof(
          { weight: 4, arbitrary: fc.integer({ min: 0, max: 60 * 4 }) },
          { weight: 1, arbitrary: fc.integer({ min: -40 * 4, max: (14 * 24 + 40) * 4 }) },
        )
        .map((quarters) => MONDAY + quarters * 900_000),
      properties: fc.record(
        { from: fc.constantFrom('a', 'b', 'c', 'd'), price: fc.nat({ max: 9 }) },
        { requiredKeys: [] },
      ),
      source: fc.constantFrom('app', 'kiosk'),
    }),
    { minLength: 1, maxLength: 60, size: 'max' },
  )
  const settings = fc
    .record({
      lookBack: seldom(
        fc.record({ count: fc.integer({ min: 1, max: 4 }), unit: fc.constantFrom('day' as const, 'session' as const) }),
      ),
      by: seldom(fc.constantFrom({ of: 'source' as const }, { of: 'event name' as const })),
      worth: seldom(fc.constantFrom('people' as const, { sum: { of: 'event' as const, name: 'price' } })),
      first: seldom(fc.constant(true as const)),
      touches: fc.oneof(
        fc.constant(undefined),
        fc.constantFrom({ event: { names: ['visit', 'mail'] } }, { event: { names: ['mail', 'buy'] } }),
      ),
      leftOut: seldom(fc.constant([{ value: 'a' }, { value: 'app' }])),
      direct: seldom(fc.constant([{ value: 'b' }])),
      halfLife: seldom(fc.double({ min: 0.1, max: 20, noNaN: true })),
      goals: seldom(fc.constant([{ event: { names: ['buy'] } }, { event: { names: ['join', 'buy'] } }])),
    })
    .map((all) => Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)))
  const own = fc
    .tuple(fc.nat({ max: 100 }), fc.nat({ max: 100 }))
    .map(([a, b]): Model => ({ own: [Math.min(a, b), Math.abs(a - b), 100 - Math.max(a, b)] }))

  test('in all settings: every model’s credit, adding up to what is counted, however people are cut', () => {
    let conversions = 0
    fc.assert(
      fc.property(
        events,
        settings,
        own,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
        (list, more, weights, cuts) => {
          const seed = ['visit', 'mail', 'buy', 'join'].map((event) => ({
            ...{ person: 'seed', event, time: MONDAY - 90 * DAY, properties: { from: 'd', price: 1 }, source: 'kiosk' },
          }))
          const log = logOf([...seed, ...list])
          const parsed = parseQuestion({ ...base, ...more, models: ['removal', 'shapley'], show: { form: 'touches' } })
          if (parsed.faults.length > 0) return
          const question = parsed.question as AttributionQuestion
          const found = referenceConversions(log.events, question, span)
          const result = answer<AttributionResult>(log, question)
          expect(answer(log, question, { cuts })).toEqual(result)
          result.goals.forEach((goal, place) => {
            const mine = found.conversions.filter((each) => each.goal === place)
            conversions += mine.length
            expect(goal.all.conversions).toBe(mine.length)
            const touched = mine.filter(({ touches }) => touches.length > 0)
            expect(goal.all.conversions - goal.all.noneConversions).toBe(touched.length)
            const worth = touched.reduce((sum, each) => sum + each.worth, 0)
            for (const model of [...plainModels, weights]) {
              const credits = creditsOf(goal, goal.all, model)!
              if (model !== 'participation')
                expect(
                  credits.reduce((a, b) => a + b, 0) +
                    (model === 'removal' && credits.every((x) => x === 0) ? worth : 0),
                ).toBeCloseTo(model === 'shapley' && credits.every((x) => x === 0) ? 0 : worth, 6)
              if (model === 'removal' || model === 'shapley') continue
              result.values.forEach((key, at) => {
                const name = 'value' in key ? String(key.value) : ''
                const asked = mine.map((each) => each.worth * (referenceShares(each, model, question).get(name) ?? 0))
                expect(credits[at]).toBeCloseTo(
                  asked.reduce((a, b) => a + b, 0),
                  6,
                )
              })
            }
          })
        },
      ),
      { numRuns: 150 },
    )
    // A generator that makes hardly any conversion proves nothing.
    expect(conversions).toBeGreaterThan(500)
  })
})

describe('what was paid', () => {
  const paid = (...rows: [value: string, day: string, days: 1 | 7, amount: number][]) => ({
    costs: () => rows.map(([value, day, length, amount]) => ({ value, day, days: length, amount })),
  })
  const log = made({ p: 'ad@0d buy=30@1d', q: 'ad@0d search@1d buy=10@2d', r: 'buy@3d' })
  const costs = paid(['ad', '2026-01-05', 7, 12], ['poster', '2026-01-06', 1, 5], ['mail', '2025-12-29', 7, 99])

  test('stands beside each value, for the time asked about; what brought nobody by itself, missing days told', () => {
    const { cost, values } = answer<AttributionResult>(log, { ...base, costs: true }, costs)
    expect(values).toEqual([{ value: 'ad' }, { value: 'search' }])
    expect(cost).toMatchObject({ amounts: [12, null], others: [{ value: 'poster', amount: 5 }], total: 17, days: 14 })
    expect(cost!.missing).toEqual([{ from: '2026-01-12', to: '2026-01-18', days: 7 }])
    expect(answer<AttributionResult>(log, base, costs).cost).toBeUndefined()
  })

  test('what is left out of the touches is left out of what was paid', () => {
    const question: AttributionQuestion = { ...base, costs: true, leftOut: [{ value: 'ad' }] }
    const { cost } = answer<AttributionResult>(log, question, costs)
    expect(cost).toMatchObject({ amounts: [null], total: 5 })
  })

  test('for each conversion, or as a part of what came back', () => {
    expect(costEach(12, 1.5, {}, { thisYear: 2026 })).toBe('€8.00 each')
    expect(costEach(12, 36, { worth: { sum: { of: 'event', name: 'price' } } }, { thisYear: 2026 })).toBe('3 × back')
    expect(costEach(12, 0, {}, { thisYear: 2026 })).toBe('nobody')
    expect(costEach(0, 0, { worth: { sum: { of: 'event', name: 'price' } } }, { thisYear: 2026 })).toBe('–')
  })

  test('is said of those that brought thirty people and more, by the model that rows are ordered by', () => {
    const people = Object.fromEntries(
      Array.from({ length: 90 }, (_, i) => [`p${i}`, `${i < 50 ? 'ad' : i < 85 ? 'search' : 'few'}@0d buy@1d`]),
    )
    const question: AttributionQuestion = { ...base, costs: true }
    const rows = paid(['ad', '2026-01-05', 7, 100], ['search', '2026-01-05', 7, 350], ['few', '2026-01-05', 7, 1])
    const result = answer<AttributionResult>(made(people), question, rows)
    const told = said(attributionFindings(result, question, { thisYear: 2026 }))
    expect(told.findings).toContain('By last touch ad costs least, €2.00 each; search most, €10.00 each.')
    expect(told.cautions).toContain(
      'No cost is recorded for 7 days of 14, first for 12 Jan: what a conversion cost is told too low.',
    )
  })
})

describe('what it says', () => {
  const findings = (log: TestLog, more: Partial<AttributionQuestion> = {}) => {
    const question = { ...base, ...more }
    return said(attributionFindings(ask(log, more), question, { thisYear: 2026 }))
  }
  const many = (n: number, text: (i: number) => string) =>
    made(Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}`, text(i)])))

  test('who gains where the first touch counts, where it always begins', () => {
    const told = findings(many(60, (i) => (i % 3 === 0 ? 'mail@0d buy@1d' : 'ad@0d mail@1d buy@1d'))).findings
    expect(told[0]).toBe('By last touch mail has more than any other by itself: 60 of 60 conversions, 100 %.')
    expect(told[1]).toMatch(/^ad gains 66\.7 points by first touch against last touch: it comes early/)
  })

  test('who has another part of one conversion than of another', () => {
    const log = many(300, (i) =>
      i % 3 === 0 ? 'ad@0d join@1h buy@1d' : i % 3 === 1 ? 'ad@0d join@1h' : 'search@0d join@1h buy@1d',
    )
    const goals = [{ event: { names: ['join'] } }, { event: { names: ['buy'] } }]
    const told = findings(log, { goals, models: ['first'] }).findings
    expect(told).toContain('search has 33 % of join and 50 % of buy, by first touch.')
    expect(told).toContain('ad has 67 % of join and 50 % of buy, by first touch.')
  })

  test('nothing of early and late where it is chance', () => {
    let shifts = 0
    let seed = 5
    const next = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647
    for (let round = 0; round < 100; round++) {
      const one = () => 'abcde'[Math.floor(next() * 5)]
      const told = findings(many(50, () => `${one()}@0d ${one()}@1d buy@1d`)).findings
      if (told.some((text) => / comes (?:early|late)/.test(text))) shifts++
    }
    expect(shifts).toBeLessThanOrEqual(4)
  })

  test('one person who converts a hundred times is one person', () => {
    const often = Array.from({ length: 60 }, (_, i) => `ad@${i * 2}h mail@${i * 2}h+1m buy@${i * 2}h+2m`).join(' ')
    const told = findings(many(40, (i) => (i === 0 ? often : 'ad@0d buy@1d'))).findings
    expect(told.join()).not.toMatch(/comes early|comes late/)
    const goals = [{ event: { names: ['buy'] } }, { event: { names: ['join'] } }]
    const twice = many(90, (i) => (i % 3 ? 'ad@0d join@1h buy@1d buy@1d+1h' : 'search@0d join@1h buy@1d'))
    expect(findings(twice, { goals, models: ['first'] }).findings.join()).not.toContain(' of join, by ')
  })

  test('nobody, nothing found, few, its own touch', () => {
    expect(findings(made({ p: 'ad@0d', q: 'buy@30d' })).findings).toEqual(['Nobody did buy in this time, as asked.'])
    expect(findings(made({ p: 'buy@1d', q: 'ad@1d' })).cautions[0]).toMatch(
      /^No touch was found for any of 1 conversion/,
    )
    expect(findings(made({ p: 'ad@0d buy@1d' })).cautions[0]).toMatch(/^Only 1 conversion has a touch/)
    const own = eventLog({ p: [{ person: 'p', event: 'buy', time: MONDAY, properties: { from: 'x' } }] })
    expect(findings(own).cautions.at(-1)).toMatch(/are their own last touch, for buy carries From itself/)
  })
})

test('what is wrong is told at its place', () => {
  const faults = (more: object) =>
    parseQuestion({ ...base, ...more }).faults.map(({ path, want }) => `${path.join('.')}: ${want}`)
  expect(faults({ lookBack: { count: 0, unit: 'day' } })).toEqual(['lookBack.count: looks back at least 1'])
  expect(faults({ models: ['last', { own: [50, 50, 50] }] })).toEqual(['models.1.own: the three weights add up to 100'])
  expect(faults({ models: ['last', 'last'] })).toEqual(['models.1: this model stands there already'])
  expect(faults({ by: { of: 'event name' } })[0]).toMatch(/^touches: say which events are touches/)
  expect(faults({ leftOut: [{ value: 'a' }], direct: [{ value: 'a' }] })).toEqual([
    'direct: what is left out cannot be what is direct',
  ])
  expect(faultsOf(made({ p: 'ad@0d buy@1d' }), { ...base, by: { of: 'event', name: 'frm' } })).toEqual([
    { path: ['by'], code: 'unknown_property', got: 'frm', want: 'from' },
  ])
})
