import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { tableOf } from '../app/study/lead.server.js'
import type { GapsResult } from '../core/analyses/gaps/finish.js'
import type { GrowthQuestion } from '../core/analyses/growth/question.js'
import type { GrowthResult } from '../core/analyses/growth/finish.js'
import type { HabitQuestion } from '../core/analyses/habit/question.js'
import type { HabitResult } from '../core/analyses/habit/finish.js'
import type { Question, Mark } from '../core/analyses/registry.js'
import type { RetentionQuestion } from '../core/analyses/retention/question.js'
import type { RetentionResult } from '../core/analyses/retention/finish.js'
import type { Dowser } from '../server/index.js'
import { fill, newFolder, openReady, until } from './workspace.js'

/**
 * Coming back, through the server's doors and threads, worked out by hand. Weeks begin on Monday; the newest event is of
 * Sunday noon, 4 October 2026, so that the week of 28 September is not over.
 */
const folder = newFolder()
let dowser: Dowser
let sent = 0
const FORM = { lines: true, gzip: false, limit: 1_000_000 }
const at = (moment: string) => Date.parse(`2026-${moment}:00Z`)
const did = (person: string, event: string, ...moments: string[]) =>
  moments.map((moment) => ({ id: `e${sent++}`, person, event, time: at(moment), properties: { fare: 2 } }))

beforeAll(async () => {
  fill(folder.dir, [
    ...did('ada', 'Join', '09-07T09:00'),
    ...did('ada', 'Ride', '09-08T08:00', '09-10T08:00', '09-15T08:00', '09-22T08:00'),
    ...did('bea', 'Join', '09-09T10:00'),
    // Half an hour before she joined, and an hour after: only what comes later is a return.
    ...did('bea', 'Ride', '09-09T09:30', '09-09T11:00', '09-23T08:00'),
    // Two minutes between two weeks.
    ...did('cai', 'Join', '09-13T23:59'),
    ...did('cai', 'Ride', '09-14T00:01'),
    ...did('dot', 'Join', '09-15T12:00'),
    // Eve joined before anybody knew who she was.
    { id: 'd1', anonymous: 'device-1', event: 'Join', time: at('09-16T12:00'), properties: {} },
    { id: 'd2', person: 'eve', anonymous: 'device-1', event: 'Ride', time: at('09-30T08:00'), properties: { fare: 5 } },
    ...did('zed', 'Look', '10-04T12:00'),
  ])
  dowser = await openReady(folder.dir)
})
afterAll(async () => {
  await dowser.close()
  folder.remove()
})

const ride = { event: { names: ['Ride'] } }
const range = { from: '2026-09-07', to: '2026-09-27' }
const retention: RetentionQuestion = {
  ...{ kind: 'retention', start: { event: { names: ['Join'] } }, back: ride, every: 'week', range, upTo: 2 },
  show: { form: 'cohorts' },
}
const habit: HabitQuestion = { kind: 'habit', start: ride, period: 'week', range, show: { form: 'at least' } }
const growth: GrowthQuestion = {
  ...{ kind: 'growth', start: ride, interval: { unit: 'week' }, range, show: { form: 'states' } },
}

async function ask<R>(question: Question): Promise<R> {
  const reply = await dowser.run(question)
  expect(reply.faults).toEqual([])
  return reply.result as R
}
async function names(study: Question, ...marks: Mark[]): Promise<string[]> {
  const reply = await dowser.people({ study, marks }, { offset: 0, limit: 100 })
  if ('faults' in reply) throw new Error(JSON.stringify(reply.faults))
  expect(reply.people).toHaveLength(reply.count)
  return reply.people.map(({ id }) => id).sort()
}

describe('retention', () => {
  test('cohort by cohort, and all together over what is over', async () => {
    const { all, cohorts, periods } = await ask<RetentionResult>(retention)
    expect(cohorts.map(({ key }) => key)).toEqual(['2026-09-07', '2026-09-14', '2026-09-21'])
    expect(periods.map(([k]) => k)).toEqual([0, 1, 2])
    expect(all.started).toEqual([3, 2, 0])
    expect(all.cells.slice(0, 2).map((cells) => cells.map(({ returned }) => returned))).toEqual([
      [2, 2, 2],
      [0, 0, 1],
    ])
    // Week 2 of those of 14 September is the week that is not over: it does not count in the line.
    expect(all.cells[1]!.map(({ state }) => state)).toEqual(['complete', 'complete', 'open'])
    expect(all.line.map(({ value, people }) => [value, people])).toEqual([
      [2 / 5, 5],
      [2 / 5, 5],
      [2 / 3, 3],
    ])
  })

  test('who came back, who did not, and for whom that is settled', async () => {
    const cohort = (key: string, period: number, what: 'returned' | 'not' | 'gone'): Mark => ({
      ...{ kind: 'cohort', cohort: key, period, what },
    })
    expect(await names(retention, cohort('2026-09-07', 1, 'returned'))).toEqual(['ada', 'cai'])
    expect(await names(retention, cohort('2026-09-07', 1, 'not'))).toEqual(['bea'])
    expect(await names(retention, cohort('2026-09-14', 2, 'returned'))).toEqual(['eve'])
    expect(await names(retention, cohort('2026-09-14', 2, 'not'))).toEqual(['dot'])
    expect(await names(retention, cohort('2026-09-14', 2, 'gone'))).toEqual([])
    expect(await names(retention, { kind: 'cohort', what: 'started' })).toEqual(['ada', 'bea', 'cai', 'dot', 'eve'])
  })

  test('from the week on, by the clock, and in own days', async () => {
    const line = async (more: Partial<RetentionQuestion>) =>
      (await ask<RetentionResult>({ ...retention, ...more })).all.line.map(({ returned }) => returned)
    // Week 0 or later: all but Dot. Week 1 or later: bea on the 23rd and eve on the 30th as well. Of the second cohort
    // week 2 is not over, so that only the first one stands in it.
    expect(await line({ count: 'from' })).toEqual([4, 4, 2])
    // By the clock: ada rides 1 and 3 days after she joined, cai after two minutes, bea within the hour.
    expect((await line({ by: 'clock' }))[0]).toBe(3)
    expect(
      await line({
        every: 'day',
        upTo: undefined,
        brackets: [
          [0, 0],
          [1, 7],
          [8, 13],
        ],
      }),
    ).toEqual([1, 2, 1])
  })

  test('money: summed, by person of the cohort, and added up so far', async () => {
    const fare = { of: 'event', name: 'fare' } as const
    const cells = async (more: Partial<RetentionQuestion>) =>
      (await ask<RetentionResult>({ ...retention, of: fare, ...more })).all.cells[0]!.map(({ value }) => value)
    expect(await cells({ measure: 'sum' })).toEqual([6, 4, 4])
    expect(await cells({ measure: 'per person' })).toEqual([2, 4 / 3, 4 / 3])
    expect(await cells({ measure: 'per person', cumulated: true })).toEqual([2, 10 / 3, 14 / 3])
  })
})

describe('habit', () => {
  test('days of each person in each week that is over', async () => {
    const { all, periods } = await ask<HabitResult>(habit)
    expect(periods).toEqual(['2026-09-07', '2026-09-14', '2026-09-21'])
    // 7 Sep: ada on two days, bea on one; then ada and cai; then ada and bea.
    expect(all.periods.map((counts) => counts.slice(0, 3))).toEqual([
      [1, 1, 0],
      [2, 0, 0],
      [2, 0, 0],
    ])
    expect(all.active).toBe(6)
    expect(all.average).toBeCloseTo(7 / 6)
    // Three Tuesdays of ada's, one Thursday; bea on two Wednesdays, cai on a Monday.
    expect(all.pattern.map(({ days }) => days)).toEqual([1, 3, 2, 1, 0, 0, 0])
  })

  test('people of a number of days, of a week and of any', async () => {
    expect(await names(habit, { kind: 'days', days: 2, more: true })).toEqual(['ada'])
    expect(await names(habit, { kind: 'days', days: 1 })).toEqual(['ada', 'bea', 'cai'])
    expect(await names(habit, { kind: 'days', days: 1, bucket: '2026-09-07' })).toEqual(['bea'])
    expect(await names(habit, { kind: 'days', place: 0 })).toEqual(['cai'])
  })

  test('the whole range lies in the open week: nothing is counted yet', async () => {
    const open = { ...habit, range: { from: '2026-09-28', to: '2026-10-04' } }
    expect(await ask<HabitResult>(open)).toMatchObject({ periods: [], all: { active: 0, average: null } })
  })
})

describe('growth accounting', () => {
  test('who is new, retained, revived, lapsed, idle', async () => {
    const { steps } = await ask<GrowthResult>(growth)
    expect(steps.map(({ people }) => people)).toEqual([
      { new: 2, retained: 0, revived: 0, lapsed: 0, idle: 0 },
      { new: 1, retained: 1, revived: 0, lapsed: 1, idle: 0 },
      { new: 0, retained: 1, revived: 1, lapsed: 1, idle: 0 },
    ])
    expect(steps.map(({ quick, kept, net }) => [quick, kept, net])).toEqual([
      [null, null, 2],
      [1, 0.5, 0],
      [1, 0.5, 0],
    ])
    const state = (states: ['new' | 'lapsed' | 'revived'], interval?: string): Mark => ({
      ...{ kind: 'state', states },
      ...(interval ? { interval } : {}),
    })
    expect(await names(growth, state(['new'], '2026-09-07'))).toEqual(['ada', 'bea'])
    expect(await names(growth, state(['lapsed'], '2026-09-14'))).toEqual(['bea'])
    expect(await names(growth, state(['lapsed']))).toEqual(['cai'])
    expect(await names(growth, state(['revived']))).toEqual(['bea'])
  })

  test('its table has a row for each week, and a segment of who lapsed keeps them', async () => {
    const result = await ask<GrowthResult>(growth)
    const [head, first] = await tableOf(growth, result, { thisYear: 2026 })
    expect(head).toHaveLength(first!.length)
    const rule = {
      ...{ hold: 'all' as const },
      of: [{ kind: 'study' as const, study: growth, marks: [{ kind: 'state' as const, states: ['lapsed' as const] }] }],
    }
    const id = dowser.segments.create({ name: 'Lapsed', description: '', tags: [], rule }, 1)
    const reply = await dowser.people({ rule: { kind: 'segment', segment: id } }, { offset: 0, limit: 10 })
    expect('people' in reply && reply.people.map((person) => person.id)).toEqual(['cai'])
  })
})

test('gaps between uses, and who came on one day only', async () => {
  const question: Question = { kind: 'gaps', start: ride, range, show: { form: 'gaps' } }
  // ada: 2, 5 and 7 days; bea: 14. Eve's ride lies after the range.
  const result = await ask<GapsResult>(question)
  expect(result).toMatchObject({ gaps: 4, people: 2, once: 1, median: 6 })
  expect(await names(question, { kind: 'gap', least: 0, of: 'once' })).toEqual(['cai'])
  expect(await names(question, { kind: 'gap', least: 14 })).toEqual(['bea'])
})

test('what comes in later moves the end of what is over, and counts', async () => {
  const asked = { ...growth, range: { from: '2026-09-07', to: '2026-10-04' } }
  expect((await ask<GrowthResult>(asked)).steps.at(-1)).toMatchObject({ open: true, people: { lapsed: 2, new: 1 } })
  const late = [...did('ada', 'Ride', '10-03T08:00'), ...did('zed', 'Look', '10-05T00:01')]
  await dowser.ingest('events', new TextEncoder().encode(late.map((each) => JSON.stringify(each)).join('\n')), FORM)
  await until(async () => (await ask<GrowthResult>(asked)).steps.at(-1)!.open === false)
  // Ada is kept now, bea lapsed; eve is new.
  expect((await ask<GrowthResult>(asked)).steps.at(-1)!.people).toMatchObject({ new: 1, retained: 1, lapsed: 1 })
  expect((await ask<RetentionResult>(retention)).all.line[2]).toMatchObject({ people: 5, returned: 3 })
})
