import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { answer, eventLog, logOf, MONDAY, peopleIn, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import { MESSAGE_EVENTS } from '../../outreach/events.js'
import { sentenceText } from '../../words/sentence.js'
import { effectFindings } from './findings.js'
import type { EffectFigures, EffectResult } from './finish.js'
import { costOfGain } from './cost.js'
import type { EffectQuestion } from './question.js'
import type { EffectMark } from './marks.js'

const HOUR = 3_600_000
const DAY = 24 * HOUR
const question: EffectQuestion = {
  ...{ kind: 'effect', message: 'Third ride', variants: ['A', 'B'], goal: { event: { names: ['ride'] } } },
  ...{ within: { count: 2, unit: 'day' }, range: { from: '2026-01-05', to: '2026-02-28' }, show: { form: 'effect' } },
}
/** The events end with somebody's, and the question is asked at that moment. */
const at = (log: TestLog) => ({ now: Math.max(...log.events.map(({ time }) => time)) })
const ask = (log: TestLog, more: Partial<EffectQuestion> = {}) =>
  answer<EffectResult>(log, { ...question, ...more }, at(log))

/** Coming into a message. */
const entry = (person: string, variant: string, at: number, more: object = {}): TestEvent => ({
  ...{ person, event: MESSAGE_EVENTS.entered, time: MONDAY + at },
  properties: { message: 'Third ride', variant, channel: 'push', entry: 1, ...more },
})
const step = (person: string, name: keyof typeof MESSAGE_EVENTS, at: number, entryNumber = 1): TestEvent => ({
  ...{ person, event: MESSAGE_EVENTS[name], time: MONDAY + at },
  properties: { message: 'Third ride', variant: 'A', channel: 'push', entry: entryNumber },
})
const ride = (person: string, at: number): TestEvent => ({ person, event: 'ride', time: MONDAY + at, properties: {} })

describe('who is counted', () => {
  const log = logOf([
    // Within two days, to the millisecond; the ride before does not count.
    ...[entry('ada', 'A', HOUR), ride('ada', 0), ride('ada', HOUR + 2 * DAY)],
    ...[entry('bea', 'A', HOUR), ride('bea', HOUR + 2 * DAY + 1)],
    // Never reached, and counts all the same.
    ...[entry('cai', 'B', HOUR), ride('cai', 2 * HOUR)],
    ...[entry('dot', 'left alone', HOUR), ride('dot', DAY)],
    entry('eve', 'left alone', HOUR),
    // Their time is not over.
    ...[entry('fay', 'B', 40 * DAY), ride('fay', 40 * DAY + HOUR)],
    // Of each person the first entry counts, whatever came later.
    ...[entry('gil', 'A', HOUR), entry('gil', 'B', 10 * DAY, { entry: 2 }), ride('gil', 11 * DAY)],
    // Another message.
    entry('hal', 'A', HOUR, { message: 'Other' }),
    entry('ivy', 'C', HOUR),
    ...[step('ada', 'sent', HOUR), step('ada', 'delivered', 2 * HOUR), step('ada', 'pressed', 3 * HOUR)],
    ...[step('bea', 'sent', HOUR), step('bea', 'optedOut', DAY), step('gil', 'sent', 10 * DAY, 2)],
    ride('now', 41 * DAY),
  ])
  const result = ask(log)
  const figures = result.rows.map(
    ({ name, entered, counted, open, goal, sent, delivered, opened, pressed, optedOut, later }) => [
      ...[name, entered, counted, open, goal],
      ...[sent, delivered, opened, pressed, optedOut, later],
    ],
  )

  test('by the first entry, as assigned, within the window with its end, and only once it is over', () => {
    expect(figures).toEqual([
      ['A', 3, 3, 0, 1, 2, 1, 1, 1, 1, 1],
      ['B', 2, 1, 1, 1, 0, 0, 0, 0, 0, 0],
      [null, 2, 2, 0, 1, 0, 0, 0, 0, 0, 0],
    ])
    expect(result.unknown).toBe(1)
  })

  test('a first entry outside of the range is none in it', () => {
    const late = ask(log, { range: { from: '2026-01-12', to: '2026-02-28' } })
    expect(late.rows.map(({ entered }) => entered)).toEqual([0, 1, 0])
  })

  test('every number is its people', () => {
    const people = (mark: Omit<EffectMark, 'kind'>) =>
      peopleIn(log, question, [{ kind: 'came', ...mark }], at(log)).sort()
    expect(people({ step: 'goal', variant: 'A' })).toEqual(['ada'])
    expect(people({ step: 'no goal', variant: 'A' })).toEqual(['bea', 'gil'])
    expect(people({ step: 'open' })).toEqual(['fay'])
    expect(people({ step: 'entered', alone: true })).toEqual(['dot', 'eve'])
    expect(people({ step: 'opened' })).toEqual(['ada'])
    expect(people({ step: 'entered', variant: 'never' })).toEqual([])
  })

  test('over days: by when they came in', () => {
    expect(result.byDay.map(({ counted, goals }) => [counted[0], goals[0]])).toEqual([
      [3, 1],
      [1, 1],
      [2, 1],
    ])
  })

  test('where nobody has come into anything yet, that is the answer', () => {
    const empty = ask(eventLog({ ada: 'ride@0d' }))
    expect(empty.rows.map(({ entered }) => entered)).toEqual([0, 0, 0])
    expect(sentenceText(effectFindings(empty, question, words).findings[0] as never)).toBe(
      'Nobody came into it in this time.',
    )
  })
})

const words = { thisYear: 2026 }
/** So many of each came in and did it. */
function made(groups: Record<string, [people: number, did: number]>, more: TestEvent[] = []): TestLog {
  const events = Object.entries(groups).flatMap(([variant, [people, did]]) =>
    Array.from({ length: people }, (_, i): TestEvent[] => {
      const person = `${variant} ${i}`
      return [entry(person, variant, HOUR), ...(i < did ? [ride(person, DAY)] : [])]
    }).flat(),
  )
  return logOf([...events, ride('now', 50 * DAY), ...more])
}

describe('the effect', () => {
  test('is Newcombe’s interval of a published example: 56 of 70 against 48 of 80', () => {
    const { effect } = ask(made({ A: [70, 56], 'left alone': [80, 48] }), { variants: ['A'] })
    expect(effect!.difference).toBeCloseTo(0.2, 10)
    expect(effect!.interval!.low).toBeCloseTo(0.0524, 4)
    expect(effect!.interval!.high).toBeCloseTo(0.3339, 4)
    // z = 0.2 ÷ √(0.69333 · 0.30667 · (1 ÷ 70 + 1 ÷ 80)) = 2.6502.
    expect(effect!.p).toBeCloseTo(0.00805, 5)
  })

  test('of all variants together, and of each with p adjusted by Holm', () => {
    const { effect, effects } = ask(made({ A: [300, 105], B: [300, 72], 'left alone': [200, 44] }))
    expect(effect!.difference).toBeCloseTo(177 / 600 - 0.22, 10)
    const alone = (part: number) => {
      const pooled = (part + 44) / 500
      return (part / 300 - 0.22) / Math.sqrt(pooled * (1 - pooled) * (1 / 300 + 1 / 200))
    }
    expect(alone(105)).toBeCloseTo(3.1136, 4)
    expect(effects[0]!.p).toBeCloseTo(2 * 0.00185, 4)
    expect(alone(72)).toBeCloseTo(0.519, 3)
    expect(effects[1]!.p).toBeCloseTo(0.604, 3)
  })

  test('under a split that moves only all of them are compared', () => {
    const { effect, effects } = ask(made({ A: [300, 105], B: [300, 72], 'left alone': [200, 44] }), { moving: true })
    expect(effect).not.toBeNull()
    expect(effects).toEqual([null, null])
  })

  test('nobody left alone, too few, no clear effect, and an effect are told as such', () => {
    const told = (
      groups: Record<string, [number, number]>,
      more: Partial<EffectQuestion> = {},
      events: TestEvent[] = [],
    ) => {
      const asked = { ...question, variants: ['A'], ...more }
      const log = made(groups, events)
      const result = answer<EffectResult>(log, asked, at(log))
      return sentenceText(effectFindings(result, asked, words).findings[0] as never)
    }
    expect(told({ A: [300, 100] }, { nobodyAlone: true })).toContain('cannot be told')
    expect(told({ A: [300, 100], 'left alone': [20, 5] })).toContain('too few yet')
    expect(told({ A: [300, 70], 'left alone': [300, 66] })).toMatch(
      /no clear effect .* an effect under 10\.1 points cannot be seen/,
    )
    expect(told({ A: [300, 100], 'left alone': [300, 70] })).toContain(
      '“A” brings 10 points more ride within 2 days than leaving people alone: 33.3 % against 23.3 % (2.8 to 17.1).',
    )
    // p is 0.011: while somebody's time is not over, that would not stand twenty looks.
    const open = [entry('late', 'A', 49 * DAY)]
    expect(told({ A: [300, 98], 'left alone': [300, 70] })).toContain('brings 9.3 points more')
    expect(told({ A: [300, 98], 'left alone': [300, 70] }, {}, open)).toContain('no clear effect')
  })

  test('what one more costs is told only where more do it: 40 of 100 were sent it at 3 each, and 10 of 100 more did it', () => {
    const sent = (log: TestLog) => {
      const { rows, effect } = ask(log, { variants: ['A'] })
      return { effect, rows: rows.map((row) => ({ ...row, sent: row.name === null ? 0 : row.entered * 0.4 })) }
    }
    expect(costOfGain(sent(made({ A: [300, 100], 'left alone': [300, 70] })) as EffectFigures, 3)).toBeCloseTo(12, 10)
    expect(costOfGain(sent(made({ A: [300, 70], 'left alone': [300, 66] })) as EffectFigures, 3)).toBeNull()
    expect(costOfGain(sent(made({ A: [300, 70], 'left alone': [300, 100] })) as EffectFigures, 3)).toBeNull()
  })

  test('in a group it is of all variants, adjusted for all groups, by what people had when they came in', () => {
    const log = made({ A: [200, 110], 'left alone': [200, 80] })
    const plans = log.people.map((person, i): [string, object] => [
      person,
      {
        plan: [
          { since: 0, value: i % 2 === 0 ? 'Day' : 'Year' },
          { since: MONDAY + DAY, value: 'Week' },
        ],
      },
    ])
    const pasts = Object.fromEntries(plans) as never
    const { groups, rows } = ask(logOf(log.events, { pasts }), {
      ...{ variants: ['A'], breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }] },
    })
    expect(groups.map(({ key }) => key)).toEqual([{ value: 'Day' }, { value: 'Year' }])
    expect(groups.map((group) => group.rows.map(({ counted, goal }) => [counted, goal]))).toEqual([
      [
        [100, 55],
        [100, 40],
      ],
      [
        [100, 55],
        [100, 40],
      ],
    ])
    // z = 0.15 ÷ √(0.475 · 0.525 · 0.02) = 2.1240, p 0.0337; adjusted, both the same.
    for (const { effect } of groups) expect(effect!.p).toBeCloseTo(0.0337, 4)
    expect(rows.map(({ counted }) => counted)).toEqual([200, 200])
  })
})

test('where a message brings nothing, at most one in twenty is said to bring something, and fewer while it runs', () => {
  // A sequence of its own, the same on every machine.
  let state = 20_261_202
  const chance = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
  const MANY = 600
  let [told, early] = [0, 0]
  for (let i = 0; i < MANY; i++) {
    const did = (people: number) => Array.from({ length: people }, chance).filter((x) => x < 0.3).length
    const groups: Record<string, [number, number]> = { A: [120, did(120)], 'left alone': [120, did(120)] }
    const asked = { ...question, variants: ['A'] }
    const says = (log: TestLog) => {
      const result = answer<EffectResult>(log, asked, at(log))
      return /brings/.test(sentenceText(effectFindings(result, asked, words).findings[0] as never))
    }
    if (says(made(groups))) told++
    if (says(made(groups, [entry('late', 'A', 49 * DAY)]))) early++
  }
  // 5 % of 600 is 30, and 0.75 % is 4.5; each with two and a half deviations (5.3 and 2.1) more.
  expect(told).toBeLessThanOrEqual(43)
  expect(early).toBeLessThanOrEqual(9)
  expect(early).toBeLessThan(told)
}, 60_000)

test('however the people are cut into ranges, the same; and as a plain reading of the rule has it', () => {
  const person = fc.record({
    variant: fc.constantFrom('A', 'B', 'left alone'),
    at: fc.integer({ min: 0, max: 20 }),
    again: fc.option(fc.integer({ min: 0, max: 20 })),
    rides: fc.array(fc.integer({ min: 0, max: 500 }), { maxLength: 4 }),
  })
  fc.assert(
    fc.property(
      fc.array(person, { size: 'max', maxLength: 12 }),
      fc.array(fc.double({ min: 0, max: 1, noNaN: true })),
      (people, cuts) => {
        const events = people.flatMap(({ variant, at, again, rides }, i) => [
          entry(`p${i}`, variant, at * HOUR),
          ...(again === null ? [] : [entry(`p${i}`, 'A', (at + 1 + again) * HOUR, { entry: 2 })]),
          ...rides.map((hour) => ride(`p${i}`, hour * HOUR + 1)),
        ])
        const log = logOf([...events, ride('now', 0)])
        const now = MONDAY + 2.5 * DAY
        const whole = answer<EffectResult>(log, question, { now })
        expect(answer<EffectResult>(log, question, { now, cuts: [...cuts].sort() })).toEqual(whole)
        for (const { name, counted, goal } of whole.rows) {
          const own = people.filter(
            ({ variant, at }) => variant === (name ?? 'left alone') && at * HOUR + 2 * DAY <= 2.5 * DAY,
          )
          expect(counted).toBe(own.length)
          expect(goal).toBe(
            own.filter(({ at, rides }) =>
              rides.some(
                (hour) =>
                  hour * HOUR + 1 > at * HOUR && hour * HOUR + 1 <= at * HOUR + 2 * DAY && hour * HOUR + 1 <= 2.5 * DAY,
              ),
            ).length,
          )
        }
      },
    ),
  )
})
