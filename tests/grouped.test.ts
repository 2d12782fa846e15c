import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { FunnelQuestion } from '../core/analyses/funnel/question.js'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { GapsResult } from '../core/analyses/gaps/finish.js'
import type { GrowthResult } from '../core/analyses/growth/finish.js'
import type { HabitResult } from '../core/analyses/habit/finish.js'
import type { RetentionResult } from '../core/analyses/retention/finish.js'
import type { RetentionQuestion } from '../core/analyses/retention/question.js'
import type { Question } from '../core/analyses/registry.js'
import type { GroupKey, ValueKey } from '../core/questions/parts.js'
import type { Side, Split } from '../core/questions/split.js'
import type { Rule } from '../core/segments/rule.js'
import type { TrendQuestion } from '../core/analyses/trend/question.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { sidesIn } from './segmentLog.js'
import { funnelFindings } from '../core/analyses/funnel/findings.js'
import { said } from './said.js'
import { answer, days, logOf, MONDAY, peopleIn, type TestEvent, type TestLog } from './eventLog.js'

const range = { from: '2026-01-05', to: '2026-03-01' }
const ride = { event: { names: ['ride'] } }
const questions: Question[] = [
  { kind: 'funnel', steps: [{ event: { names: ['open'] } }, ride], window: { count: 7, unit: 'day' }, range },
  { kind: 'retention', start: ride, every: 'week', range, upTo: 4, show: { form: 'curve' } },
  { kind: 'habit', start: ride, period: 'week', range, show: { form: 'at least' } },
  { kind: 'growth', start: ride, interval: { unit: 'week' }, range, show: { form: 'states' } },
  { kind: 'gaps', start: ride, range, show: { form: 'gaps' } },
] as Question[]

/** What stands in a group's row, what its groups are ranked by, and what a row of all together is. */
const READ = {
  funnel: (result: FunnelResult) => ({
    rows: result.groups.map(({ key, steps, open }) => ({ key, figures: { steps, open } })),
    all: { steps: result.all.steps, open: result.all.open },
    rank: result.all.steps[0].people,
  }),
  retention: (result: RetentionResult) => ({
    rows: result.groups.map(({ key, ...figures }) => ({ key, figures })),
    all: without(result.all),
    rank: result.all.people,
  }),
  habit: (result: HabitResult) => ({
    rows: result.groups.map(({ key, ...figures }) => ({ key, figures })),
    all: without(result.all),
    rank: result.all.active,
  }),
  growth: (result: GrowthResult) => ({
    rows: result.groups.map(({ key, steps }) => ({ key, figures: steps })),
    // From which state into which is told of everybody together.
    all: result.steps.map((step) => ({ ...step, flows: null })),
    rank: result.steps.reduce((sum, { active }) => sum + active, 0),
  }),
  gaps: ({ groups, rest: _rest, kind: _kind, ...all }: GapsResult) => ({
    rows: groups.map(({ key, ...figures }) => ({ key, figures })),
    all,
    rank: all.people + all.once,
  }),
}
function without<R extends { key: unknown }>({ key: _key, ...figures }: R) {
  return figures
}
function readOf(result: { kind: string }) {
  return READ[result.kind as keyof typeof READ](result as never) as {
    rows: { key: GroupKey | null; figures: unknown }[]
    all: unknown
    rank: number
  }
}

const PEOPLE = ['ada', 'bea', 'cai', 'dot', 'eve', 'fay', 'gus', 'hal']
const event: fc.Arbitrary<TestEvent> = fc.record({
  person: fc.constantFrom(...PEOPLE),
  event: fc.constantFrom('open', 'ride', 'ride'),
  time: fc.integer({ min: -14, max: 55 * 4 }).map((quarter) => MONDAY + days(quarter / 4)),
})
const profile = fc.record(
  { plan: fc.constantFrom('basic', 'plus'), age: fc.constantFrom(18, 29, 30, 31, 64) },
  { requiredKeys: [] },
)
const timeline = fc
  .tuple(fc.array(event, { maxLength: 80 }), fc.array(profile, { minLength: 8, maxLength: 8 }))
  .map(([list, profiles]) =>
    logOf(
      [
        ...PEOPLE.map((person) => ({ person, event: 'other', time: MONDAY })),
        ...list,
        ...every('open'),
        ...every('ride'),
      ],
      {
        profiles: {
          ...Object.fromEntries(PEOPLE.map((person, i) => [person, profiles[i]])),
          // Somebody with every property, who never does anything that counts.
          zoe: { plan: 'basic', age: 1 },
        },
      },
    ),
  )
/** Every event has to be known; after the time asked about it counts nowhere. */
const every = (name: string): TestEvent[] => [{ person: 'zoe', event: name, time: MONDAY + days(58) }]

const plan: Split = { by: { of: 'person', name: 'plan' }, keep: 10 }
const age: Split = { by: { of: 'person', name: 'age' }, keep: 10, cuts: { at: [30, 60] } }
const choices = fc.record(
  {
    keep: fc.integer({ min: 1, max: 5 }),
    hideNone: fc.constant(true as const),
    hideRest: fc.constant(true as const),
  },
  { requiredKeys: ['keep'] },
)

/** The group of a person, as its definition says. */
function keyOf(test: TestLog, person: string, { by, cuts }: Split): ValueKey {
  const value = test.profiles[person][(by as { name: string }).name] ?? null
  if (!cuts || value === null) return { value: value as string | null }
  const [low, high] = [30, 60]
  if ((value as number) < low) return { range: [null, low] }
  return (value as number) < high ? { range: [low, high] } : { range: [high, null] }
}

const nameOf = (key: ValueKey) =>
  JSON.stringify(
    'value' in key ? [1, key.value === null, key.value] : [0, false, 'range' in key && (key.range[0] ?? -1)],
  )

describe.each(questions.map((question) => [question.kind, question] as const))('groups of a %s', (_kind, question) => {
  test('hold what the same question says of their people alone; the largest are kept, the others are everything else', () => {
    fc.assert(
      fc.property(timeline, fc.constantFrom([plan], [age], [plan, age], [age, plan]), choices, (log, by, chosen) => {
        const splits: Split[] = by.map((split, i) => (i === 0 ? { ...split, ...chosen, order: 'size' } : split))
        const alone = (people: readonly string[]) => {
          const among = new Uint8Array(log.people.length + 1)
          for (const person of people) among[log.people.indexOf(person) + 1] = 1
          return readOf(answer(log, question, { among }))
        }
        const groups = new Map<string, { each: ValueKey[]; people: string[] }>()
        for (const person of PEOPLE) {
          const each = splits.map((split) => keyOf(log, person, split))
          if (chosen.hideNone && 'value' in each[0] && each[0].value === null) continue
          const id = JSON.stringify(each)
          groups.set(id, { each, people: [...(groups.get(id)?.people ?? []), person] })
        }
        const ranked = [...groups.values()]
          .map((group) => ({ ...group, ...alone(group.people) }))
          .filter(({ rank }) => rank > 0)
          .sort((a, b) => {
            const order = (each: ValueKey[]) => each.map(nameOf).join()
            return b.rank - a.rank || (order(a.each) < order(b.each) ? -1 : 1)
          })
        const result = answer(log, { ...question, breakdowns: splits } as Question)
        const rows = readOf(result).rows
        const kept = ranked.slice(0, chosen.keep)
        const rest = ranked.slice(chosen.keep)
        expect(rows.slice(0, kept.length)).toEqual(
          kept.map(({ each, all }) => ({ key: each.length === 1 ? each[0] : { each }, figures: all })),
        )
        const shown = rest.length > 0 && !chosen.hideRest
        expect(rows).toHaveLength(kept.length + (shown ? 1 : 0))
        expect((result as { rest: number }).rest).toBe(shown ? rest.length : 0)
        if (!shown) return
        expect(rows.at(-1)!.key).toEqual({ rest: true })
        // Who is in no group that was ranked is in the rest all the same: growth tells of those who are long away.
        const others = [...groups.values()].filter(({ each }) => !kept.some((group) => group.each === each))
        expect(rows.at(-1)!.figures).toEqual(alone(others.flatMap(({ people }) => people)).all)
      }),
      { numRuns: 60 },
    )
  })

  test('are the same however the people are cut into ranges', () => {
    const splits = fc.constantFrom<Split[]>(
      [plan, { ...age, cuts: { equal: 'count', parts: 3 } }],
      [{ ...age, cuts: { equal: 'width', parts: 2 } }],
    )
    fc.assert(
      fc.property(timeline, splits, fc.array(fc.double({ min: 0, max: 1, noNaN: true })), (log, breakdowns, cuts) => {
        const asked = { ...question, breakdowns } as Question
        expect(answer(log, asked, { cuts })).toEqual(answer(log, asked))
      }),
      { numRuns: 30 },
    )
  })
})

describe('segments side by side', () => {
  const log = logOf(
    ['ada', 'bea', 'cai', 'dot'].flatMap((person, i) => [
      { person, event: 'ride', time: MONDAY + days(i), properties: { pool: `p${i % 3}` } },
    ]),
    { profiles: { ada: { plan: 'a' }, bea: { plan: 'a' }, cai: { plan: 'b' }, dot: {} } },
  )
  const own = (value: string): Side => ({
    ...{
      name: value,
      rule: { kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: 'is', values: [value] } } as Rule,
    },
  })
  const trend: TrendQuestion = {
    ...{ kind: 'trend', series: [{ event: { names: ['ride'] }, measure: 'people' }], every: 'week', range },
    show: { form: 'lines', as: 'number' },
  }
  const groupsOf = (breakdowns: Split[]) => {
    const by = breakdowns.flatMap((split) => (split.by.of === 'segments' ? [split.by] : []))[0]!
    const { lines } = answer<TrendResult>(log, { ...trend, breakdowns }, { sides: sidesIn(log, by) })
    return lines[0].groups.map(({ key, total }) => [key, total])
  }
  const besides = (...sides: Side[]): Split => ({ by: { of: 'segments', sides }, keep: 2 })

  test('are all shown, in their order, also where nobody is in one', () => {
    expect(groupsOf([besides(own('c'), own('b'), own('a'))])).toEqual([
      [{ side: 0, name: 'c' }, 0],
      [{ side: 1, name: 'b' }, 1],
      [{ side: 2, name: 'a' }, 2],
    ])
  })
  test('with another breakdown are combinations, of which so many are kept as were asked for', () => {
    const pool: Split = { by: { of: 'event', name: 'pool' }, keep: 10 }
    expect(groupsOf([besides(own('a'), own('b')), pool])).toEqual([
      [{ each: [{ side: 0, name: 'a' }, { value: 'p0' }] }, 1],
      [{ each: [{ side: 0, name: 'a' }, { value: 'p1' }] }, 1],
      [{ rest: true }, 1],
    ])
  })
})

describe('groups by what is of the event', () => {
  const on = (person: string, at: number, event: string, minutes?: number): TestEvent => ({
    ...{ person, event, time: MONDAY + days(at) },
    ...(minutes === undefined ? {} : { properties: { minutes } }),
  })

  test('a funnel by the weekday on which a step was filled: who did not get there is a group of its own', () => {
    const log = logOf([
      ...[on('ada', 0, 'open'), on('ada', 1, 'ride')],
      ...[on('bea', 0, 'open'), on('bea', 2, 'ride'), on('bea', 3, 'pay')],
      ...[on('cai', 1, 'open')],
      ...[on('dot', 1, 'open'), on('dot', 8, 'ride')],
    ])
    const question: FunnelQuestion = {
      ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range },
      steps: ['open', 'ride', 'pay'].map((name) => ({ event: { names: [name] } })),
      breakdowns: [{ by: { of: 'weekday' }, keep: 10 }],
    }
    const rows = (more: Partial<FunnelQuestion>) =>
      answer<FunnelResult>(log, { ...question, ...more }).groups.map(({ key, steps }) => [
        key,
        steps.map(({ people }) => people),
      ])
    expect(rows({})).toEqual([
      [{ weekday: 1 }, [2, 2, 1]],
      [{ weekday: 2 }, [2, 1, 0]],
    ])
    expect(rows({ readAt: 1 })).toEqual([
      [{ weekday: 2 }, [2, 2, 0]],
      [{ weekday: 3 }, [1, 1, 1]],
      [{ unreached: true }, [1, 0, 0]],
    ])
    const reached = { kind: 'step', step: 0, what: 'reached' } as const
    expect(peopleIn(log, { ...question, readAt: 1 }, [{ ...reached, group: { weekday: 2 } }])).toEqual(['ada', 'dot'])
    expect(peopleIn(log, { ...question, readAt: 1 }, [{ ...reached, group: { unreached: true } }])).toEqual(['cai'])
  })

  test('groups read at a step are compared among those who got there: each way on from there, and not before', () => {
    // All who unlock a red bike complete; of blue ones half. Whoever unlocked none got nowhere.
    const attempt = (person: string, colour: string | null, completes: boolean): TestEvent[] => [
      on(person, 0, 'open'),
      ...(colour ? [{ ...on(person, 1, 'unlock'), properties: { colour } }] : []),
      ...(completes ? [on(person, 2, 'ride')] : []),
    ]
    const of = (name: string, many: number, each: (i: number) => [string | null, boolean]) =>
      Array.from({ length: many }, (_, i) => attempt(`${name}${i}`, ...each(i))).flat()
    const log = logOf([
      ...of('red', 40, () => ['red', true]),
      ...of('blue', 40, (i) => ['blue', i % 2 === 0]),
      ...of('none', 100, () => [null, false]),
    ])
    const question: FunnelQuestion = {
      ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range, readAt: 1 },
      steps: ['open', 'unlock', 'ride'].map((name) => ({ event: { names: [name] } })),
      breakdowns: [{ by: { of: 'event', name: 'colour' }, keep: 10 }],
    }
    const result = answer<FunnelResult>(log, question)
    expect(result.groups.map(({ key, difference }) => [key, difference?.by])).toEqual([
      [{ value: 'blue' }, -0.5],
      [{ value: 'red' }, 0.5],
      [{ unreached: true }, undefined],
    ])
    expect(said(funnelFindings(result, question, { thisYear: 2026 })).findings).toContain(
      'blue: 50 % of those who got to unlock get through, 0.5× as often as the others (100 %). The difference is −50.0 points (95 %: −64.8 to −32.8).',
    )
    // Read at the end, everybody in a group got through: there is nothing to compare.
    const atEnd = { ...question, readAt: 2 }
    const last = answer<FunnelResult>(log, { ...atEnd, breakdowns: [{ by: { of: 'weekday' }, keep: 10 }] })
    expect(last.groups.map(({ difference }) => difference)).toEqual([null, null])
  })

  test('a retention by a number of the start, in ranges with equal numbers of starts', () => {
    const minutes = { ada: 5, bea: 6, cai: 7, dot: 30 }
    const log = logOf([
      ...Object.entries(minutes).flatMap(([person, each]) => [on(person, 0, 'ride', each), on(person, 1, 'ride', 99)]),
      on('ada', 7, 'ride', 99),
      on('dot', 8, 'ride', 99),
      // Without a number: no value.
      on('eve', 0, 'ride'),
    ])
    const question: RetentionQuestion = {
      ...{ kind: 'retention', start: ride, every: 'week', range, upTo: 1, show: { form: 'curve' } },
      breakdowns: [{ by: { of: 'event', name: 'minutes' }, keep: 10, cuts: { equal: 'count', parts: 2 } }],
    }
    const { groups } = answer<RetentionResult>(log, question)
    // Of the four numbers of starts the one at place 2 begins the second range; later rides are no starts.
    expect(groups.map(({ key, people, line }) => [key, people, line[1].returned])).toEqual([
      [{ range: [5, 7] }, 2, 1],
      [{ range: [7, 30], closed: true }, 2, 1],
      [{ value: null }, 1, 0],
    ])
    const back = { kind: 'cohort', what: 'returned', period: 1 } as const
    expect(peopleIn(log, question, [{ ...back, group: { range: [7, 30], closed: true } }])).toEqual(['dot'])
    const named = { ...question, breakdowns: [{ ...question.breakdowns![0], hideNone: true as const }] }
    expect(answer<RetentionResult>(log, named).groups).toHaveLength(2)
    expect(answer<RetentionResult>(log, named).all.people).toBe(5)
  })
})
