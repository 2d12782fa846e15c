import { asQuestion } from '../core/analyses/asQuestion.js'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { PathsResult } from '../core/analyses/paths/finish.js'
import type { EffectResult } from '../core/analyses/effect/finish.js'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { Question, Result } from '../core/analyses/registry.js'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { EventChoice, Filter } from '../core/questions/parts.js'
import type { Dowser } from '../server/index.js'
import { newFolder, openReady } from '../tests/workspace.js'
import { DEFAULTS, generate } from './generate.js'
import { makeDemo } from './make.js'

/** The effects planted in the demo can be found in it by asking, as an analyst would. */
const folder = newFolder()
let dowser: Dowser
beforeAll(async () => {
  makeDemo(folder.dir)
  dowser = await openReady(folder.dir)
})
afterAll(async () => {
  await dowser.close()
  folder.remove()
})

async function ask<R extends Result>(question: Question): Promise<R> {
  const { result, faults } = await dowser.run(question)
  expect(faults).toEqual([])
  return result as R
}
const show = { form: 'lines', as: 'number' } as const
const did = (name: string): { event: EventChoice } => ({ event: { names: [name] } })
const plan = (value: string): Filter => ({ property: { of: 'person', name: 'plan' }, op: 'is', values: [value] })
const mean = (values: readonly (number | null)[]) =>
  values.reduce<number>((sum, x) => sum + (x ?? 0), 0) / values.length

test('the same seed gives the same events, and more people do not change those already there', () => {
  const [few] = generate({ ...DEFAULTS, people: 50 })
  const [more] = generate({ ...DEFAULTS, people: 80 })
  const of50 = more.events.filter(({ id }) => Number(id.slice(6, 11)) <= 50)
  expect(few.events).toEqual(of50)
  expect(few.events.length).toBeGreaterThan(500)
})

test('the workspace has about half a million events of about 14,000 people, every type described but the two that nobody planned', async () => {
  const { events, people } = await dowser.status()
  expect(events).toBeGreaterThan(430_000)
  expect(events).toBeLessThan(570_000)
  expect(people).toBeGreaterThan(13_000)
  const catalog = await dowser.catalog()
  expect(catalog.events).toHaveLength(31)
  expect(catalog.events.filter(({ description }) => !description).map(({ name }) => name)).toEqual([
    'qr_debug',
    'ride_done_old',
  ])
})

test('every study it ships with has an answer', async () => {
  for (const { question, name } of dowser.studies.list())
    expect([name, (await dowser.run(question)).faults]).toEqual([name, []])
})

describe('planted truths', () => {
  test('1: commuters ride on weekdays, leisure riders on weekends, visitors in summer', async () => {
    const rides = (kind: string, range: { from: string; to: string }, every: 'day' | 'month') =>
      ask<TrendResult>({
        kind: 'trend',
        series: [
          {
            ...did('Ride completed'),
            where: { property: { of: 'person', name: 'rider_kind' }, op: 'is', values: [kind] },
            measure: 'events',
          },
        ],
        every,
        range,
        show,
      })
    const june = { from: '2026-06-01', to: '2026-06-28' }
    const byDay = async (kind: string) => {
      const { values } = (await rides(kind, june, 'day')).lines[0].all
      const weekend = values.filter((_, i) => i % 7 >= 5)
      return mean(weekend) / mean(values.filter((_, i) => i % 7 < 5))
    }
    expect(await byDay('commuter')).toBeLessThan(0.4)
    expect(await byDay('leisure')).toBeGreaterThan(2)
    const { values } = (await rides('visitor', { from: '2026-02-01', to: '2026-10-31' }, 'month')).lines[0].all
    expect(Math.max(...values.map(Number))).toBe(Math.max(Number(values[4]), Number(values[5]), Number(values[6])))
  })

  test('2: from 8 October about a third fewer Day-pass riders, and some of them buy a Monthly', async () => {
    const weekly = await ask<TrendResult>({
      kind: 'trend',
      series: [{ ...did('Ride completed'), where: plan('Day pass'), measure: 'people' }],
      every: 'week',
      range: { from: '2026-09-14', to: '2026-11-15' },
      show,
    })
    const { values } = weekly.lines[0].all
    const fall = 1 - mean(values.slice(4, 9)) / mean(values.slice(0, 3))
    expect(fall).toBeGreaterThan(0.25)
    expect(fall).toBeLessThan(0.5)
    const moved = await ask<FunnelResult>({
      kind: 'funnel',
      steps: [
        { ...did('Pass bought'), where: { property: { of: 'event', name: 'plan' }, op: 'is', values: ['Day pass'] } },
        { ...did('Pass bought'), where: { property: { of: 'event', name: 'plan' }, op: 'is', values: ['Monthly'] } },
      ],
      window: { count: 60, unit: 'day' },
      range: { from: '2026-09-01', to: '2026-10-07' },
    })
    expect(moved.all.steps[1].people).toBeGreaterThan(9)
  })

  test('3: with 5.3.0 the card form refuses most cards, on Android only, until 19 October', async () => {
    const refused = await ask<TrendResult>({
      kind: 'trend',
      series: [
        {
          ...did('Card refused'),
          where: { property: { of: 'event', name: 'reason' }, op: 'is', values: ['form error'] },
          measure: 'people',
        },
      ],
      every: 'week',
      range: { from: '2026-08-31', to: '2026-11-01' },
      breakdowns: [{ by: { of: 'event', name: 'app_version' }, keep: 10 }],
      show,
    })
    expect(refused.lines[0].groups.map(({ key }) => key)).toEqual([{ value: '5.3.0' }])
    expect(refused.lines[0].all.values.map((n) => n! > 0)).toEqual([
      false,
      false,
      false,
      true,
      true,
      true,
      true,
      false,
      false,
    ])
    const funnel = (range: { from: string; to: string }) =>
      ask<FunnelResult>({
        kind: 'funnel',
        steps: [did('App opened'), did('Dock chosen'), did('Card added')],
        window: { count: 7, unit: 'day' },
        range,
        breakdowns: [{ by: { of: 'person', name: 'platform' }, keep: 5 }],
        among: {
          study: asQuestion({
            ...{ kind: 'trend', range },
            ...{ series: [{ ...did('Signed up'), measure: 'people' }], every: 'day', show },
          }),
          marks: [{ kind: 'point' }],
        },
      })
    const rate = (result: FunnelResult, platform: string) =>
      result.groups.find(({ key }) => key && 'value' in key && key.value === platform)!.steps[2].ofPrevious!
    const broken = await funnel({ from: '2026-09-21', to: '2026-10-18' })
    const before = await funnel({ from: '2026-08-24', to: '2026-09-20' })
    expect(rate(broken, 'Android')).toBeLessThan(0.5 * rate(before, 'Android'))
    expect(rate(broken, 'iOS')).toBeGreaterThan(0.8 * rate(before, 'iOS'))
  })

  test('the detour over the help pages: one in eight on the way from the tariffs to an account, three times as long', async () => {
    const { question } = dowser.studies.get('tariffs-to-account')
    const { all, detours, ways } = await ask<PathsResult>(question)
    const help = detours!.over.find(({ node }) => node.value === '/help')!
    expect(help.count / all.reached!).toBeGreaterThan(0.09)
    expect(help.count / all.reached!).toBeLessThan(0.15)
    expect(help.median / help.othersMedian).toBeGreaterThan(2.4)
    expect(help.median / help.othersMedian).toBeLessThan(3.6)
    expect(help.p).toBeLessThan(0.001)
    expect(ways[0].nodes.map(({ event, value }) => value ?? event)).toEqual(['/sign-up', 'Signed up'])
  })

  test('4: who completes three or more rides in the first week is back in week 4 about three times as often', () => {
    // Asked of the events themselves until there is a kind of study for it.
    const rides = new Map<string, number[]>()
    for (const { events } of generate(DEFAULTS))
      for (const { person, event, time } of events)
        if (person && event === 'Ride completed') rides.set(person, [...(rides.get(person) ?? []), time])
    const WEEK = 7 * 86_400_000
    const back = { many: [0, 0], few: [0, 0] }
    for (const times of rides.values()) {
      if (times[0] > Date.UTC(2026, 9, 10)) continue
      const early = times.filter((time) => time < times[0] + WEEK).length
      const group = early >= 3 ? back.many : back.few
      group[1]++
      if (times.some((time) => time >= times[0] + 4 * WEEK && time < times[0] + 5 * WEEK)) group[0]++
    }
    const ratio = back.many[0] / back.many[1] / (back.few[0] / back.few[1])
    expect(ratio).toBeGreaterThan(2.4)
    expect(ratio).toBeLessThan(4)
  })

  test('5: college students convert about 1.6 times as often as everyone', async () => {
    const { all, groups } = await ask<FunnelResult>({
      kind: 'funnel',
      steps: [did('Signed up'), did('Ride completed')],
      window: { count: 14, unit: 'day' },
      range: { from: '2026-01-02', to: '2026-10-31' },
      breakdowns: [{ by: { of: 'person', name: 'rider_kind' }, keep: 10 }],
    })
    const students = groups.find(({ key }) => key && 'value' in key && key.value === 'student')!
    const ratio = students.steps[1].ofStart! / all.steps[1].ofStart!
    expect(ratio).toBeGreaterThan(1.4)
    expect(ratio).toBeLessThan(1.8)
  })

  test('a message of which one variant brings five points, and the other nothing', async () => {
    const { effects } = await ask<EffectResult>({
      ...{ kind: 'effect', message: 'First ride', variants: ['A bike waits', 'How it works'] },
      ...{ goal: did('Ride completed'), within: { count: 7, unit: 'day' }, range: { from: '2026-03-01' } },
      show: { form: 'effect' },
    })
    const [bike, how] = effects.map((effect) => effect!)
    expect(bike.interval!.low).toBeLessThan(0.05)
    expect(bike.interval!.high).toBeGreaterThan(0.05)
    expect(bike.p).toBeLessThan(0.05)
    expect(how.interval!.low).toBeLessThan(0)
    expect(how.p).toBeGreaterThan(0.05)
  })
})
