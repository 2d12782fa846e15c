import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { answer, eventLog, logOf, madeBase, MONDAY, UTC, type TestEvent } from '../../tests/eventLog.js'
import type { TrendResult } from '../analyses/trend/finish.js'
import { makeReady, MadeCache } from '../made/columns.js'
import { NOTHING_MENDED } from '../made/definitions.js'
import { atOnce } from '../steps.js'
import type { Calendar } from '../time/range.js'
import { cutter, planCuts, timeoutAfter } from './cuts.js'
import { bindPart, sessionFinder } from './parts.js'
import { sessionProperties, type SessionPart } from './properties.js'
import type { SessionCuts } from './settings.js'

const MINUTE = 60_000
const NOW = MONDAY + 60 * 24 * 60 * MINUTE

/** The sessions of one person's events as lists of their names, each name a letter. */
function sessionsOf(events: TestEvent[], cuts?: SessionCuts, now = NOW): string[] {
  const { log, schema } = logOf(events)
  const find = sessionFinder(log, planCuts(cuts, schema), now)
  const found = new Map<number, string>()
  for (let row = 0; row < log.time.length; row++) {
    const session = find(row)
    if (session) found.set(session.start, (found.get(session.start) ?? '') + schema.types[log.type[row]].name)
  }
  return [...found.values()]
}
const at = (event: string, minutes: number, more: object = {}): TestEvent => ({
  ...{ person: 'ada', event, time: MONDAY + minutes * MINUTE },
  ...more,
})
const minutes = (all: number, more: Partial<SessionCuts> = {}): SessionCuts => ({ timeoutMs: all * MINUTE, ...more })

describe('where sessions are cut', () => {
  test('a gap of the time-out goes on, a millisecond more does not', () => {
    expect(sessionsOf([at('a', 0), at('b', 30)])).toEqual(['ab'])
    expect(sessionsOf([at('a', 0), { ...at('b', 30), time: MONDAY + 30 * MINUTE + 1 }])).toEqual(['a', 'b'])
    expect(sessionsOf([at('a', 0), at('b', 30)], minutes(29))).toEqual(['a', 'b'])
  })

  test('over midnight and both changes of the clock only the gap counts', () => {
    // Midnight of Tuesday, and 1:59 to 3:01 by the clocks of Lisbon, two minutes later.
    expect(sessionsOf([at('a', 1439), at('b', 1441)])).toEqual(['ab'])
    for (const change of ['2025-03-30T01:00:00Z', '2025-10-26T01:00:00Z']) {
      const ms = Date.parse(change)
      const events = [-1, 1, 32].map((minute, i) => ({ ...at('abc'[i], 0), time: ms + minute * MINUTE }))
      expect(sessionsOf(events)).toEqual(['ab', 'c'])
    }
  })

  test('each source has its own time-out, which counts after its events; no source is one too', () => {
    const cuts = minutes(30, {
      bySource: [
        { source: 'app', timeoutMs: 5 * MINUTE },
        { source: null, timeoutMs: MINUTE },
      ],
    })
    const app = { source: 'app' }
    expect(sessionsOf([at('a', 0, app), at('b', 5, app), at('c', 11, app)], cuts)).toEqual(['ab', 'c'])
    expect(sessionsOf([at('a', 0, { source: 'web' }), at('b', 20, app), at('c', 26)], cuts)).toEqual(['ab', 'c'])
    expect(sessionsOf([at('a', 0), at('b', 2, app)], cuts)).toEqual(['a', 'b'])
  })

  test('a start event begins one inside a gap, an end event ends one, another source where that is set', () => {
    const events = [at('a', 0), at('s', 1), at('b', 2), at('e', 3), at('c', 4)]
    expect(sessionsOf(events, minutes(30, { starts: ['s'], ends: ['e'] }))).toEqual(['a', 'sbe', 'c'])
    expect(sessionsOf([at('s', 0), at('s', 1)], minutes(30, { starts: ['s'] }))).toEqual(['s', 's'])
    expect(sessionsOf(events, minutes(30, { starts: ['never came'] }))).toEqual(['asbec'])
    const sources = [at('a', 0), at('b', 1, { source: 'app' }), at('c', 2, { source: 'app' })]
    expect(sessionsOf(sources)).toEqual(['abc'])
    expect(sessionsOf(sources, minutes(30, { onSource: true }))).toEqual(['a', 'bc'])
  })

  test('nothing later than now is seen, and after an end event nothing more belongs to it', () => {
    expect(sessionsOf([at('a', 0), at('b', 10)], undefined, MONDAY + 5 * MINUTE)).toEqual(['a'])
    const { log, schema } = logOf([at('a', 0), at('e', 1)])
    const left = timeoutAfter(log, planCuts(minutes(7, { ends: ['e'] }), schema))
    expect([left(0), left(1)]).toEqual([7 * MINUTE, -1])
  })
})

describe('where an event stands in its session', () => {
  const { log, schema } = logOf([
    at('a', 0),
    at('b', 10),
    at('c', 12),
    at('a', 60),
    at('b', 200),
    at('a', 201),
    { ...at('c', 500), person: 'bea' },
  ])
  const read = (part: SessionPart) => {
    const value = bindPart(part, log, schema, planCuts(undefined, schema), NOW)
    return Array.from(log.time, (_, row) => value(row))
  }
  test.each<[SessionPart, unknown[]]>([
    ['position', [1, 2, 3, 1, 1, 2, 1]],
    ['from the end', [3, 2, 1, 1, 2, 1, 1]],
    ['minutes since start', [0, 10, 12, 0, 0, 1, 0]],
    ['number', [1, 1, 1, 2, 3, 3, 1]],
    ['entry', ['a', 'a', 'a', 'a', 'b', 'b', 'c']],
    ['exit', ['c', 'c', 'c', 'a', 'a', 'a', 'c']],
    ['before', [null, 'a', 'b', null, null, 'b', null]],
    ['after', ['b', 'c', null, null, 'a', null, null]],
    ['minutes', [12, 12, 12, 0, 1, 1, 0]],
    ['events', [3, 3, 3, 1, 2, 2, 1]],
    ['only', [false, false, false, true, false, false, true]],
  ])('%s', (part, expected) => expect(read(part)).toEqual(expected))

  test('rows read in any order are told the same', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(log.time.length - 1), { maxLength: 20 }), (rows) => {
        for (const part of ['position', 'number', 'exit'] as const) {
          const value = bindPart(part, log, schema, planCuts(undefined, schema), NOW)
          const all = read(part)
          for (const row of rows) expect(value(row)).toBe(all[row])
        }
      }),
    )
  })
})

describe('as a slow reading of the definition', () => {
  const timelines = fc.array(
    fc.record({
      person: fc.constantFrom('p', 'q'),
      event: fc.constantFrom('a', 'b', 's', 'e'),
      time: fc.integer({ min: 0, max: 40 }).map((n) => MONDAY + n * 7 * MINUTE),
      source: fc.constantFrom('app', 'web', undefined),
    }),
    { minLength: 1, maxLength: 25 },
  )
  const settings = fc.record(
    {
      timeoutMs: fc.constantFrom(7 * MINUTE, 13 * MINUTE, 21 * MINUTE),
      bySource: fc.constant([{ source: 'web', timeoutMs: 28 * MINUTE }]),
      starts: fc.constant(['s']),
      ends: fc.constant(['e']),
      onSource: fc.constant(true as const),
    },
    { requiredKeys: ['timeoutMs'] },
  )

  test('in all settings: the cuts, and positions in the order of events', () => {
    fc.assert(
      fc.property(timelines, settings, (events, cuts) => {
        const { log, schema } = logOf(events as TestEvent[])
        const plan = planCuts(cuts as SessionCuts, schema)
        const begins = cutter(log, plan)
        const position = bindPart('position', log, schema, plan, NOW)
        const number = bindPart('number', log, schema, plan, NOW)
        const nameOf = (row: number) => schema.types[log.type[row]].name
        const sourceOf = (row: number) => schema.sources.values[log.source[row]]
        for (let index = 0; index < log.people; index++) {
          const [first, end] = [log.offsets[index], log.offsets[index + 1]]
          let [place, count] = [0, 0]
          for (let row = first; row < end; row++) {
            const before = row - 1
            const timeout = sourceOf(before) === 'web' && cuts.bySource ? 28 * MINUTE : cuts.timeoutMs
            const cut =
              row === first ||
              log.time[row] - log.time[before] > timeout ||
              (cuts.starts !== undefined && nameOf(row) === 's') ||
              (cuts.ends !== undefined && nameOf(before) === 'e') ||
              (cuts.onSource === true && sourceOf(row) !== sourceOf(before))
            if (row > first) expect(begins(row)).toBe(cut)
            if (cut) count++
            place = cut ? 1 : place + 1
            expect([position(row), number(row)]).toEqual([place, count])
          }
        }
      }),
    )
  })
})

describe('used as any other property', () => {
  const log = eventLog({ ada: 'a@0d b@5m c@6m a@1d b@1d+1m', bea: 'b@0d a@1m' })
  const ask = (where: object, calendar: Calendar = UTC) =>
    answer<TrendResult>(
      log,
      {
        kind: 'trend',
        series: [{ event: { names: ['a', 'b'] }, measure: 'events', where: where as never }],
        every: 'week',
        range: { from: '2026-01-05', to: '2026-01-18' },
        show: { form: 'lines', as: 'number' },
      },
      { now: NOW, calendar },
    ).lines[0].all.values.reduce<number>((sum, n) => sum + (n ?? 0), 0)
  const property = (name: string) => ({ of: 'event' as const, name })

  test('in filters, whatever event it is asked of', () => {
    expect(ask({ property: property('position in session'), op: '≤', number: 1 })).toBe(3)
    expect(ask({ property: property('entry event'), op: 'is', values: ['b'] })).toBe(2)
    expect(ask({ property: property('only event of its session'), op: 'is true' })).toBe(0)
  })

  test('as the workspace cuts sessions now', () => {
    const second = { property: property('session number'), op: '=', number: 2 }
    expect(ask(second)).toBe(2)
    // With a time-out of a minute b of five minutes later begins another one.
    expect(ask(second, { ...UTC, sessions: { timeoutMs: MINUTE } })).toBe(1)
  })

  test('what events count as is part of what a column was made with', () => {
    const merging = eventLog({ ada: 'a@0d b@1m' })
    const [base, cache] = [madeBase(merging), new MadeCache()]
    const asked = [{ property: property('entry event') }, { event: { activity: true } }]
    const made = () => atOnce(makeReady(asked, base, cache)).length
    expect([made(), made()]).toEqual([2, 0])
    merging.schema.mend({ ...NOTHING_MENDED, mergedEvents: { a: 'b' } })
    expect(made()).toBe(2)
  })

  test('a property of the data that goes by the same name is read instead', () => {
    const own = logOf([{ ...at('a', 0), properties: { 'session number': 42 } }])
    const { lines } = answer<TrendResult>(own, {
      kind: 'trend',
      series: [
        {
          event: { names: ['a'] },
          measure: 'events',
          where: { property: property('session number'), op: '=', number: 42 },
        },
      ],
      every: 'week',
      range: { from: '2026-01-05', to: '2026-01-11' },
      show: { form: 'lines', as: 'number' },
    })
    expect(lines[0].all.values).toEqual([1])
  })

  test('all have names of their own', () => {
    expect(new Set(sessionProperties.map(({ name }) => name)).size).toBe(sessionProperties.length)
  })
})
