import { describe, expect, test } from 'vitest'
import type { Rule } from '../segments/rule.js'
import type { CrosstabQuestion } from './crosstab/question.js'
import type { FunnelQuestion } from './funnel/question.js'
import type { GapsQuestion } from './gaps/question.js'
import type { GrowthQuestion } from './growth/question.js'
import type { HabitQuestion } from './habit/question.js'
import type { OverlapQuestion } from './overlap/question.js'
import type { PeopleRef } from './people.js'
import { amongWords, peopleWords } from './peopleWords.js'
import type { Question, Mark } from './registry.js'
import type { RetentionQuestion } from './retention/question.js'
import type { TrendQuestion } from './trend/question.js'

/** What stands over the people who were selected, for every part of every study. */
const words = { thisYear: 2026, zone: 'UTC', segments: { core: 'Core riders', quiet: 'Going quiet' } }
const did = (name: string) => ({ event: { names: [name] } })
const weeks = { last: 12, unit: 'week' } as const
const october = { from: '2026-10-01', to: '2026-10-31' } as const
const plan = { by: { of: 'person', name: 'plan' }, keep: 10 } as const
const annual = { group: { value: 'Annual' } }
const said = (study: Question, ...marks: Mark[]) => peopleWords({ study, marks }, words)

describe('a point of a trend', () => {
  const trend: TrendQuestion = {
    ...{ kind: 'trend', every: 'week', range: weeks, show: { form: 'lines', as: 'number' }, breakdowns: [plan] },
    series: [
      { ...did('Ride'), measure: 'people' },
      {
        ...{ ...did('Pass'), measure: 'people in the last days', days: 7 },
        where: { property: { of: 'event', name: 'price' }, op: 'has a value' },
      },
      { ...did('Rated'), measure: 'people so far' },
    ],
    formulas: [{ formula: 'b / a', name: 'buyers', unit: 'percent' }],
  }
  const bucket = '2026-10-05'
  test.each<[Omit<Mark & { kind: 'point' }, 'kind'>, string]>([
    [{}, 'who did Ride over the last 12 weeks'],
    [{ bucket, ...annual }, 'who did Ride in the week of 5 Oct (Annual)'],
    [
      { bucket, group: { each: [{ value: 'Annual' }, { value: null }] } },
      'who did Ride in the week of 5 Oct (Annual · no value)',
    ],
    [{ group: { rest: true } }, 'who did Ride over the last 12 weeks (Everything else)'],
    [{ before: true }, 'who did Ride in the time it is compared with'],
    [{ bucket, before: true }, 'who did Ride in the week of 5 Oct'],
    // These look further back than the bucket, and of the whole time at its end.
    [{ series: 1, bucket }, 'who did Pass, as filtered, in the 7 days up to the end of the week of 5 Oct'],
    [{ series: 1 }, 'who did Pass, as filtered, in the 7 days up to now'],
    [{ series: 2, bucket }, 'who did Rated up to the end of the week of 5 Oct'],
    [{ series: 2 }, 'who did Rated up to now'],
    [{ formula: 0 }, 'who are counted in buyers over the last 12 weeks'],
    [{ formula: 0, bucket }, 'who are counted in buyers in the week of 5 Oct'],
  ])('%j', (mark, words) => expect(said(trend, { kind: 'point', ...mark })).toBe(words))

  test('of another unit of time', () => {
    const of = (every: TrendQuestion['every'], key: string) => said({ ...trend, every }, { kind: 'point', bucket: key })
    expect(of('hour', '2026-10-05T08:00:00Z')).toBe('who did Ride at 5 Oct 08:00')
    expect(of('day', bucket)).toBe('who did Ride on 5 Oct')
    expect(of('month', '2026-10-01')).toBe('who did Ride in October')
    expect(said({ ...trend, range: october }, { kind: 'point', series: 2 })).toBe(
      'who did Rated up to the end of October',
    )
  })
  test('several are an or; the fourth and on are counted', () => {
    const points = [{}, { series: 1 }, { series: 2 }, { formula: 0 }, { bucket }]
    expect(said(trend, ...points.map((mark): Mark => ({ kind: 'point', ...mark })))).toBe(
      'who did Ride over the last 12 weeks, or did Pass, as filtered, in the 7 days up to now, or did Rated up to now, or are in 2 more selected places',
    )
  })
})

describe('a part of a funnel', () => {
  const steps = [did('Signed up'), { ...did('Card'), optional: true as const }, did('Ride')]
  const window = { count: 7, unit: 'day' } as const
  const funnel: FunnelQuestion = { kind: 'funnel', steps, window, range: october, breakdowns: [plan] }
  test.each<[Mark, string]>([
    [{ kind: 'step', step: 0, what: 'reached' }, 'who did Signed up in October'],
    [{ kind: 'step', step: 2, what: 'reached', ...annual }, 'who did Ride within 7 days of the start (Annual)'],
    // What may be passed over is not what they were lost before.
    [{ kind: 'step', step: 0, what: 'lost' }, 'who did Signed up and did not go on to Ride within 7 days'],
    [{ kind: 'step', step: 0, what: 'open' }, 'who did Signed up and may still go on'],
    [
      { kind: 'step', step: 0, what: 'gone', before: true },
      'who did Signed up and did not go on to Ride within 7 days, in the time it is compared with',
    ],
    [
      { kind: 'step', step: 0, what: 'reached', bucket: '2026-10-05' },
      'who did Signed up, having begun in the week of 5 Oct',
    ],
    [
      { kind: 'took', from: 0, to: 2, least: 3_600_000, under: 7_200_000 },
      'who took 1\u00a0h to 2\u00a0h from Signed up to Ride',
    ],
    [
      { kind: 'took', from: 0, to: 2, least: 86_400_000, ...annual },
      'who took 1\u00a0d or longer from Signed up to Ride (Annual)',
    ],
    [{ kind: 'repeats', step: 0, times: 1 }, 'who did Signed up once before going on'],
    [{ kind: 'repeats', step: 0, times: 3, more: true }, 'who did Signed up 3 times or more before going on'],
    [
      { kind: 'after', step: 0, event: null, within: 'session' },
      'who did Signed up and did not go on to Ride, and did nothing more in the same session',
    ],
    [
      { kind: 'after', step: 0, event: 'Help', within: { count: 1, unit: 'day' } },
      'who did Signed up and did not go on to Ride, and then did Help within 1 day',
    ],
    [
      { kind: 'with', event: 'Refused', property: 'reason', value: 'form error', through: false },
      'who did Refused with Reason form error on the way and were lost',
    ],
    [{ kind: 'with', event: 'Refused', through: true }, 'who did Refused on the way and got through'],
    [{ kind: 'way', events: [] }, 'who got through straight away'],
    [{ kind: 'way', events: ['Map', 'Help'] }, 'who got through by way of Map, then Help'],
    [{ kind: 'way', events: ['Map'], only: true }, 'who got through and did Map on the way'],
  ])('%j', (mark, words) => expect(said(funnel, mark)).toBe(words))

  test.each([
    ['reached', 'who did 2 of the 3 steps within 7 days'],
    ['lost', 'who did 2 of the 3 steps and no more within 7 days'],
    ['open', 'who did 2 of the 3 steps and may still go on'],
  ] as const)('in any order, %s', (what, words) =>
    expect(said({ ...funnel, order: 'any order' }, { kind: 'step', step: 1, what })).toBe(words),
  )
})

test('a cell of a table: its row from the outermost inwards, and its column', () => {
  const table: CrosstabQuestion = {
    ...{ kind: 'crosstab', every: 'week', range: weeks, rows: [plan], show: { cells: 'bars', beside: 'trend' } },
    series: [{ ...did('Ride'), measure: 'people' }],
  }
  const cell = (mark: Omit<Mark & { kind: 'cell' }, 'kind'>) => said(table, { kind: 'cell', ...mark })
  expect(cell({ row: [] })).toBe('who did Ride over the last 12 weeks')
  expect(cell({ row: [{ value: 'Annual' }, { rest: true }], column: { value: true } })).toBe(
    'who did Ride over the last 12 weeks (Annual · Everything else · yes)',
  )
  expect(cell({ row: [{ value: null }], bucket: '2026-10-05' })).toBe('who did Ride in the week of 5 Oct (no value)')
})

test('a part of an overlap: what it lies in, and what it lies outside of', () => {
  const overlap: OverlapQuestion = { kind: 'overlap', sides: [{ segment: 'core' }, { segment: 'quiet' }], range: weeks }
  expect(said(overlap, { kind: 'part', in: [0] })).toBe('who are in Core riders, and not in Going quiet')
  expect(said(overlap, { kind: 'part', in: [0, 1] })).toBe('who are in Core riders and Going quiet')
  expect(said(overlap, { kind: 'part', in: [1], more: true })).toBe('who are in Going quiet')
})

describe('those who come back, or do not', () => {
  const again: RetentionQuestion = {
    kind: 'retention',
    start: did('Joined'),
    every: 'week',
    range: weeks,
    show: { form: 'curve' },
  }
  const coming = { ...again, back: did('Ride') }
  const brackets: [number, number][] = [
    [1, 1],
    [8, 30],
  ]
  const joined = 'who first did Joined over the last 12 weeks'
  test.each<[RetentionQuestion, Omit<Mark & { kind: 'cohort' }, 'kind'>, string]>([
    [coming, { what: 'started' }, joined],
    [coming, { what: 'not', period: 4 }, `${joined} and did not do Ride in week 4`],
    [{ ...coming, count: 'from' }, { what: 'returned', period: 1 }, `${joined} and did Ride in week 1 or later`],
    [again, { what: 'returned', period: 1 }, `${joined} and did it again in week 1`],
    [again, { what: 'gone', period: 1 }, `${joined} and did not do it again in week 1`],
    [{ ...coming, brackets }, { what: 'returned', period: 0 }, `${joined} and did Ride on day 1`],
    [{ ...coming, brackets }, { what: 'returned', period: 1 }, `${joined} and did Ride on days 8 to 30`],
    [
      coming,
      { what: 'returned', period: 4, cohort: '2026-10-05', ...annual },
      'who first did Joined in the week of 5 Oct and did Ride in week 4 (Annual)',
    ],
  ])('of %j: %j', (study, mark, words) => expect(said(study, { kind: 'cohort', ...mark })).toBe(words))
})

describe('how often', () => {
  const habit: HabitQuestion = {
    kind: 'habit',
    start: did('Ride'),
    period: 'month',
    range: october,
    show: { form: 'at least' },
  }
  test.each<[HabitQuestion['period'], Omit<Mark & { kind: 'days' }, 'kind'>, string]>([
    ['month', { days: 3, more: true }, 'who did Ride on 3 days or more of a month in October'],
    ['month', { days: 1, bucket: '2026-10-01', ...annual }, 'who did Ride on 1 day of October (Annual)'],
    ['month', {}, 'who did Ride on any day of a month in October'],
    ['month', { place: 0 }, 'who did Ride on Mondays in October'],
    ['day', { place: 23 }, 'who did Ride from 23:00 to 00:00 in October'],
    ['day', { days: 2, bucket: '2026-10-05' }, 'who did Ride on 2 hours of 5 Oct'],
    ['4 weeks', { days: 2, bucket: '2026-10-05' }, 'who did Ride on 2 weeks of the 4 weeks from 5 Oct'],
  ])('of a %s: %j', (period, mark, words) => expect(said({ ...habit, period }, { kind: 'days', ...mark })).toBe(words))

  const gaps: GapsQuestion = { kind: 'gaps', start: did('Ride'), range: weeks, show: { form: 'gaps' } }
  const inWeeks = 'over the last 12 weeks'
  test.each<[Omit<Mark & { kind: 'gap' }, 'kind'>, string]>([
    [{ least: 1, most: 1 }, `who did Ride again after 1 day ${inWeeks}`],
    [{ least: 22, most: 30 }, `who did Ride again after 22 to 30 days ${inWeeks}`],
    [{ least: 61 }, `who did Ride again after 61 days or more ${inWeeks}`],
    [{ least: 0, of: 'once' }, `who did Ride on one day only ${inWeeks}`],
    [{ least: 7, most: 7.999, of: 'median' }, `who mostly do Ride again after 7 days, ${inWeeks}`],
  ])('a gap: %j', (mark, words) => expect(said(gaps, { kind: 'gap', ...mark })).toBe(words))
})

describe('what they are in an interval', () => {
  const growth: GrowthQuestion = {
    ...{ kind: 'growth', start: did('Ride'), interval: { unit: 'week' }, range: weeks, show: { form: 'states' } },
  }
  const interval = '2026-10-05'
  test.each<[GrowthQuestion['interval'], Omit<Mark & { kind: 'state' }, 'kind'>, string]>([
    [{ unit: 'week' }, { states: ['lapsed'] }, 'who lapsed in the last full week, by doing Ride'],
    [
      { unit: 'week' },
      { states: ['new', 'retained', 'revived'], interval },
      'who were new, retained or revived in the week of 5 Oct, by doing Ride',
    ],
    [
      { unit: 'month' },
      { states: ['lapsed', 'idle'] },
      'who lapsed or were idle in the last full month, by doing Ride',
    ],
    [
      { days: 14 },
      { states: ['idle'], interval, from: 'unseen' },
      'who were idle in the interval from 5 Oct, having been never seen before, by doing Ride',
    ],
    [
      { days: 1 },
      { states: ['retained'], from: 'new' },
      'who were retained in the last full day, having been new before, by doing Ride',
    ],
  ])('of %j: %j', (of, mark, words) =>
    expect(said({ ...growth, interval: of }, { kind: 'state', ...mark })).toBe(words),
  )
})

describe('the people of a rule', () => {
  const core: Rule = { kind: 'segment', segment: 'core' }
  const riders: Rule = { kind: 'did', ...did('Ride') }
  const at = Date.UTC(2026, 9, 5, 12)
  const since = at - 7 * 86_400_000
  test.each<[PeopleRef, string]>([
    [{ rule: core }, 'who are in Core riders'],
    [{ rule: { ...core, not: true } }, 'who are not in Core riders'],
    [{ rule: core, at }, 'who were in Core riders on 5 Oct'],
    [{ rule: { ...core, not: true }, at }, 'who were not in Core riders on 5 Oct'],
    [{ rule: core, came: 'in', since, at }, 'who came into Core riders between 28 Sep and 5 Oct'],
    [{ rule: core, came: 'out', since }, 'who went out of Core riders between 28 Sep and now'],
    [{ rule: riders }, 'who did Ride'],
    [{ rule: riders, at }, 'who did Ride, as of 5 Oct'],
    [{ rule: riders, came: 'in', since }, 'who came into the people who did Ride between 28 Sep and now'],
  ])('%j', (ref, said) => expect(peopleWords(ref, words)).toBe(said))

  test('after “among”: a segment by its name alone, others as those who did it', () => {
    expect(amongWords({ rule: core }, words)).toBe('Core riders')
    // The “not” stands before: not among Core riders.
    expect(amongWords({ rule: { ...core, not: true } }, words)).toBe('Core riders')
    expect(amongWords({ rule: riders }, words)).toBe('people who did Ride')
    const study: GapsQuestion = { kind: 'gaps', start: did('Ride'), range: weeks, show: { form: 'gaps' } }
    expect(amongWords({ study, marks: [{ kind: 'gap', least: 61 }] }, words)).toBe(
      'those who did Ride again after 61 days or more over the last 12 weeks',
    )
  })
})
