import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
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
import { correlation } from '../../stats/phi.js'
import { parseQuestion } from '../registry.js'
import { tippingFindings } from './findings.js'
import type { TippingResult } from './finish.js'
import { usualTipping, type TippingQuestion } from './question.js'
import { referenceTipping } from './reference.js'

const base: TippingQuestion = {
  ...usualTipping('join'),
  range: { from: '2026-01-05', to: '2026-01-18' },
  goal: { event: { names: ['ride'] } },
  outcome: { unit: 'week', period: 4 },
}
const ask = (log: TestLog, more: Partial<TippingQuestion> = {}, now = NOW) =>
  answer<TippingResult>(log, { ...base, ...more }, { now })

/** A hundred and twenty people: `did` of them share thrice, of whom `did × rate` come back in week 4, and of the others `rest × other`. */
function groups(did: number, rate: number, rest: number, other: number): TestLog {
  const people: Record<string, string> = {}
  for (let i = 0; i < did; i++)
    people[`d${i}`] = `join@0d share@1h share@2h share@3d${i < did * rate ? ' ride@30d' : ''}`
  for (let i = 0; i < rest; i++) people[`r${i}`] = `join@0d${i < rest * other ? ' ride@30d' : ''}`
  return eventLog(people)
}
const only = (result: TippingResult, event = 'share') => result.behaviours.find((each) => each.event === event)!

describe('a table of two by two, by hand', () => {
  // 40 did it, 30 of them came back; 80 did not, 20 of them did.
  const result = ask(groups(40, 0.75, 80, 0.25))

  test('every figure of it', () => {
    expect(result).toMatchObject({ base: 120, came: 50, open: 0, looked: 1, tooFew: false })
    const { counts, best, exactly, trivial } = only(result)
    expect([best, trivial]).toEqual([0, null])
    expect(counts.map(({ times }) => times)).toEqual([1, 2, 3])
    expect(counts[0]).toMatchObject({ people: 40, came: 30, rate: 0.75, otherRate: 0.25, lift: 3, recall: 0.6 })
    expect(counts[0].share).toBeCloseTo(1 / 3, 12)
    // (30 × 60 − 10 × 20) ÷ √(40 × 80 × 50 × 70) = 1600 ÷ 3346.64
    expect(counts[0].phi!.value).toBeCloseTo(0.478091, 6)
    // atanh 0.478091 = 0.520507, ± 1.959964 ÷ √117
    expect(counts[0].phi!.low).toBeCloseTo(Math.tanh(0.520507 - 0.181199), 5)
    expect(counts[0].phi!.high).toBeCloseTo(Math.tanh(0.520507 + 0.181199), 5)
    expect(exactly).toEqual([
      { people: 80, came: 20 },
      { people: 0, came: 0 },
      { people: 0, came: 0 },
      { people: 40, came: 30 },
    ])
  })

  test('p is that of the pooled two-proportion test: three counts alike have it unchanged', () => {
    // z = phi × √n = 0.478091 × √120 = 5.2372; the three tests are one.
    const [{ p }] = only(result).counts
    expect(p).toBeCloseTo(1.63e-7, 9)
  })

  test('everything by Fisher’s z: a perfect table, and none', () => {
    expect(correlation({ both: 10, first: 10, second: 10, all: 20 })).toEqual({ value: 1, low: 1, high: 1 })
    expect(correlation({ both: 5, first: 10, second: 10, all: 20 })!.value).toBe(0)
    expect(correlation({ both: 10, first: 20, second: 10, all: 20 })).toBeNull()
  })
})

describe('what counts', () => {
  const many = (text: (i: number) => string) =>
    eventLog(Object.fromEntries(Array.from({ length: 120 }, (_, i) => [`p${i}`, text(i)])))
  const back = (i: number) => (i % 2 ? ' ride@30d' : '')

  test('exactly seven days after the start is early, a millisecond later is not; nor is what came before', () => {
    expect(only(ask(many((i) => `join@0d share@7d${back(i)}`))).exactly[1].people).toBe(120)
    const late = (i: number): TestEvent[] => [
      { person: `p${i}`, event: 'share', time: MONDAY - 1 },
      { person: `p${i}`, event: 'join', time: MONDAY },
      { person: `p${i}`, event: 'share', time: MONDAY + days(7) + 1 },
      ...(i % 2 ? [{ person: `p${i}`, event: 'ride', time: MONDAY + days(30) }] : []),
    ]
    const result = ask(logOf(Array.from({ length: 120 }, (_, i) => late(i)).flat()))
    expect([result.base, result.behaviours]).toEqual([120, []])
  })

  test('neither the start nor the outcome is a behaviour, nor what is left out', () => {
    const log = many((i) => `join@0d join@1d ride@2d share@3d look@3d${back(i)}`)
    expect(ask(log).behaviours.map(({ event }) => event)).toEqual(['look', 'share'])
    expect(ask(log, { leftOut: ['look'] }).behaviours.map(({ event }) => event)).toEqual(['share'])
    // With any activity for outcome nothing more is out.
    const any = ask(log, { goal: { event: { activity: true } } })
    expect(any.behaviours.map(({ event }) => event)).toEqual(['look', 'ride', 'share'])
  })

  test('from the outcome’s period on nothing is early', () => {
    // Who joins on a Sunday is in week 1 the next day.
    const log = many((i) => `join@6d share@6d+1h share@7d+1h${i % 2 ? ' ride@8d' : ''}`)
    const { counts } = only(ask(log, { outcome: { unit: 'week', period: 1 } }))
    expect(counts.map(({ people }) => people)).toEqual([120])
  })

  test('the first ever start counts, and only where it lies in the range', () => {
    expect(ask(many((i) => `join@-1d join@1d share@2d${back(i)}`)).base).toBe(0)
  })

  test('who is not through with the outcome’s period is left out and told', () => {
    const log = many((i) => `join@${i < 100 ? 0 : 7}d share@${i < 100 ? 1 : 8}d${i < 50 ? ' ride@30d' : ''}`)
    // Week 4 of those who joined in the first week ends on 9 February, of the others a week later.
    const now = Date.UTC(2026, 1, 9)
    expect(ask(log, {}, now)).toMatchObject({ base: 100, open: 20, came: 50 })
    expect(ask(log, {}, now - 1)).toMatchObject({ base: 0, open: 120 })
  })

  test('from a period on, by the clock, and within days after the first ones', () => {
    const log = many((i) => `join@0d share@1d${i % 2 ? ' ride@40d' : ''}`)
    expect(ask(log).came).toBe(0)
    expect(ask(log, { outcome: { unit: 'week', period: 4, from: true } }).came).toBe(60)
    // Days 35 to 42 are week 5 from the very moment.
    expect(ask(log, { outcome: { unit: 'week', period: 5, by: 'clock' } }).came).toBe(60)
    expect(ask(log, { outcome: { days: 33 } }).came).toBe(60)
    expect(ask(log, { outcome: { days: 32 } }).came).toBe(0)
    expect(ask(log, { outcome: { days: 33, times: 2 } }).came).toBe(0)
  })
})

test('more than twenty times is told as twenty', () => {
  const shares = Array.from({ length: 25 }, (_, i) => `share@${i + 1}m`).join(' ')
  const people = Array.from({ length: 120 }, (_, i) => [
    `p${i}`,
    `join@0d${i < 60 ? ` ${shares}` : ''}${i < 40 || i > 100 ? ' ride@30d' : ''}`,
  ])
  const { counts, exactly } = only(ask(eventLog(Object.fromEntries(people) as Record<string, string>)))
  expect([counts.length, counts[19].people, exactly[20].people]).toEqual([20, 60, 60])
})

test('what nearly all did, hardly any, or all it came for tells nothing', () => {
  const people: Record<string, string> = {}
  for (let i = 0; i < 300; i++)
    people[`p${i}`] = [
      ...['join@0d', ...(i < 290 ? ['open@1h'] : []), ...(i < 2 ? ['odd@1h'] : [])],
      ...(i < 150 ? ['key@1h'] : []),
      ...(i % 3 ? ['look@1h'] : []),
      ...(i < 100 ? ['ride@30d'] : []),
    ].join(' ')
  const result = ask(eventLog(people))
  expect(Object.fromEntries(result.behaviours.map(({ event, trivial }) => [event, trivial]))).toEqual({
    ...{ open: 'nearly all', odd: 'hardly any', key: 'all who came', look: null },
  })
})

test('too few are not ranked, and it is said what would be enough', () => {
  const told = (log: TestLog) => said(tippingFindings(ask(log), base, { thisYear: 2026 })).findings
  expect(ask(groups(20, 0.5, 60, 0.5)).tooFew).toBe(true)
  expect(told(groups(20, 0.5, 60, 0.5))[0]).toMatch(/^Only 80 people can be looked at: too few to rank anything/)
  expect(told(groups(40, 0.25, 80, 0.1))[0]).toMatch(/^Only 18 of 120 people did ride in week 4: too few/)
  expect(told(groups(40, 1, 80, 0.8))[0]).toMatch(/^All but 16 of 120 people did ride in week 4: too few/)
})

describe('people', () => {
  const log = groups(40, 0.75, 80, 0.25)
  const many = (mark: object) => peopleIn(log, base, [{ kind: 'early', ...mark }]).length

  test('of each cell of the table, and of each count', () => {
    const share = { event: 'share', times: 3 }
    expect([many({}), many({ outcome: 'came' }), many({ outcome: 'did not come' })]).toEqual([120, 50, 70])
    expect([many(share), many({ ...share, outcome: 'came' })]).toEqual([40, 30])
    expect([many({ ...share, not: true }), many({ ...share, not: true, outcome: 'came' })]).toEqual([80, 20])
    expect([many({ event: 'share', exactly: 0 }), many({ event: 'share', exactly: 3 })]).toEqual([80, 40])
    expect(many({ event: 'share', times: 4 })).toBe(0)
  })
})

describe('what it says', () => {
  test('what goes best with it, by how often, and that it is association', () => {
    const result = ask(groups(40, 0.75, 80, 0.25))
    const { findings, cautions } = said(tippingFindings(result, base, { thisYear: 2026 }))
    expect(findings).toEqual([
      '50 of 120 people did ride in week 4, 42 %.',
      'share once or more in the first 7 days goes with it best: 75 % against 25 %, 50 points more (95 %: 31.5 to 63.6), 3.0 times as often.',
      'By how often: never, 25 %; once or more, 75 %.',
    ])
    expect(cautions[0]).toMatch(/^This is association/)
  })

  test('where the second comes as near, that the order may be chance; not where it is far behind', () => {
    const people = (looked: (i: number) => boolean, rode: (i: number) => boolean) =>
      eventLog(
        Object.fromEntries(
          Array.from({ length: 200 }, (_, i) => [
            `p${i}`,
            `join@0d${i < 80 ? ' share@1h' : ''}${looked(i) ? ' look@1h' : ''}${rode(i) ? ' ride@30d' : ''}`,
          ]),
        ),
      )
    const cautions = (log: TestLog) => said(tippingFindings(ask(log), base, { thisYear: 2026 })).cautions.join()
    // Phi 0.48 (0.37 to 0.58) and 0.44.
    const near = people(
      (i) => i > 1 && i < 82,
      (i) => i < 50 || i > 180,
    )
    expect(cautions(near)).toContain('look comes as near as share: which of them is first may be chance.')
    // 0.97 and 0.49.
    const far = people(
      (i) => i < 30,
      (i) => i < 78 || i > 198,
    )
    expect(cautions(far)).not.toContain('comes as near')
  })

  test('nothing where what people do early is chance, of ten events at every count', () => {
    let seed = 11
    const next = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647
    let alarms = 0
    for (let round = 0; round < 150; round++) {
      const people: Record<string, string> = {}
      for (let i = 0; i < 150; i++) {
        const done = 'abcdefghij'
          .split('')
          .flatMap((event) =>
            Array.from({ length: Math.floor(-2 * Math.log(1 - next())) }, (_, n) => `${event}@${n + 1}h`),
          )
        people[`p${i}`] = ['join@0d', ...done, ...(next() < 0.4 ? ['ride@30d'] : [])].join(' ')
      }
      const { findings } = said(tippingFindings(ask(eventLog(people)), base, { thisYear: 2026 }))
      if (findings.some((text) => /goes with it best|goes with the contrary/.test(text))) alarms++
    }
    expect(alarms).toBeLessThanOrEqual(4)
  })
})

describe('more closely', () => {
  /** Of each kind 100 people: `did` of them share, who come back with `rate`, the others with `other`. */
  const kinds = (kinds: { kind: string; did: number; came: number; otherCame: number; looks?: number }[]) => {
    const people: Record<string, string> = {}
    const profiles: Record<string, Record<string, string>> = {}
    for (const { kind, did, came, otherCame, looks = 0 } of kinds)
      for (let i = 0; i < 100; i++) {
        const back = i < did ? i < came : i - did < otherCame
        people[`${kind}${i}`] =
          `join@0d${i < did ? ' share@1h' : ''}${i < looks ? ' look@2h' : ''}${back ? ' ride@30d' : ''}`
        profiles[`${kind}${i}`] = { kind }
      }
    return eventLog(people, { profiles })
  }
  const within = (log: TestLog) => {
    const result = ask(log)
    return { result, told: said(tippingFindings(result, base, { thisYear: 2026 })).findings }
  }

  test('what is only of who people are falls away among people alike', () => {
    // Whoever is keen shares, and comes back; within each kind sharing makes no difference.
    const { result, told } = within(
      kinds([
        { kind: 'keen', did: 80, came: 64, otherCame: 16 },
        { kind: 'calm', did: 20, came: 2, otherCame: 8 },
      ]),
    )
    const [{ by, difference, left, holds, groups }] = result.within
    expect(by).toEqual({ property: 'kind' })
    // 66 of 100 against 24 of 100
    expect(difference).toBeCloseTo(0.42, 12)
    expect(left.difference).toBeCloseTo(0, 12)
    expect(holds).toBe('no')
    expect(groups.map(({ value, did, others }) => [value, did, others])).toEqual([
      ['keen', { people: 80, came: 64 }, { people: 20, came: 16 }],
      ['calm', { people: 20, came: 2 }, { people: 80, came: 8 }],
    ])
    expect(told.join()).toMatch(
      /Compared only among people of the same Kind, 0.0 of its 42.0 points are left \(.*most of it says who they are/,
    )
  })

  test('what is of what they did holds among people alike', () => {
    const { result, told } = within(
      kinds([
        { kind: 'keen', did: 50, came: 45, otherCame: 10 },
        { kind: 'calm', did: 50, came: 40, otherCame: 5 },
      ]),
    )
    expect(result.within[0].holds).toBe('yes')
    expect(told.join()).toContain('It holds among people alike: within Kind 70.0 of its 70.0 points are left')
  })

  test('what goes along with the best one falls away among those who did that just as often', () => {
    // Looking goes along with sharing: 45 of 50 sharers look, 5 of 50 others, whether they come back or not.
    const people: Record<string, string> = {}
    for (let i = 0; i < 400; i++) {
      const [shares, third] = [i % 2 === 0, Math.floor(i / 2) % 10]
      const looks = shares ? third < 9 : third === 0
      const back = shares ? Math.floor(i / 20) % 5 < 4 : Math.floor(i / 20) % 5 === 0
      people[`p${i}`] = `join@0d${shares ? ' share@1h' : ''}${looks ? ' look@2h' : ''}${back ? ' ride@30d' : ''}`
    }
    const result = ask(eventLog(people))
    expect(result.behaviours.map(({ event }) => event)).toEqual(['share', 'look'])
    const look = result.within.find(({ of }) => of.event === 'look')!
    expect([look.by, look.holds]).toEqual([{ often: { event: 'share' } }, 'no'])
    expect(look.left.difference).toBeCloseTo(0, 12)
    const { findings } = said(tippingFindings(result, base, { thisYear: 2026 }))
    expect(findings.join()).toContain(
      'look once tells little among people of the same number of share: 0.0 of its 48.0',
    )
  })

  test('two together: both, the one, the other, neither', () => {
    const people: Record<string, string> = {}
    for (let i = 0; i < 200; i++)
      people[`p${i}`] = [
        ...['join@0d', ...(i < 100 ? ['share@1h'] : []), ...(i >= 50 && i < 120 ? ['look@1h'] : [])],
        ...(i < 20 || (i >= 50 && i < 95) || (i >= 100 && i < 105) || i >= 190 ? ['ride@30d'] : []),
      ].join(' ')
    const log = eventLog(people)
    const result = ask(log)
    const [pair] = result.pairs
    expect(pair).toMatchObject({
      one: { event: 'share', times: 1 },
      other: { event: 'look', times: 1 },
      both: { people: 50, came: 45 },
      onlyOne: { people: 50, came: 20 },
      onlyOther: { people: 20, came: 5 },
      none: { people: 80, came: 10 },
    })
    expect(pair.more!.difference).toBeCloseTo(0.5, 12)
    const { findings } = said(tippingFindings(result, base, { thisYear: 2026 }))
    expect(findings.join()).toMatch(
      /Both share once and look once go with it more than the first alone: 90 % against 40 %/,
    )
    const both = { kind: 'early', event: 'share', times: 1, also: { event: 'look', times: 1 } }
    expect(peopleIn(log, base, [both])).toHaveLength(50)
    expect(peopleIn(log, base, [{ ...both, also: { ...both.also, not: true } }])).toHaveLength(50)
  })

  test('who has days left, by how far they are: not those between the first days and the outcome', () => {
    const people: Record<string, string> = {}
    for (let i = 0; i < 120; i++)
      people[`p${i}`] = `join@0d share@1h${i % 2 ? ' ride@30d' : ''}${i < 60 ? ' share@2h' : ''}`
    // Joined 7, 6 and 8 days before now, and shared never, once, and twice.
    Object.assign(people, { a: 'join@38d', b: 'join@39d share@40d', c: 'join@37d share@38d share@38d' })
    const log = eventLog(people)
    const question = { ...base, range: { from: '2026-01-05', to: '2026-02-28' } }
    const now = MONDAY + days(45)
    const result = answer<TippingResult>(log, question, { now })
    expect([result.open, result.left, only(result).sofar.slice(0, 3)]).toEqual([3, 2, [1, 1, 0]])
    const share = { kind: 'early', event: 'share', left: true }
    const who = (mark: object) => peopleIn(log, question, [mark as never], { now })
    expect(who({ ...share, times: 2, not: true })).toHaveLength(2)
    expect(who({ ...share, exactly: 1 })).toHaveLength(1)
  })
})

test('as a slow reading of the definition, however people are cut', () => {
  const events = fc.array(
    fc.record({
      person: fc.integer({ min: 0, max: 149 }).map((n) => `p${n}`),
      event: fc.constantFrom('ride', 'ride', 'ride', 'ride', 'share', 'share', 'look', 'look', 'look', 'join'),
      time: fc.integer({ min: -2, max: 16 * 24 }).map((hours) => MONDAY + hours * 3_600_000),
    }),
    { minLength: 700, maxLength: 900, size: 'max' },
  )
  const seed = Array.from({ length: 150 }, (_, i): TestEvent => ({
    person: `p${i}`,
    event: 'join',
    time: MONDAY + i * 3_600_000,
  }))
  let ranked = 0
  fc.assert(
    fc.property(
      events,
      fc.integer({ min: 1, max: 7 }),
      fc.boolean(),
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
      (list, early, isClock, cuts) => {
        const log = logOf([...seed, ...list])
        const outcome = isClock ? ({ unit: 'week', period: 1, by: 'clock' } as const) : ({ days: 5, times: 2 } as const)
        const question: TippingQuestion = { ...base, days: early, outcome }
        const period = (start: number) =>
          isClock
            ? { from: start + days(7), until: start + days(14) }
            : { from: start + days(early) + 1, until: start + days(early + 5) + 1 }
        const now = MONDAY + days(18)
        const found = referenceTipping(log.events, {
          ...{ start: 'join', goal: 'ride', days: early, period, times: isClock ? 1 : 2 },
          span: { from: MONDAY, until: MONDAY + days(14), now },
          isOver: (start) => period(start).until <= now,
        })
        const result = answer<TippingResult>(log, question, { now })
        expect(answer(log, question, { now, cuts })).toEqual(result)
        const people = [...found.values()]
        expect([result.base, result.came]).toEqual([people.length, people.filter(({ came }) => came).length])
        for (const { event, counts } of result.behaviours)
          for (const each of counts) {
            ranked++
            const did = people.filter((one) => (one.counts.get(event) ?? 0) >= each.times)
            expect([event, each.times, each.people, each.came]).toEqual([
              ...[event, each.times, did.length, did.filter(({ came }) => came).length],
            ])
          }
      },
    ),
    { numRuns: 40 },
  )
  // A generator of too few people would prove nothing.
  expect(ranked).toBeGreaterThan(50)
})

test('what is wrong is told at its place', () => {
  const faults = (more: object) =>
    parseQuestion({ ...base, ...more }).faults.map(({ path, want }) => `${path.join('.')}: ${want}`)
  expect(faults({ days: 40 })[0]).toMatch(/^days: at most 28 days: after them week 4 has begun/)
  expect(faults({ days: 0 })).toEqual(['days: at least 1 day'])
  expect(faultsOf(eventLog({ p: 'join@0d' }), { ...base, goal: { event: { names: ['rid'] } } })[0]).toMatchObject({
    ...{ path: ['goal', 'event'], code: 'unknown_event', got: 'rid' },
  })
})

describe('by values and by days', () => {
  const share = (person: string, hour: number, to: string | null, many = 1): TestEvent[] =>
    Array.from({ length: many }, (_, i) => ({
      ...{ person, event: 'share', time: MONDAY + hour * 3_600_000 + i * 1000 },
      ...(to === null ? {} : { properties: { to } }),
    }))
  const back = (person: string): TestEvent => ({ person, event: 'ride', time: MONDAY + days(30) })
  const people = Array.from({ length: 120 }, (_, i): TestEvent[] => {
    const person = `p${i}`
    return [
      { person, event: 'join', time: MONDAY },
      // Forty tell a friend twice and the world once, on two days; forty the world thrice on one; forty nobody in particular.
      ...(i < 40
        ? [...share(person, 1, 'friend', 2), ...share(person, 30, 'world')]
        : i < 80
          ? share(person, 2, 'world', 3)
          : share(person, 3, null)),
      ...(i < 30 || (i >= 40 && i < 50) ? [back(person)] : []),
    ]
  })
  const log = logOf(people.flat())
  const by = { of: 'event' as const, name: 'to' }
  const of = (result: TippingResult) =>
    Object.fromEntries(
      result.behaviours.map(({ event, by: property, is, counts }) => [
        property === undefined ? event : is === undefined ? 'different' : String(is),
        counts.map((each) => each.people),
      ]),
    )

  test('each value by itself, no value too, and how many different ones there were', () => {
    const open = [
      { event: { names: ['share'] }, by },
      { event: { names: ['share'] }, by, as: 'different' as const },
    ]
    expect(of(ask(log, { open }))).toEqual({
      ...{ share: [120, 80, 80], friend: [40, 40], world: [80, 40, 40], null: [40], different: [80, 40] },
    })
  })

  test('on how many local days', () => {
    expect(of(ask(log, { count: 'days', open: [{ event: { names: ['share'] }, by }] }))).toEqual({
      ...{ share: [120, 40], friend: [40], world: [80], null: [40] },
    })
  })

  test('people of a value, of different values', () => {
    const question = {
      ...base,
      open: [
        { event: { names: ['share'] }, by },
        { event: { names: ['share'] }, by, as: 'different' as const },
      ],
    }
    const many = (mark: object) =>
      peopleIn(log, question, [{ kind: 'early', event: 'share', by, ...mark } as never]).length
    expect([many({ is: 'friend' }), many({ is: 'world', times: 2 }), many({ is: null, outcome: 'came' })]).toEqual([
      40, 40, 0,
    ])
    expect([many({ times: 2 }), many({ times: 2, outcome: 'came' })]).toEqual([40, 30])
  })

  test('numbers and the elements of lists are different values; neither is one by itself twice', () => {
    const listed = Array.from({ length: 120 }, (_, i): TestEvent[] => [
      { person: `p${i}`, event: 'join', time: MONDAY },
      ...[1, 2, 2].map((stars, n) => ({
        ...{ person: `p${i}`, event: 'rate', time: MONDAY + n + 1 },
        properties: { stars, said: n === 0 ? ['quick', 'smooth'] : ['quick'] },
      })),
      ...(i % 2 ? [back(`p${i}`)] : []),
    ])
    const different = (name: string) => {
      const open = [{ event: { names: ['rate'] }, by: { of: 'event' as const, name }, as: 'different' as const }]
      return of(ask(logOf(listed.flat()), { open })).different
    }
    expect([different('stars'), different('said')]).toEqual([
      [120, 120],
      [120, 120],
    ])
    const open = [{ event: { names: ['rate'] }, by: { of: 'event' as const, name: 'said' } }]
    expect(of(ask(logOf(listed.flat()), { open }))).toMatchObject({ quick: [120, 120, 120], smooth: [120] })
  })

  test('too many values are told, at the place', () => {
    const many = Array.from({ length: 201 }, (_, i) => share('p', i, `v${i}`)).flat()
    const open = [{ event: { names: ['share'] }, by }]
    const [fault] = faultsOf(logOf([{ person: 'p', event: 'join', time: MONDAY }, back('p'), ...many]), {
      ...base,
      open,
    })
    expect(fault).toMatchObject({
      path: ['open', 0],
      want: expect.stringMatching(/^to has 201 values, and at most 200/),
    })
  })
})
