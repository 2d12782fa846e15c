import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { days, eventLog, logOf, MONDAY, type TestEvent, type TestLog } from '../../tests/eventLog.js'
import { countsOf, membersIn, planOf, unresolvedIn, type SegmentAsked } from '../../tests/segmentLog.js'
import type { TestEventLike } from '../analyses/reference.js'
import type { EventPick } from '../questions/parts.js'
import type { Calendar } from '../time/range.js'
import { referenceMember, type ReferenceWorld } from './reference.js'
import type { SavedSegment } from './resolve.js'
import type { CountTest, DidCondition, Rule, SegmentCondition } from './rule.js'

const event = (name: string) => ({ names: [name] })
const did = (name: string, more: Partial<DidCondition> = {}): DidCondition => ({
  kind: 'did',
  event: event(name),
  ...more,
})
const times = (op: '=' | '≠' | '<' | '≤' | '>' | '≥', number: number) =>
  ({ count: { measure: 'times', test: { op, number } } }) as const
const hours = (n: number) => n * 3_600_000

describe('did and did not', () => {
  const log = eventLog({
    one: 'ride@0d',
    three: 'ride@0d ride@1d ride@1d+1h',
    none: 'look@0d',
    later: 'look@0d ride@9d',
  })
  const as = (rule: Rule, day: number) => membersIn(log, rule, { now: MONDAY + days(day) })

  test('at least once, and not at all; who has no event yet is not asked about', () => {
    expect(as(did('ride'), 2)).toEqual(['one', 'three'])
    expect(as(did('ride', { not: true }), 2)).toEqual(['none', 'later'])
    expect(as(did('ride', { not: true }), 9)).toEqual(['none'])
  })
  test.each([
    ['=', 1, ['one']],
    ['≠', 1, ['three', 'none', 'later']],
    ['<', 2, ['one', 'none', 'later']],
    ['≤', 0, ['none', 'later']],
    ['>', 1, ['three']],
    ['≥', 3, ['three']],
  ] as const)('times %s %i, where times of nothing are 0', (op, number, names) => {
    expect(as(did('ride', times(op, number)), 2)).toEqual(names)
  })
  test('between holds both ends', () => {
    const between: CountTest = { measure: 'times', test: { op: 'between', numbers: [1, 3] } }
    expect(as(did('ride', { count: between }), 2)).toEqual(['one', 'three'])
  })
})

describe('what is counted', () => {
  const ride = (person: string, at: number, minutes?: unknown, bike?: unknown): TestEvent => ({
    ...{ person, event: 'ride', time: MONDAY + at },
    properties: { ...(minutes === undefined ? {} : { minutes }), ...(bike === undefined ? {} : { bike }) } as never,
  })
  const log = logOf([
    ride('a', 0, 10, 'pedal'),
    ride('a', hours(1), 20, 'electric'),
    ride('a', days(6) + hours(23), 30, 'pedal'),
    ride('b', days(6), '15', ['pedal', 'cargo']),
    ride('b', days(7), undefined, []),
    { person: 'c', event: 'look', time: MONDAY },
  ])
  const people = (measure: string, op: string, number: number, property?: string) =>
    membersIn(log, {
      ...did('ride'),
      count: {
        measure,
        test: { op, number },
        ...(property ? { property: { of: 'event', name: property } } : {}),
      } as never,
    })

  test('distinct local days and weeks', () => {
    expect(people('days', '=', 2)).toEqual(['a', 'b'])
    expect(people('weeks', '=', 1)).toEqual(['a'])
    expect(people('weeks', '=', 2)).toEqual(['b'])
    expect(people('weeks', '=', 0)).toEqual(['c'])
  })
  test('different values, of a list its elements; an empty list is none', () => {
    expect(people('values', '=', 2, 'bike')).toEqual(['a', 'b'])
    expect(people('values', '=', 0, 'bike')).toEqual(['c'])
  })
  test('sum, average, maximum and minimum are over numbers; the text "15" is none', () => {
    expect(people('sum', '=', 60, 'minutes')).toEqual(['a'])
    expect(people('sum', '=', 0, 'minutes')).toEqual(['b', 'c'])
    expect(people('average', '=', 20, 'minutes')).toEqual(['a'])
    expect(people('maximum', '=', 30, 'minutes')).toEqual(['a'])
    expect(people('minimum', '=', 10, 'minutes')).toEqual(['a'])
  })
  test('average, maximum and minimum of nothing fulfil no comparison, not even ≠', () => {
    for (const measure of ['average', 'maximum', 'minimum']) expect(people(measure, '≠', 1, 'minutes')).toEqual(['a'])
  })
})

describe('windows', () => {
  // Day 10 is the moment's own; noon of day 10 is now.
  const log = eventLog({
    today: 'ride@10d',
    two: 'ride@9d',
    three: 'ride@8d+23h+59m+59s',
    old: 'ride@3d',
    ahead: 'look@0d ride@10d+13h',
  })
  const now = MONDAY + days(10) + hours(12)
  const within = (window: DidCondition['window']) => membersIn(log, did('ride', { window }), { now })

  test('the last N days are local days, the moment’s own the first of them; nothing after the moment counts', () => {
    expect(within({ last: 1 })).toEqual(['today'])
    expect(within({ last: 2 })).toEqual(['today', 'two'])
    expect(within({ last: 3 })).toEqual(['today', 'two', 'three'])
  })
  test('days M to N before go on from the last M − 1 days', () => {
    expect(within({ before: [2, 3] })).toEqual(['two', 'three'])
    expect(within({ before: [3, 8] })).toEqual(['three', 'old'])
    expect(within({ before: [1, 1] })).toEqual(['today'])
  })
  test('between dates, both included', () => {
    expect(within({ from: '2026-01-08', to: '2026-01-13' })).toEqual(['three', 'old'])
    expect(within({ from: '2026-01-08', to: '2026-01-12' })).toEqual(['old'])
  })
  test('within N days after first seen: the first event belongs to it, the very limit too', () => {
    const seen = eventLog({
      first: 'ride@0d',
      limit: 'look@0d ride@2d',
      over: 'look@0d ride@2d+1ms',
      twice: 'ride@0d ride@2d',
    })
    const rule = did('ride', { window: { after: 'first seen', days: 2 } })
    expect(membersIn(seen, rule)).toEqual(['first', 'limit', 'twice'])
    expect(membersIn(seen, { ...rule, ...times('≥', 2) })).toEqual(['twice'])
  })
  test('within N days after first doing another: later events only, in order of arrival at one moment', () => {
    const seen = eventLog({
      limit: 'join@0d ride@2d',
      over: 'join@0d ride@2d+1ms',
      before: 'ride@0d join@0d',
      same: 'join@1d ride@1d',
      never: 'ride@0d',
      second: 'join@0d join@5d ride@6d',
    })
    const rule = did('ride', { window: { after: { event: event('join') }, days: 2 } })
    expect(membersIn(seen, rule)).toEqual(['limit', 'same'])
    const again = did('join', { window: { after: { event: event('join') }, days: 5 } })
    expect(membersIn(seen, again)).toEqual(['second'])
  })
  test('local days on both clock changes: 23 and 25 hours', () => {
    const lisbon: Calendar = { zone: 'Europe/Lisbon', firstDayOfWeek: 1 }
    const at = (iso: string) => Date.parse(iso)
    // Sunday 29 March begins at 00:00 UTC and ends at 23:00 UTC; Sunday 25 October runs from 23:00 UTC to 24:00 UTC.
    const changes = logOf([
      { person: 'spring', event: 'ride', time: at('2026-03-28T23:59:59Z') },
      { person: 'spring', event: 'ride', time: at('2026-03-29T22:59:59Z') },
      { person: 'spring', event: 'ride', time: at('2026-03-29T23:00:00Z') },
      { person: 'autumn', event: 'ride', time: at('2026-10-24T22:59:59Z') },
      { person: 'autumn', event: 'ride', time: at('2026-10-24T23:00:00Z') },
      { person: 'autumn', event: 'ride', time: at('2026-10-25T23:59:59Z') },
      { person: 'autumn', event: 'ride', time: at('2026-10-26T00:00:00Z') },
    ])
    const on = (iso: string, last: number, n: number) =>
      membersIn(changes, did('ride', { count: { measure: 'times', test: { op: '=', number: n } }, window: { last } }), {
        now: at(iso),
        calendar: lisbon,
      })
    expect(on('2026-03-29T22:59:59Z', 1, 1)).toEqual(['spring'])
    expect(on('2026-03-29T23:00:00Z', 1, 1)).toEqual(['spring'])
    expect(on('2026-03-29T23:00:00Z', 2, 2)).toEqual(['spring'])
    expect(on('2026-10-25T23:59:59Z', 1, 2)).toEqual(['autumn'])
    expect(on('2026-10-26T00:00:00Z', 2, 3)).toEqual(['autumn'])
    const threeDays: Rule = did('ride', { count: { measure: 'days', test: { op: '=', number: 3 } } })
    expect(membersIn(changes, threeDays, { now: at('2026-11-01T00:00:00Z'), calendar: lisbon })).toEqual([
      'spring',
      'autumn',
    ])
  })
})

describe('sequences', () => {
  const sequence = (steps: string[], count: number): Rule => ({
    ...{ kind: 'sequence', steps: steps.map((name) => ({ event: event(name) })), within: { count, unit: 'day' } },
  })
  const log = eventLog({
    limit: 'look@0d buy@2d',
    over: 'look@0d buy@2d+1ms',
    second: 'look@0d look@5d buy@6d',
    wrong: 'buy@0d look@1d',
    same: 'look@0d buy@0d',
    three: 'look@0d buy@1d ride@2d',
    late: 'look@0d buy@1d ride@2d+1ms',
  })
  test('all within the limit of the first, the very limit too; any attempt will do', () => {
    expect(membersIn(log, sequence(['look', 'buy'], 2))).toEqual(['limit', 'second', 'same', 'three', 'late'])
    expect(membersIn(log, sequence(['look', 'buy', 'ride'], 2))).toEqual(['three'])
  })
  test('one event fills one step', () => {
    expect(membersIn(log, sequence(['look', 'look'], 9))).toEqual(['second'])
  })
  test('as of a moment only what was done by then', () => {
    expect(membersIn(log, sequence(['look', 'buy'], 2), { now: MONDAY + days(1) })).toEqual(['same', 'three', 'late'])
  })
})

describe('first and last times', () => {
  const log = eventLog({ a: 'ride@0d mail@9d', b: 'ride@4d ride@8d', c: 'look@4d' }, { passive: ['mail'] })
  const asked = (which: Extract<SegmentCondition, { kind: 'time' }>['asked'], when: object, name?: string): Rule =>
    ({ kind: 'time', asked: which, when, ...(name ? { event: event(name) } : {}) }) as Rule
  const as = { now: MONDAY + days(10) }
  test('seen counts passive events too', () => {
    expect(membersIn(log, asked('last seen', { last: 2, unit: 'day' }), as)).toEqual(['a'])
    expect(membersIn(log, asked('first seen', { before: '2026-01-09' }), as)).toEqual(['a'])
    expect(membersIn(log, asked('first seen', { after: '2026-01-08' }), as)).toEqual(['b', 'c'])
  })
  test('of an event: who never did it fulfils nothing', () => {
    expect(membersIn(log, asked('first time', { before: '2026-02-01' }, 'ride'), as)).toEqual(['a', 'b'])
    expect(membersIn(log, asked('last time', { after: '2026-01-12' }, 'ride'), as)).toEqual(['b'])
    expect(membersIn(log, asked('last time', { after: '2026-01-12' }, 'ride'), { now: MONDAY + days(7) })).toEqual([])
  })
})

describe('groups, profiles, lists and other segments', () => {
  const log = eventLog(
    { ada: 'ride@0d', bea: 'ride@1d', cy: 'look@0d', dan: 'ride@20d' },
    { profiles: { ada: { plan: 'Annual' }, bea: { plan: 'Monthly' }, cy: { plan: 'Annual' } } },
  )
  const plan = (value: string): Rule => ({
    ...{ kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: 'is', values: [value] } },
  })
  test('all, any and none, within each other', () => {
    expect(membersIn(log, { hold: 'all', of: [did('ride'), plan('Annual')] })).toEqual(['ada'])
    expect(membersIn(log, { hold: 'any', of: [did('ride'), plan('Annual')] })).toEqual(['ada', 'bea', 'cy', 'dan'])
    expect(membersIn(log, { hold: 'none', of: [plan('Annual'), plan('Monthly')] })).toEqual(['dan'])
    const nested: Rule = { hold: 'all', of: [did('ride'), { hold: 'any', of: [plan('Annual'), plan('Monthly')] }] }
    expect(membersIn(log, nested)).toEqual(['ada', 'bea'])
  })
  test('an empty group and what is switched off say nothing', () => {
    expect(membersIn(log, { hold: 'all', of: [] })).toEqual(['ada', 'bea', 'cy', 'dan'])
    const rule: Rule = { hold: 'all', of: [did('ride'), { ...did('look'), off: true }, { hold: 'none', of: [] }] }
    expect(membersIn(log, rule)).toEqual(['ada', 'bea', 'dan'])
  })
  test('in and not in another segment, live or frozen', () => {
    const asked: SegmentAsked = {
      segments: [
        { id: 'riders', name: 'Riders', rule: did('ride') },
        { id: 'list', name: 'List', frozenMs: MONDAY },
      ],
      frozen: { list: ['ada', 'cy'] },
    }
    const member = (segment: string, not?: true): Rule => ({ kind: 'segment', segment, ...(not ? { not } : {}) })
    expect(membersIn(log, member('riders'), asked)).toEqual(['ada', 'bea', 'dan'])
    expect(membersIn(log, member('riders', true), asked)).toEqual(['cy'])
    expect(membersIn(log, member('list'), asked)).toEqual(['ada', 'cy'])
    expect(membersIn(log, { hold: 'all', of: [member('riders'), member('list', true)] }, asked)).toEqual(['bea', 'dan'])
  })
  test('a member at any time since a day, read at the end of each local day', () => {
    const quiet: SavedSegment = { id: 'q', name: 'Active', rule: did('ride', { window: { last: 1 } }) }
    const since = (day: string, now: number) =>
      membersIn(log, { kind: 'segment', segment: 'q', since: day }, { segments: [quiet], now: MONDAY + days(now) })
    expect(since('2026-01-05', 10)).toEqual(['ada', 'bea'])
    expect(since('2026-01-06', 10)).toEqual(['bea'])
    expect(since('2026-01-07', 10)).toEqual([])
    // The day of the moment is not over: it is read as of the moment.
    expect(since('2026-01-07', 20)).toEqual(['dan'])
  })
  test('a circle is a fault that names its segments; one that is not there is a fault where it stands', () => {
    const segments: SavedSegment[] = [
      { id: 'a', name: 'First', rule: { kind: 'segment', segment: 'b' } },
      { id: 'b', name: 'Second', rule: { hold: 'any', of: [{ kind: 'segment', segment: 'a' }] } },
    ]
    expect(unresolvedIn({ kind: 'segment', segment: 'a' }, segments)).toMatchObject([
      { code: 'circle', got: 'First → Second → First' },
    ])
    const gone: Rule = { hold: 'all', of: [did('ride'), { kind: 'segment', segment: 'x' }] }
    expect(unresolvedIn(gone, segments)).toMatchObject([{ code: 'unknown_segment', path: ['of', 1, 'segment'] }])
  })
  test('the people of a study’s mark, as of the moment', () => {
    const rule: Rule = {
      kind: 'study',
      study: {
        ...{ kind: 'trend', series: [{ event: event('ride'), measure: 'people' }], every: 'day' },
        ...{ range: { last: 3, unit: 'day' }, show: { form: 'lines', as: 'number' } },
      },
      marks: [{ kind: 'point' }],
    }
    expect(membersIn(log, rule, { now: MONDAY + days(3) })).toEqual(['bea'])
    expect(membersIn(log, { ...rule, not: true }, { now: MONDAY + days(3) })).toEqual(['ada', 'cy'])
  })
})

// A small world of random people, in which every condition is tried against its plain reading.
const NAMES = ['ride', 'look', 'buy']
const zones = ['UTC', 'Europe/Lisbon', 'America/New_York', 'Asia/Kolkata']
const START = Date.parse('2026-03-20T00:00:00Z')
const aTime = fc.oneof(
  fc.integer({ min: 0, max: 20 * 24 }).map((hour) => START + hours(hour)),
  fc.integer({ min: 0, max: days(20) }).map((ms) => START + ms),
)
const anEvent = fc.record({
  event: fc.constantFrom(...NAMES),
  time: aTime,
  x: fc.option(fc.constantFrom<unknown>(0.1, 0.2, 0.3, 5, '5', true, ['a'], ['a', 'b'], []), { nil: undefined }),
})
const aDay = fc.integer({ min: 0, max: 24 }).map((day) => new Date(START + days(day)).toISOString().slice(0, 10))
const aPick: fc.Arbitrary<EventPick> = fc.record({
  event: fc.oneof(
    fc.subarray(NAMES, { minLength: 1, maxLength: 2 }).map((names) => ({ names })),
    fc.constant({ activity: true as const }),
  ),
})
const property = { of: 'event', name: 'x' } as const
const aCompare = fc.oneof(
  fc.record({ op: fc.constantFrom('=', '≠', '<', '≤', '>', '≥'), number: fc.constantFrom(0, 1, 2, 0.3, 0.1, 5) }),
  fc.constant({ op: 'between', numbers: [1, 2] }),
)
const aCount = fc.oneof(
  fc.record({ measure: fc.constantFrom('times', 'days', 'weeks'), test: aCompare }),
  fc.record({
    ...{ measure: fc.constantFrom('values', 'sum', 'average', 'maximum', 'minimum'), test: aCompare },
    property: fc.constant(property),
  }),
)
const few = fc.integer({ min: 1, max: 8 })
const aWindow = fc.oneof(
  fc.record({ last: few }),
  fc.tuple(few, few).map(([a, b]) => ({ before: [Math.min(a, b), Math.max(a, b)] })),
  fc.tuple(aDay, aDay).map(([a, b]) => (a <= b ? { from: a, to: b } : { from: b, to: a })),
  fc.record({ after: fc.constant('first seen'), days: few }),
  fc.record({ after: aPick, days: few }),
)
const maybe = <T>(some: fc.Arbitrary<T>) => fc.option(some, { nil: undefined, freq: 2 })
const aDid = fc
  .record({ pick: aPick, not: fc.boolean(), count: maybe(aCount), window: maybe(aWindow) })
  .map(({ pick, not, count, window }) => ({
    ...{ kind: 'did', ...pick },
    ...(not ? { not: true } : count ? { count } : {}),
    ...(window ? { window } : {}),
  }))
const aSequence = fc.record({
  kind: fc.constant('sequence'),
  steps: fc.array(aPick, { minLength: 2, maxLength: 3 }),
  within: fc.record({ count: few, unit: fc.constantFrom('hour', 'day') }),
})
const aTimeCondition = fc
  .record({
    asked: fc.constantFrom('first seen', 'last seen', 'first time', 'last time'),
    pick: aPick,
    when: fc.oneof(
      aDay.map((day) => ({ before: day })),
      aDay.map((day) => ({ after: day })),
      fc.record({ last: few, unit: fc.constantFrom('hour', 'day', 'week') }),
    ),
  })
  .map(({ asked, pick, when }) => ({
    ...{ kind: 'time', asked, when },
    ...(asked.endsWith('time') ? pick : {}),
  }))
const aMember = fc
  .record({ segment: fc.constantFrom('list', 'live'), since: maybe(aDay), not: fc.boolean() })
  .map(({ segment, since, not }) => ({
    ...{ kind: 'segment', segment, ...(since ? { since } : {}) },
    ...(not ? { not: true } : {}),
  }))
const aCondition = fc.oneof(aDid, aDid, aDid, aSequence, aTimeCondition, aMember)
const aRule = fc.letrec((tie) => ({
  rule: fc.oneof({ depthSize: 'small', maxDepth: 2 }, aCondition, tie('group')),
  group: fc.record({
    hold: fc.constantFrom('all', 'any', 'none'),
    of: fc.array(tie('rule'), { maxLength: 3 }),
  }),
})).rule as fc.Arbitrary<Rule>

const liveRule: Rule = did('ride', { count: { measure: 'days', test: { op: '≥', number: 2 } }, window: { last: 5 } })
const world = (calendar: Calendar, onList: boolean): ReferenceWorld => ({
  calendar,
  matches: (each: TestEventLike, { event: choice }) => 'activity' in choice || choice.names.includes(each.event),
  profileHolds: () => true,
  segment: (id) => (id === 'live' ? liveRule : onList),
  counted: () => false,
})
const aWorld = fc.record({
  people: fc.array(fc.array(anEvent, { minLength: 1, maxLength: 12 }), { minLength: 1, maxLength: 5 }),
  rule: aRule,
  zone: fc.constantFrom(...zones),
  firstDayOfWeek: fc.constantFrom(1, 7),
  moments: fc.uniqueArray(aTime, { minLength: 1, maxLength: 40 }).map((each) => each.sort((a, b) => a - b)),
  cuts: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
})

function logFor(people: readonly { event: string; time: number; x?: unknown }[][]): TestLog {
  const events = people.flatMap((own, index) =>
    own.map(({ event: name, time, x }): TestEvent => ({
      ...{ person: `p${index}`, event: name, time },
      properties: x === undefined ? {} : { x: x as never },
    })),
  )
  // Every name has arrived once, so that no question is about an unknown one.
  for (const name of NAMES) events.push({ person: 'all', event: name, time: START, properties: { x: 1 } })
  return logOf(events)
}

test('rules hold for exactly whom their plain reading says, as of any moments, over any cut of the people', () => {
  fc.assert(
    fc.property(aWorld, ({ people, rule, zone, firstDayOfWeek, moments, cuts }) => {
      const log = logFor(people)
      const calendar = { zone, firstDayOfWeek }
      const asked: SegmentAsked = {
        ...{ calendar, cuts },
        segments: [
          { id: 'list', name: 'List', frozenMs: 0 },
          { id: 'live', name: 'Live', rule: liveRule },
        ],
        frozen: { list: ['p0', 'p2'] },
      }
      const expected = moments.map(
        (now) =>
          log.people.filter((person) => {
            const own = log.events.filter((each) => each.person === person).sort((a, b) => a.time - b.time)
            return referenceMember(rule, own, now, world(calendar, asked.frozen!.list.includes(person)))
          }).length,
      )
      const { plan, faults } = planOf(log, rule, moments, asked)
      expect(faults).toEqual([])
      expect([...countsOf(log, plan, asked).members]).toEqual(expected)
      // Size over time is what is counted as of each moment alone.
      const alone = moments.map((now) => membersIn(log, rule, { ...asked, now }).length)
      expect(alone).toEqual(expected)
    }),
    { numRuns: 400 },
  )
})
