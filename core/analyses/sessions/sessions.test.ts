import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { answer, logOf, MONDAY, peopleIn, scanAll, UTC, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import { said } from '../../../tests/said.js'
import type { EventPick } from '../../questions/parts.js'
import { parseQuestion } from '../registry.js'
import { atOnce } from '../../steps.js'
import { LISTED } from './listed.js'
import { peopleOfSessions, sessionAt, sessionsListed, sortSessions } from './sessionList.js'
import { joinedPieces } from '../../stats/pieces.js'
import { listSessions } from './listed.js'
import type { SessionsPlan } from './plan.js'
import { sessionsFindings } from './findings.js'
import type { SessionsResult } from './finish.js'
import { valueOf } from './value.js'
import type { SessionsMark } from './marks.js'
import {
  lengthAt,
  LENGTHS,
  sessionMeasures,
  usualSessions,
  type SessionMeasure,
  type SessionsQuestion,
} from './question.js'
import { lengthOf, referenceSessions, referenceValue } from './reference.js'
import { lengthWords } from './words.js'

const SECOND = 1000
const MINUTE = 60 * SECOND
const DAY = 24 * 60 * MINUTE
const base: SessionsQuestion = { ...usualSessions(), every: 'day', range: { from: '2026-01-05', to: '2026-01-18' } }
const NOW = MONDAY + 20 * DAY

/** Of each person one letter after another, as `event@minutes`. */
function events(people: Record<string, string>, more: object = {}): TestEvent[] {
  return Object.entries(people).flatMap(([person, list]) =>
    list.split(' ').map((each) => {
      const [event, minutes] = each.split('@')
      return { person, event, time: MONDAY + Number(minutes) * MINUTE, ...more }
    }),
  )
}
const ask = (list: TestEvent[], more: Partial<SessionsQuestion> = {}, now = NOW, profiles = {}) =>
  answer<SessionsResult>(logOf(list, { profiles }), { ...base, ...more }, { now })
const valuesOf = ({ all }: SessionsResult, measure: SessionMeasure) => all.values.map((sums) => valueOf(sums, measure))

/** The sessions of marks, listed. */
function sessionsIn(test: TestLog, question: SessionsQuestion, marks: SessionsMark[], now: number) {
  const plan = scanAll(test, question, { now }, marks).plan as SessionsPlan
  const list = joinedPieces(listSessions(test.log, { from: 0, to: test.log.people }, plan, marks))
  const sorted = atOnce(sortSessions(list, { by: 'start', up: true }))
  return Array.from({ length: sessionsListed(sorted) }, (_, place) => {
    const { person, startMs, source: _source, ...told } = sessionAt(sorted, place, test.schema)
    return { person: test.people[person - 1], start: startMs, ...told }
  })
}

describe('what is counted', () => {
  test('five sessions of 10 s and three of 10 s by two people are 40 s a person', () => {
    const of = (person: string, many: number) =>
      Array.from({ length: many }, (_, i) => [
        { person, event: 'a', time: MONDAY + i * 60 * MINUTE },
        { person, event: 'b', time: MONDAY + i * 60 * MINUTE + 10 * SECOND },
      ]).flat()
    const result = ask([...of('ada', 5), ...of('bea', 3)])
    expect(valueOf(result.all.total, 'time per person')).toBe(40 * SECOND)
    expect(valuesOf(result, 'time per person')[0]).toBe(40 * SECOND)
    expect(valueOf(result.all.total, 'per person')).toBe(4)
    expect(result.all.lengths).toEqual([0, 8, 0, 0, 0, 0, 0, 0, 0])
  })

  test('a session over midnight belongs to the day of its first event, with all of its length', () => {
    const result = ask(events({ ada: 'a@1430 b@1450' }))
    expect(valuesOf(result, 'sessions').slice(0, 2)).toEqual([1, 0])
    expect(result.all.values[0].median).toBe(20 * MINUTE)
    // One that begins before the time asked about is none of it, though it goes on in it.
    expect(ask(events({ ada: 'a@-10 b@5 c@60' })).all.total.sessions).toBe(1)
  })

  test('events of every type count, in sessions of one event too, which last no time', () => {
    const result = ask(events({ ada: 'a@0', bea: 'a@0 b@2 c@4' }))
    expect(result.all.total).toMatchObject({ sessions: 2, people: 2, single: 1, events: 4, ms: 4 * MINUTE })
    expect(result.all.total).toMatchObject({ median: 2 * MINUTE, average: 2 * MINUTE })
  })

  test('what may go on is a session, and of no median or average length', () => {
    const list = events({ ada: 'a@0 b@10', bea: 'a@100 b@101' })
    const then = MONDAY + 131 * MINUTE
    expect(ask(list, {}, then).all.total).toMatchObject({ sessions: 2, open: 1, median: 10 * MINUTE, ms: 11 * MINUTE })
    // A millisecond later nothing can follow in it any more.
    expect(ask(list, {}, then + 1).all.total).toMatchObject({ sessions: 2, open: 0, average: 5.5 * MINUTE })
  })

  test('an earlier time is counted by the same rules, and beside it', () => {
    const list = events({ ada: `a@0 b@4 a@${7 * 1440} b@${7 * 1440 + 10}`, bea: `a@${7 * 1440} a@${9 * 1440}` })
    const range = { from: '2026-01-12', to: '2026-01-18' }
    const { all, before } = ask(list, { range, compare: { to: 'before' } })
    expect(all.total).toMatchObject({ sessions: 3, people: 2, ms: 10 * MINUTE })
    expect(before!.all.total).toMatchObject({ sessions: 1, people: 1, ms: 4 * MINUTE })
    expect(before!.buckets.map(({ key }) => key)[0]).toBe('2026-01-05')
    // Groups are those of the time asked about, in the same order.
    const grouped = ask(list, {
      ...{ range, compare: { to: 'week' } },
      breakdowns: [{ by: { of: 'event', name: 'entry event' }, keep: 5 }],
    })
    expect(grouped.before!.groups.map(({ total }) => total.sessions)).toEqual([1])
    const people = peopleIn(
      logOf(list),
      { ...base, range, compare: { to: 'before' } },
      [{ kind: 'session', before: true }] satisfies SessionsMark[],
      { now: NOW },
    )
    expect(people).toEqual(['ada'])
  })

  test('a time that overlaps the one it is compared with is counted in both', () => {
    const list = events({ ada: 'a@0 b@4' })
    const { all, before } = ask(list, { compare: { from: '2026-01-05', to: '2026-01-06' } })
    expect([all.total.sessions, before!.all.total.sessions]).toEqual([1, 1])
  })

  test('a target is reached by whole buckets that have a value', () => {
    const list = events({ ada: 'a@0 b@6 a@1440 b@1444', bea: 'a@2880 b@2890' })
    const range = { from: '2026-01-05' }
    const asked = { ...base, range, target: 6 }
    const found = said(sessionsFindings(ask(list, asked, MONDAY + 3 * DAY), asked, { thisYear: 2026 })).findings
    expect(found).toContainEqual(expect.stringMatching(/target of 6 minutes was reached in 2 of 3 whole days/))
    const single = { ...asked, measure: 'single' as const, target: 0.5 }
    expect(
      said(sessionsFindings(ask(list, single, MONDAY + 3 * DAY), single, { thisYear: 2026 })).findings,
    ).toContainEqual(expect.stringMatching(/no more than 50 % was reached in 3 of 3/))
  })

  test('the sessions themselves are listed, those of the marks alone', () => {
    const log = logOf(events({ ada: 'a@0 b@6 a@100 x@103', bea: 'x@0 a@1440 b@1444' }))
    const listed = (marks: SessionsMark[]) => sessionsIn(log, base, marks, NOW)
    expect(listed([{ kind: 'session' }])).toHaveLength(4)
    expect(listed([{ kind: 'session', entry: 'a', bucket: '2026-01-05' }])).toEqual([
      { person: 'ada', number: 1, start: MONDAY, ms: 6 * MINUTE, events: 2, entry: 'a', exit: 'b', open: false },
      {
        ...{ person: 'ada', number: 2, start: MONDAY + 100 * MINUTE, ms: 3 * MINUTE, events: 2 },
        entry: 'a',
        exit: 'x',
        open: false,
      },
    ])
    expect(
      listed([
        { kind: 'session', single: true },
        { kind: 'session', entry: 'x' },
      ]).map(({ person }) => person),
    ).toEqual(['bea'])
  })

  test('a list longer than one step is put in order as a plain sort does', () => {
    const many = 20_011
    const list = Float64Array.from({ length: many * LISTED.length }, (_, i) => {
      const [session, field] = [Math.floor(i / LISTED.length), LISTED[i % LISTED.length]]
      if (field === 'person') return Math.floor(session / 3) + 1
      return field === 'ms' ? (session * 7919) % 500 : field === 'start' ? (session * 104_729) % 10_007 : 0
    })
    expect(peopleOfSessions(list)).toBe(Math.ceil(many / 3))
    const told = (of: Float64Array) => {
      const field = (row: number, name: (typeof LISTED)[number]) => of[row * LISTED.length + LISTED.indexOf(name)]
      return Array.from({ length: many }, (_, row) => [field(row, 'ms'), field(row, 'start'), field(row, 'person')])
    }
    const plain = told(list).sort((a, b) => b[0] - a[0] || b[1] - a[1] || a[2] - b[2])
    expect(told(atOnce(sortSessions(list, { by: 'length' })))).toEqual(plain)
  })

  test('ranges of length hold their upper end, and words for each', () => {
    expect(LENGTHS.map((ms) => lengthAt(ms))).toEqual(LENGTHS.map((_ms, i) => i))
    expect([lengthAt(1), lengthAt(10_001), lengthAt(60 * MINUTE + 1)]).toEqual([1, 2, LENGTHS.length])
    expect([0, 1, 4, LENGTHS.length].map((range) => lengthWords(range).replace(/\s/g, ' '))).toEqual([
      'no time at all',
      'up to 10 s',
      '1 m to 3 m',
      'over 1 h',
    ])
  })

  test('only sessions that hold an event, with all of their events', () => {
    const list = events({ ada: 'a@0 b@10 x@20 a@100', bea: 'x@0' })
    const result = ask(list, { holds: { event: { names: ['x'] } } })
    expect(result.all.total).toMatchObject({ sessions: 2, events: 4, ms: 20 * MINUTE })
    const none = { property: { of: 'event' as const, name: 'position in session' }, op: '=' as const, number: 1 }
    expect(ask(list, { holds: { event: { names: ['x'] }, where: none } }).all.total.sessions).toBe(1)
  })

  test('only the first session ever of each person', () => {
    const list = events({ ada: 'a@-5000 b@0', bea: 'a@0 b@100' })
    expect(ask(list, { first: true }).all.total).toMatchObject({ sessions: 1, people: 1 })
  })

  test('what they begin and end with, how long those are, and what mostly stands beside', () => {
    const { entries, exits } = ask(events({ ada: 'a@0 b@10 a@100 b@120', bea: 'a@0 c@30', cai: 'c@0' }))
    expect(entries).toEqual([
      { event: 'a', sessions: 3, averageMs: 20 * MINUTE, beside: { event: 'b', sessions: 2 } },
      { event: 'c', sessions: 1, averageMs: 0, beside: { event: null, sessions: 1 } },
    ])
    const open = ask(events({ ada: 'a@0 b@10', bea: 'a@100 b@101' }), {}, MONDAY + 110 * MINUTE)
    expect(open.entries).toMatchObject([{ event: 'a', sessions: 2, averageMs: 10 * MINUTE }])
    expect(exits.map(({ event, sessions }) => [event, sessions])).toEqual([
      ['b', 2],
      ['c', 2],
    ])
  })

  test('groups are read from the first event, and add up to all by what sessions begin with', () => {
    const list = events({ ada: 'a@0 b@10 b@100', bea: 'b@0 a@1' })
    const by = { of: 'event' as const, name: 'entry event' }
    const { groups, all } = ask(list, { breakdowns: [{ by, keep: 10 }] })
    expect(groups.map(({ key, total }) => [key, total.sessions])).toEqual([
      [{ value: 'b' }, 2],
      [{ value: 'a' }, 1],
    ])
    expect(groups.reduce((sum, { total }) => sum + total.ms, 0)).toBe(all.total.ms)
  })

  test('more hours than anybody can read are refused at their word', () => {
    const { question, faults } = parseQuestion({ ...base, every: 'year' })
    expect(faults[0].path).toEqual(['every'])
    expect(question.kind).toBe('sessions')
    expect(parseQuestion({ ...base, breakdowns: [1, 2, 3] }).faults.length).toBeGreaterThan(0)
  })
})

describe('as a slow reading of the definition', () => {
  const timelines = fc.array(
    fc.record({
      person: fc.constantFrom('p', 'q', 'r', 's'),
      event: fc.constantFrom('a', 'b', 'x'),
      time: fc.integer({ min: -30, max: 400 }).map((n) => MONDAY + n * 11 * MINUTE),
    }),
    { minLength: 1, maxLength: 40 },
  )
  const settings = fc.record(
    { holds: fc.constant<EventPick>({ event: { names: ['x'] } }), first: fc.constant(true as const) },
    { requiredKeys: [] },
  )
  const profiles = { p: { plan: 'old' }, q: { plan: 'new' }, r: { plan: 'new' }, s: {} }

  test('every measure, every day, in all settings; cut anywhere; and the people behind them', () => {
    fc.assert(
      fc.property(
        timelines,
        settings,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
        fc.constantFrom(NOW, MONDAY + 2 * DAY),
        (list, more, cuts, now) => {
          const seed = ['a', 'b', 'x'].map((event) => ({ person: 'seed', event, time: MONDAY - 90 * DAY }))
          const log = logOf([...list, ...seed], { profiles })
          const question: SessionsQuestion = {
            ...{ ...base, ...more },
            breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }],
          }
          const result = answer<SessionsResult>(log, question, { now })
          expect(answer(log, question, { now, cuts })).toEqual(result)
          const asked = referenceSessions([...list, ...seed], 30 * MINUTE, now).filter(
            ({ events: [first, ...rest], number }) =>
              first.time >= MONDAY &&
              first.time < MONDAY + 14 * DAY &&
              (!more.first || number === 1) &&
              (!more.holds || [first, ...rest].some(({ event }) => event === 'x')),
          )
          for (const measure of sessionMeasures) {
            expect(valueOf(result.all.total, measure)).toEqual(referenceValue(asked, measure))
            result.buckets.forEach(({ start, end }, at) => {
              const own = asked.filter(({ events: [first] }) => first.time >= start && first.time < end)
              expect(valueOf(result.all.values[at], measure)).toEqual(referenceValue(own, measure))
            })
          }
          for (const { key, total } of result.groups) {
            const plan = (key as { value: string | null }).value
            const own = asked.filter(({ person }) => ((profiles as never)[person]?.['plan'] ?? null) === plan)
            expect(total.sessions).toBe(own.length)
            expect(total.median).toEqual(referenceValue(own, 'median length'))
          }
          const people = (mark: Omit<SessionsMark, 'kind'>) =>
            peopleIn(log, question, [{ kind: 'session', ...mark }], { now })
          const of = (test: (session: (typeof asked)[number]) => boolean) =>
            [...new Set(asked.filter(test).map(({ person }) => person))].sort()
          expect(people({}).sort()).toEqual(of(() => true))
          expect(people({ single: true }).sort()).toEqual(of(({ events: all }) => all.length === 1))
          expect(people({ over: 20 }).sort()).toEqual(of((session) => lengthOf(session) > 20 * MINUTE))
          expect(people({ entry: 'a' }).sort()).toEqual(of(({ events: all }) => all[0].event === 'a'))
        },
      ),
      { numRuns: 100 },
    )
  })
})

describe('what it says', () => {
  /** Everybody comes once a day for two weeks; `minutes` of each says how long. */
  const days = (people: number, minutes: (person: number, day: number) => number, many = 14) =>
    Array.from({ length: people }, (_, p) =>
      Array.from({ length: many }, (_unused, day) => {
        const person = `p${p}`
        const time = MONDAY + day * DAY + p * MINUTE
        return [
          { person, event: 'a', time },
          { person, event: 'b', time: time + Math.round(minutes(p, day) * MINUTE) },
        ]
      }).flat(),
    ).flat()
  const tell = (list: TestEvent[], more: Partial<SessionsQuestion> = {}, profiles = {}, now = NOW) => {
    const question = { ...base, ...more }
    return said(
      sessionsFindings(answer<SessionsResult>(logOf(list, { profiles }), question, { now }), question, {
        thisYear: 2026,
      }),
    )
  }

  test('how long a typical session is, and how many end at once', () => {
    const { findings } = tell(days(40, () => 10))
    expect(findings[0]).toMatch(/^A typical session lasts 10 m, the average one 10 m/)
    expect(findings[1]).toMatch(/have one event only; .* last over 10 m\.$/)
    expect(findings.some((finding) => finding.includes('moved'))).toBe(false)
    expect(tell([{ person: 'x', event: 'a', time: MONDAY - DAY }]).findings[0]).toMatch(/^No session began/)
  })

  test('what was asked for is told first', () => {
    const list = days(40, () => 10)
    expect(tell(list, { measure: 'single' }).findings[0]).toMatch(/have one event only/)
    const ways = tell(list, { show: { form: 'ways' } }).findings
    expect(ways[0]).toMatch(/^The commonest beginning is .* of sessions\), the commonest end .*%\)\.$/)
    expect(ways[1]).toMatch(/^A typical session lasts/)
  })

  test('what moved is told beside a comparison and a target', () => {
    const list = days(40, (_p, day) => (day < 7 ? 10 : 20))
    const { findings } = tell(list, { compare: { to: 'before' }, target: 15 })
    expect(findings.join(' ')).toMatch(/Median length moved: from 10 m/)
    expect(findings.join(' ')).toMatch(/The target of 15 minutes was reached in 7 of 14 whole days/)
  })

  test('a rhythm of the week, by days', () => {
    const weeks = { range: { from: '2026-01-05', to: '2026-02-08' } }
    const now = MONDAY + 36 * DAY
    const busy = days(20, (_p, day) => (day % 7 === 5 ? 30 : 10 + (day % 3)), 35)
    const { findings } = tell(busy, weeks, {}, now)
    expect(findings.join(' ')).toMatch(/The week has a rhythm: Saturdays are highest with 30 m on average/)
    const even = days(20, (_p, day) => 10 + (day % 3), 35)
    expect(tell(even, weeks, {}, now).findings.join(' ')).not.toMatch(/rhythm/)
  })

  test('a level that changed and stayed, and the group that stays longest', () => {
    const { findings } = tell(days(40, (_p, day) => (day < 7 ? 10 : 20)))
    expect(findings.join(' ')).toMatch(/Median length moved: from 10 m in a day to 20 m in the last 7 whole days/)
    const profiles = Object.fromEntries(
      Array.from({ length: 80 }, (_, p) => [`p${p}`, { plan: p < 40 ? 'long' : 'short' }]),
    )
    const by = [{ by: { of: 'person' as const, name: 'plan' }, keep: 10 }]
    const grouped = tell(
      days(80, (p) => (p < 40 ? 20 : 10) + (p % 7)),
      { breakdowns: by },
      profiles,
    )
    expect(grouped.findings.join(' ')).toMatch(
      /(long: sessions of .* longer|short: sessions of .* shorter) than those of the others/,
    )
    // Two people who come for an hour each day make no group of many that stays longer.
    const few = tell(
      days(80, (p) => (p < 2 ? 60 : 10) + (p % 7)),
      { breakdowns: by },
      profiles,
    )
    expect(few.findings.join(' ')).not.toContain('of the others')
  })
})

test('sessions are cut as the workspace says', () => {
  const log = logOf(events({ ada: 'a@0 b@10 c@25' }))
  const cut = (timeoutMs: number) =>
    answer<SessionsResult>(log, base, { now: NOW, calendar: { ...UTC, sessions: { timeoutMs } } }).all.total.sessions
  expect([cut(9 * MINUTE), cut(10 * MINUTE), cut(15 * MINUTE)]).toEqual([3, 2, 1])
})
