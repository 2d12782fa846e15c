import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, logOf, MONDAY, NOW, peopleIn, type TestEvent } from '../../tests/eventLog.js'
import { membersIn } from '../../tests/segmentLog.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import type { TrendResult } from '../analyses/trend/finish.js'
import type { Mark } from './registry.js'
import { ruleOfPeople } from './peopleRule.js'
import type { Rule } from '../segments/rule.js'

const trend = (more: Partial<TrendQuestion> = {}): TrendQuestion => ({
  ...{ kind: 'trend', series: [{ event: { names: ['ride'] }, measure: 'people' }], every: 'week' },
  ...{ range: { from: '2026-01-07', to: '2026-02-08' }, show: { form: 'lines', as: 'number' } },
  ...more,
})

describe('a selection as a rule', () => {
  test('a point of a trend is what they did in those days', () => {
    expect(ruleOfPeople({ study: trend(), marks: [{ kind: 'point', bucket: '2026-01-12' }] })).toEqual({
      hold: 'all',
      of: [{ kind: 'did', event: { names: ['ride'] }, window: { from: '2026-01-12', to: '2026-01-18' } }],
    })
    // The first week is cut by the range.
    expect(ruleOfPeople({ study: trend(), marks: [{ kind: 'point', bucket: '2026-01-05' }] })).toMatchObject({
      of: [{ window: { from: '2026-01-07', to: '2026-01-11' } }],
    })
  })
  test('a group of profiles is who they are, one of events is which of them', () => {
    const of = (by: 'event' | 'person') => {
      const study = trend({ breakdowns: [{ by: { of: by, name: 'plan' }, keep: 10 }] })
      return ruleOfPeople({ study, marks: [{ kind: 'point', group: { value: 'Annual' } }] })
    }
    const where = { op: 'is', values: ['Annual'] }
    expect(of('person')).toMatchObject({ of: [{ kind: 'did' }, { kind: 'profile', where }] })
    expect(of('event')).toMatchObject({ of: [{ kind: 'did', where }] })
  })
  test('who did it in one week and not in another', () => {
    const mark: Mark = { kind: 'point', bucket: '2026-01-12', not: '2026-01-19' }
    expect(ruleOfPeople({ study: trend(), marks: [mark] })).toMatchObject({
      of: [{ kind: 'did' }, { kind: 'did', not: true, window: { from: '2026-01-19', to: '2026-01-25' } }],
    })
  })
  test('steps of a funnel are a study’s result; so is everything else, where the range is fixed', () => {
    const funnel = {
      ...{ kind: 'funnel' as const, steps: [{ event: { names: ['look'] } }, { event: { names: ['ride'] } }] },
      ...{ window: { count: 7, unit: 'day' as const }, range: { last: 12, unit: 'week' as const } },
    }
    const marks: Mark[] = [{ kind: 'step', step: 1, what: 'reached' }]
    const kept = (mark: Mark, study = funnel) => ({ hold: 'all', of: [{ kind: 'study', study, marks: [mark] }] })
    expect(ruleOfPeople({ study: funnel, marks })).toEqual(kept(marks[0]))
    // Who may still go on is not lost yet, and how the steps were looked at is no part of it.
    const lost: Mark = { kind: 'step', step: 0, what: 'lost' }
    const drawn = { ...funnel, show: { form: 'repeats' as const } }
    expect(ruleOfPeople({ study: drawn, marks: [lost] })).toEqual(kept({ ...lost, what: 'gone' }))
    const at: Mark = { kind: 'after', step: 0, event: 'ride', within: 'session' }
    const after = { ...funnel, show: { form: 'after' as const, step: 0, within: 'session' as const } }
    expect(ruleOfPeople({ study: after, marks: [at] })).toEqual(kept(at, after))
    const rest: Mark[] = [{ kind: 'point', bucket: '2026-01-12', group: { rest: true } }]
    const study = trend({ breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 1 }] })
    expect(ruleOfPeople({ study, marks: rest })).toMatchObject({ of: [{ kind: 'study' }] })
    expect(ruleOfPeople({ study: { ...study, range: { last: 8, unit: 'week' } }, marks: rest })).toBeNull()
  })
  test('of studies about coming back: not in a period is for good, and a week that moves on keeps nobody', () => {
    const retention = {
      ...{ kind: 'retention' as const, start: { event: { names: ['join'] } }, every: 'week' as const },
      ...{ range: { last: 12, unit: 'week' as const }, show: { form: 'over time' as const, at: 4 } },
    }
    const not: Mark = { kind: 'cohort', period: 4, what: 'not' }
    expect(ruleOfPeople({ study: retention, marks: [not] })).toEqual({
      hold: 'all',
      of: [{ kind: 'study', study: { ...retention, show: { form: 'curve' } }, marks: [{ ...not, what: 'gone' }] }],
    })
    expect(ruleOfPeople({ study: retention, marks: [{ ...not, cohort: '2026-01-05' }] })).toBeNull()
    const growth = {
      ...{ kind: 'growth' as const, start: { event: { names: ['ride'] } }, interval: { unit: 'week' as const } },
      ...{ range: { last: 12, unit: 'week' as const }, show: { form: 'states' as const } },
    }
    const lapsed: Mark = { kind: 'state', states: ['lapsed'] }
    expect(ruleOfPeople({ study: growth, marks: [{ ...lapsed, interval: '2026-01-12' }] })).toBeNull()
    expect(ruleOfPeople({ study: growth, marks: [lapsed] })).toMatchObject({ of: [{ kind: 'study', marks: [lapsed] }] })
  })
  test('a segment of a retention is read as of its moment: gone once the week is over for them', () => {
    const log = eventLog({ ada: 'join@0d', bea: 'join@0d ride@8d', cai: 'join@9d', dot: 'ride@-9d' })
    const study = {
      ...{ kind: 'retention' as const, start: { event: { names: ['join'] } }, back: { event: { names: ['ride'] } } },
      ...{ every: 'week' as const, range: { from: '2026-01-05', to: '2026-01-25' }, show: { form: 'curve' as const } },
    }
    const rule = ruleOfPeople({ study, marks: [{ kind: 'cohort', period: 1, what: 'not' }] })!
    const as = (ms: number) => membersIn(log, rule, { now: MONDAY + ms })
    expect(as(days(14) - 1)).toEqual([])
    expect(as(days(14))).toEqual(['ada'])
    expect(as(days(21))).toEqual(['ada', 'cai'])
  })
  test('who came in or went out can only be kept as a list', () => {
    const rule: Rule = { kind: 'did', event: { names: ['ride'] } }
    expect(ruleOfPeople({ rule })).toEqual({ hold: 'all', of: [rule] })
    expect(ruleOfPeople({ rule, came: 'in', since: 5 })).toBeNull()
    expect(ruleOfPeople({ rule, at: 5 })).toBeNull()
  })
})

const event = fc.record({
  person: fc.constantFrom('ada', 'bea', 'cai', 'dot', 'eve'),
  event: fc.constantFrom('ride', 'look'),
  time: fc.integer({ min: -10, max: 240 }).map((hour) => MONDAY + hour * 6 * 3_600_000),
  properties: fc.oneof(
    fc.constant({}),
    fc.record({ size: fc.constantFrom('s', 'm', 3, true, ''), list: fc.subarray(['x', 'y']) }),
  ),
}) as fc.Arbitrary<TestEvent>
const by = fc.constantFrom(
  { of: 'event' as const, name: 'size' },
  { of: 'event' as const, name: 'list' },
  { of: 'person' as const, name: 'plan' },
  { of: 'weekday' as const },
)
const question = fc
  .record({
    measure: fc.constantFrom('people' as const, 'events' as const, 'people so far' as const, 'sessions' as const),
    every: fc.constantFrom('day' as const, 'week' as const, 'month' as const),
    range: fc.constantFrom(
      { from: '2026-01-07', to: '2026-02-08' },
      { last: 40, unit: 'day' as const },
      { last: 6, unit: 'week' as const },
    ),
    breakdowns: fc.array(by, { maxLength: 2 }),
    keep: fc.integer({ min: 1, max: 3 }),
  })
  .map(({ measure, every, range, breakdowns, keep }) =>
    trend({
      ...{ series: [{ event: { names: ['ride'] }, measure }], every, range },
      ...(breakdowns.length > 0 ? { breakdowns: breakdowns.map((each) => ({ by: each, keep })) } : {}),
    }),
  )

test('whoever is selected in a trend is exactly whom the rule holds for', () => {
  fc.assert(
    fc.property(fc.array(event, { minLength: 3, maxLength: 40 }), question, (list, asked) => {
      const all = ['ride', 'look'].map((name) => ({
        ...{ person: 'zoe', event: name, time: MONDAY - days(300), properties: { size: 's', list: ['x'] } },
      }))
      const log = logOf([...list, ...all], {
        profiles: { ada: { plan: 'Annual' }, bea: { plan: 'Annual' }, cai: { plan: 'Monthly' }, zoe: { plan: 'None' } },
      })
      const { lines, buckets } = answer<TrendResult>(log, asked)
      const groups = [undefined, ...lines[0].groups.map(({ key }) => key!)]
      const marks = groups.flatMap((group) =>
        [undefined, ...buckets.slice(0, 3).map(({ key }) => key)].map((bucket): Mark => ({
          kind: 'point',
          ...(group ? { group } : {}),
          ...(bucket ? { bucket } : {}),
        })),
      )
      for (const mark of marks) {
        const rule = ruleOfPeople({ study: asked, marks: [mark] })
        if (rule)
          expect(membersIn(log, rule, { now: NOW })).toEqual(
            [...peopleIn(log, asked, [mark])].sort(byNumber(log.people)),
          )
      }
    }),
    { numRuns: 80 },
  )
})

const byNumber = (people: readonly string[]) => (a: string, b: string) => people.indexOf(a) - people.indexOf(b)

test('a log without anybody has no members', () => {
  expect(
    membersIn(eventLog({ ada: 'look@0d' }), { kind: 'did', event: { names: ['look'] }, window: { last: 1 } }),
  ).toEqual([])
})
