import type { Range } from '../../time/range.js'
import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  faultsOf,
  logOf,
  MONDAY,
  peopleIn,
  type Asked,
  type TestEvent,
  type TestLog,
} from '../../../tests/eventLog.js'
import { addUnits, startOfDay } from '../../time/range.js'
import type { GrowthResult } from './finish.js'
import { growthStates, type GrowthInterval, type GrowthQuestion, type GrowthState } from './question.js'

const asked = (more: Partial<GrowthQuestion> = {}): GrowthQuestion => ({
  kind: 'growth',
  start: { event: { names: ['ride'] } },
  interval: { unit: 'week' },
  range: { from: '2026-01-12', to: '2026-02-01' },
  show: { form: 'states' },
  ...more,
})
const ask = (log: TestLog, more: Partial<GrowthQuestion> = {}, how?: Asked) =>
  answer<GrowthResult>(log, asked(more), how)
/** new retained revived lapsed idle, by interval. */
const counts = ({ steps }: GrowthResult) =>
  steps.map(({ people }) => growthStates.map((state) => people[state]).join(' '))

describe('states', () => {
  test('a person is new once, then retained, lapsed, idle and revived', () => {
    // Weeks from 5, 12, 19 and 26 January; the range begins with the second.
    const log = eventLog({
      ada: 'ride@0d ride@7d ride@14d',
      bea: 'ride@8d',
      cai: 'ride@0d ride@21d',
      dot: 'ride@21d ride@22d',
      eve: 'other@9d',
    })
    const result = ask(log)
    expect(result.steps.map(({ key }) => key)).toEqual(['2026-01-12', '2026-01-19', '2026-01-26'])
    expect(counts(result)).toEqual([
      // Ada retained, Bea new, Cai lapsed.
      '1 1 0 1 0',
      // Ada retained, Bea lapsed, Cai idle.
      '0 1 0 1 1',
      // Ada lapsed, Bea idle, Cai revived, Dot new.
      '1 0 1 1 1',
    ])
    expect(result.steps.map(({ seen }) => seen)).toEqual([3, 3, 4])
    expect(result.steps.map(({ net }) => net)).toEqual([0, -1, 1])
    expect(result.steps.map(({ quick }) => quick)).toEqual([1, 0, 2])
    expect(result.steps.map(({ kept }) => kept)).toEqual([0.5, 0.5, 0])
  })

  test('whose first ever lies before the range is not new in it, however long ago', () => {
    const log = eventLog({ ada: 'ride@-300d ride@8d', bea: 'ride@8d' })
    expect(counts(ask(log))[0]).toBe('1 0 1 0 0')
  })

  test('nobody lapses before they have come, and quick ratio and retention rate without anybody are gaps', () => {
    const [first] = ask(eventLog({ ada: 'ride@8d' })).steps
    expect([first.quick, first.kept]).toEqual([null, null])
  })

  test('the edges of an interval: its first moment and the last before the next', () => {
    const log = eventLog({ ada: 'ride@6d+23h+59m+59s+999ms ride@7d', bea: 'ride@7d ride@13d+23h+59m+59s+999ms' })
    expect(counts(ask(log)).slice(0, 2)).toEqual(['1 1 0 0 0', '0 0 0 2 0'])
  })

  test('an interval that is not over is marked; what comes after now is not seen', () => {
    const log = eventLog({ ada: 'ride@8d ride@16d', bea: 'ride@8d' })
    const result = ask(log, {}, { now: MONDAY + days(15) })
    expect(result.steps.map(({ open }) => open)).toEqual([false, true])
    expect(counts(result)[1]).toBe('0 0 0 2 0')
  })
})

test('a mark without an interval means the last that is over, as of when it is asked', () => {
  const log = eventLog({ ada: 'ride@8d', bea: 'ride@8d ride@15d', cai: 'ride@16d' })
  const mark = { kind: 'state' as const, states: ['lapsed' as const] }
  expect(peopleIn(log, asked(), [mark], { now: MONDAY + days(21) - 1 })).toEqual([])
  expect(peopleIn(log, asked(), [mark], { now: MONDAY + days(21) })).toEqual(['ada'])
  expect(peopleIn(log, asked(), [mark], { now: MONDAY + days(28) })).toEqual(['bea', 'cai'])
})

describe('intervals', () => {
  const keys = (interval: GrowthInterval, range: Range, how?: Asked) =>
    ask(eventLog({ ada: 'ride@8d' }), { interval, range }, how).steps.map(({ key }) => key)

  test('of n days are cut backwards from the end; a shorter first piece is dropped', () => {
    expect(keys({ days: 10 }, { from: '2026-01-01', to: '2026-01-25' })).toEqual(['2026-01-06', '2026-01-16'])
  })

  test('of the calendar are whole, also where the range cuts them', () => {
    const log = eventLog({ ada: 'ride@7d', bea: 'ride@10d' })
    const result = ask(log, { range: { from: '2026-01-14', to: '2026-01-20' } })
    expect(result.steps.map(({ key }) => key)).toEqual(['2026-01-12', '2026-01-19'])
    expect(counts(result)[0]).toBe('2 0 0 0 0')
  })

  test('a clock change makes an interval an hour longer or shorter, and moves nobody', () => {
    const at = (text: string) => Temporal.PlainDateTime.from(text).toZonedDateTime('Europe/Lisbon').epochMilliseconds
    const log = logOf(
      [
        { person: 'ada', event: 'ride', time: at('2026-03-28T23:30') },
        { person: 'ada', event: 'ride', time: at('2026-03-29T23:30') },
        { person: 'ada', event: 'ride', time: at('2026-03-30T00:30') },
      ],
      { zone: 'Europe/Lisbon' },
    )
    const how = { now: at('2026-06-01T00:00'), calendar: { zone: 'Europe/Lisbon', firstDayOfWeek: 1 } }
    const more = { interval: { days: 1 }, range: { from: '2026-03-28', to: '2026-03-31' } }
    expect(counts(ask(log, more, how))).toEqual(['1 0 0 0 0', '0 1 0 0 0', '0 1 0 0 0', '0 0 0 1 0'])
  })

  test('days that do not fit into the range once are a fault that says so', () => {
    expect(
      faultsOf(
        eventLog({ ada: 'ride@8d' }),
        asked({ interval: { days: 30 }, range: { from: '2026-01-12', to: '2026-01-20' } }),
      ),
    ).toMatchObject([{ path: ['interval'], code: 'invalid' }])
  })
})

const timeline = fc
  .array(
    fc.record({
      person: fc.constantFrom('ada', 'bea', 'cai', 'dot', 'eve'),
      event: fc.constantFrom('ride', 'ride', 'other'),
      time: fc
        .tuple(fc.integer({ min: -40, max: 62 }), fc.constantFrom(0, 1, 86_399_999, 40_000_000))
        .map(([day, ms]) => MONDAY + days(day) + ms),
    }),
    { maxLength: 40 },
  )
  .map((list): TestEvent[] => [...list, { person: 'zoe', event: 'ride', time: MONDAY - days(300) }])
const interval = fc.constantFrom<GrowthInterval>(
  { unit: 'week' },
  { unit: 'month' },
  { days: 1 },
  { days: 5 },
  { days: 7 },
)
const ranges = fc.constantFrom<Range>(
  { last: 3, unit: 'month' },
  { last: 30, unit: 'day' },
  { from: '2026-01-01', to: '2026-02-17' },
)
const how: Asked = { now: MONDAY + days(59) + 12_345_678, calendar: { zone: 'America/St_Johns', firstDayOfWeek: 7 } }

/** A person's state in an interval, as the definition reads (how numbers are counted, 9). */
function stateOf(
  list: readonly TestEvent[],
  person: string,
  from: number,
  until: number,
  before: number,
): GrowthState | null {
  const own = list.filter((each) => each.person === person && each.event === 'ride' && each.time <= how.now!)
  const first = Math.min(...own.map(({ time }) => time))
  const isIn = (a: number, b: number) => own.some(({ time }) => time >= a && time < b)
  if (first >= until) return null
  if (first >= from) return 'new'
  const [is, was] = [isIn(from, until), isIn(before, from)]
  return is ? (was ? 'retained' : 'revived') : was ? 'lapsed' : 'idle'
}

describe('on random timelines', () => {
  test('is what the definition gives; every figure is its people; flows add up to the states', () => {
    fc.assert(
      fc.property(timeline, interval, ranges, (list, each, range) => {
        const log = logOf(list)
        const question = asked({ interval: each, range })
        const { steps } = answer<GrowthResult>(log, question, how)
        const zone = how.calendar!.zone
        steps.forEach(({ key, people, flows, active, before }, i) => {
          const day = Temporal.PlainDate.from(key)
          const move = (n: number) => ('unit' in each ? addUnits(day, n, each.unit) : day.add({ days: n * each.days }))
          const [was, from, until] = [-1, 0, 1].map((n) => startOfDay(move(n), zone))
          const expected = log.people.map((person) => stateOf(list, person, from, until, was))
          for (const state of growthStates) {
            const who = log.people.filter((_person, p) => expected[p] === state)
            expect(people[state]).toBe(who.length)
            expect(peopleIn(log, question, [{ kind: 'state', states: [state], interval: key }], how).sort()).toEqual(
              who.sort(),
            )
          }
          if (flows)
            for (const state of growthStates)
              expect(flows.reduce((sum, flow) => (flow.to === state ? sum + flow.people : sum), 0)).toBe(people[state])
          for (const { from: came, to, people: n } of flows ?? [])
            expect(
              peopleIn(log, question, [{ kind: 'state', states: [to], interval: key, from: came }], how),
            ).toHaveLength(n)
          expect(people.new + people.retained + people.revived).toBe(active)
          expect(people.retained + people.lapsed).toBe(before)
          if (i > 0) expect(before).toBe(steps[i - 1].active)
        })
      }),
      { numRuns: 60 },
    )
  })

  test('gives the same however the people are cut into ranges', () => {
    fc.assert(
      fc.property(
        timeline,
        interval,
        ranges,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true })),
        (list, each, range, cuts) => {
          const question = asked({ interval: each, range })
          expect(answer(logOf(list), question, { ...how, cuts })).toEqual(answer(logOf(list), question, how))
        },
      ),
      { numRuns: 60 },
    )
  })
})
