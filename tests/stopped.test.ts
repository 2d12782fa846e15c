import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { readingOf } from '../app/study/reading.server.js'
import type { GrowthQuestion } from '../core/analyses/growth/question.js'
import type { Question, Result } from '../core/analyses/registry.js'
import { beforeItStopped, stoppedIn, type Listener } from '../core/analyses/stopped.js'
import type { TrendQuestion } from '../core/analyses/trend/question.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { arrivalsOf, arrivedBetween } from '../core/log/arrivals.js'
import { Random } from '../demo/random.js'
import type { Dowser } from '../server/index.js'
import { openLoader } from '../server/loader.js'
import { days, logOf, MONDAY, UTC, type TestEvent, type TestLog } from './eventLog.js'
import { newFolder, openReady } from './workspace.js'

const trend = (more: object = {}) =>
  ({
    ...{ kind: 'trend', series: [{ event: { names: ['ride'] }, measure: 'people' }], every: 'day' },
    ...{ range: { last: 28, unit: 'day' }, show: { form: 'lines', as: 'number' }, ...more },
  }) as TrendQuestion

/** Listens to a test's log as of a moment. */
function listener({ log, schema }: TestLog, now: number): Listener {
  const types = (event: string | null) =>
    event === null ? schema.types.map((_type, code) => code) : (schema.typesNamed(event) ?? [])
  return {
    since: (event, ms) => arrivedBetween([log], types(event), ms, now),
    lately: (event) => arrivalsOf([log], types(event), now),
  }
}
const stopped = (test: TestLog, now: number, question: Question = trend()) =>
  stoppedIn(question, now, UTC, listener(test, now))

/** One event of each kind every six hours, from Monday up to a day. */
const every6h = (event: string, until: number): TestEvent[] =>
  Array.from({ length: until * 4 }, (_, i) => ({ person: `p${i % 9}`, event, time: MONDAY + i * 6 * 3_600_000 }))

describe('what has stopped to arrive', () => {
  const log = logOf([...every6h('ride', 20), ...every6h('open', 20)])
  const last = MONDAY + days(20) - 6 * 3_600_000

  test('is told once a whole bucket went by without anything', () => {
    expect(stopped(log, MONDAY + days(28))).toEqual({ sinceMs: last, event: null })
    expect(stopped(log, MONDAY + days(21))).toEqual({ sinceMs: last, event: null })
    expect(stopped(log, MONDAY + days(21) - 1)).toBeNull()
    expect(stopped(log, last)).toBeNull()
  })

  test('in the question’s own buckets: eight days are no whole week, by hour it is told after the longest usual pause', () => {
    const now = MONDAY + days(27) - 1
    expect(stopped(log, now, trend({ every: 'week', range: { last: 4, unit: 'week' } }))).toBeNull()
    expect(stopped(log, MONDAY + days(28), trend({ every: 'week' }))).not.toBeNull()
    const hourly = trend({ every: 'hour', range: { last: 48, unit: 'hour' } })
    expect(stopped(log, last + 6 * 3_600_000, hourly)).toBeNull()
    expect(stopped(log, last + 8 * 3_600_000, hourly)).not.toBeNull()
    const growth = { kind: 'growth', start: { event: { names: ['ride'] } }, interval: { unit: 'week' } }
    const range = { last: 8, unit: 'week' }
    expect(stopped(log, MONDAY + days(28), { ...growth, range } as GrowthQuestion)).not.toBeNull()
  })

  test('is not told of a time that was over before', () => {
    expect(stopped(log, MONDAY + days(40), trend({ range: { from: '2026-01-05', to: '2026-01-24' } }))).toBeNull()
    expect(stopped(log, MONDAY + days(40), trend({ range: { from: '2026-01-05', to: '2026-01-31' } }))).not.toBeNull()
  })

  test('of one event while others go on, where it came often enough before', () => {
    const one = logOf([...every6h('ride', 20), ...every6h('open', 28)])
    expect(stopped(one, MONDAY + days(28))).toEqual({ sinceMs: last, event: 'ride' })
    expect(
      stopped(one, MONDAY + days(28), trend({ series: [{ event: { names: ['open'] }, measure: 'people' }] })),
    ).toBeNull()
    // An event in five days, and then none for eight: that happens.
    const seldom = logOf([
      ...[0, 5, 10, 15, 20].map((day) => ({ person: 'p', event: 'ride', time: MONDAY + days(day) })),
      ...every6h('open', 28),
    ])
    expect(stopped(seldom, MONDAY + days(28))).toBeNull()
  })

  test('is hardly ever told of events that go on at random', () => {
    const random = new Random(7)
    let told = 0
    for (let run = 0; run < 400; run++) {
      const perDay = random.pick([0.2, 0.5, 1, 3, 10])
      const rides: TestEvent[] = []
      for (let at = 0; at < 60;) {
        at += -Math.log(1 - random.next()) / perDay
        if (at < 60) rides.push({ person: `p${rides.length % 7}`, event: 'ride', time: MONDAY + days(at) })
      }
      const known = { person: 'z', event: 'ride', time: MONDAY }
      if (stopped(logOf([known, ...rides, ...every6h('open', 60)]), MONDAY + days(60))) told++
    }
    expect(told).toBeLessThanOrEqual(4)
  })

  test('the same question is asked of the time before, bucket by bucket', () => {
    const now = MONDAY + days(28) + 5
    expect(beforeItStopped(trend(), last, now, UTC)!.range).toEqual({ last: 19, unit: 'day' })
    expect(beforeItStopped(trend({ range: { last: 5, unit: 'week' } }), last, now, UTC)!.range).toEqual({
      last: 3,
      unit: 'week',
    })
    expect(beforeItStopped(trend({ range: { last: 7, unit: 'day' } }), last, now, UTC)).toBeNull()
    const dates = trend({ range: { from: '2026-01-10', to: '2026-01-31' }, compare: { to: 'previous' } })
    expect(beforeItStopped(dates, last, now, UTC)).toMatchObject({ range: { from: '2026-01-10', to: '2026-01-24' } })
    expect(beforeItStopped(dates, last, now, UTC)).not.toHaveProperty('compare')
  })
})

describe('a study of what has stopped', () => {
  const folder = newFolder()
  let dowser: Dowser
  beforeAll(async () => {
    const loader = openLoader(folder.dir, MONDAY)
    loader.settings.set({ name: 'Test', zone: 'UTC' })
    loader.sendEvents(every6h('ride', 100), Date.now())
    loader.close()
    dowser = await openReady(folder.dir)
  })
  afterAll(async () => {
    await dowser.close()
    folder.remove()
  })

  test.each([
    trend({ range: { from: '2026-03-01' } }),
    trend({ range: { from: '2026-03-01' }, compare: { to: 'previous' } }),
    {
      ...{ kind: 'retention', start: { event: { names: ['ride'] } }, every: 'week', first: 'ever' },
      ...{ range: { from: '2026-01-05' }, show: { form: 'curve' } },
    },
    {
      ...{ kind: 'growth', start: { event: { names: ['ride'] } }, interval: { unit: 'week' } },
      ...{ range: { from: '2026-03-02' }, show: { form: 'states' } },
    },
  ] as Question[])('says so first of all, and nothing of silent time ($kind)', async (question) => {
    const reply = await dowser.run(question)
    expect(reply.faults).toEqual([])
    const words = { thisYear: 2026, zone: 'UTC' }
    const { findings, stopped } = readingOf(question, reply.result as Result, reply, words)
    const said = findings.map((pieces) => pieces.map(({ text }) => text).join(''))
    expect(said[0]).toBe('Nothing has arrived since 14 Apr 18:00. What follows is about the time before.')
    expect(stopped).toEqual({ sinceMs: MONDAY + days(100) - 6 * 3_600_000, event: null })
    expect(said.slice(1).join(' ')).not.toMatch(/100 % less|0 people|still falls|more people lapse/)
    // The figures themselves stay what they are.
    if (question.kind === 'trend') expect((reply.result as TrendResult).lines[0].all.values.at(-1)).toBe(0)
  })
})
