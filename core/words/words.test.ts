import type { SentencePart } from './sentence.js'
import { describe, expect, test } from 'vitest'
import { funnelCaption, funnelSentence } from '../analyses/funnel/sentence.js'
import { amongWords } from '../analyses/peopleWords.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import { trendSentence } from '../analyses/trend/sentence.js'
import {
  formatChange,
  formatDay,
  formatDuration,
  formatNumber,
  formatPercent,
  formatPoints,
  shareFigure,
} from './format.js'
import { toldGroup } from './words.js'
import type { GroupKey } from '../questions/parts.js'
import type { SplitRef } from '../questions/split.js'

const words = { thisYear: 2026 }
const read = (parts: SentencePart[]) => parts.map(({ text }) => text).join('')
const riders: TrendQuestion = {
  kind: 'trend',
  series: [{ event: { names: ['Ride completed'] }, measure: 'people' }],
  every: 'week',
  range: { last: 12, unit: 'week' },
  breakdowns: [{ by: { of: 'person', name: 'home_district' }, keep: 10 }],
  show: { form: 'lines', as: 'number' },
}

describe('sentences', () => {
  test('a trend says event, measure, unit, time and breakdown', () => {
    expect(read(trendSentence(riders, words))).toBe(
      'How many people did Ride completed each week over the last 12 weeks, for each Home district?',
    )
    expect(
      read(
        trendSentence(
          {
            ...riders,
            series: [{ event: { activity: true }, measure: 'events' }],
            range: { from: '2026-10-01', to: '2026-10-31' },
            breakdowns: undefined,
          },
          words,
        ),
      ),
    ).toBe('How many times did people do anything each week in October?')
  })

  test('what changes the number stands in the sentence: filters in full up to two conditions, then counted', () => {
    const one = { property: { of: 'event', name: 'stars' }, op: '≥', number: 4 } as const
    const where = (n: number) => ({
      ...riders,
      breakdowns: undefined,
      series: [{ ...riders.series[0], where: { all: Array.from({ length: n }, () => one) } }],
    })
    expect(read(trendSentence(where(2), words))).toContain('where Stars ≥ 4 and Stars ≥ 4 each week')
    expect(read(trendSentence(where(4), words))).toContain('where 4 conditions hold each week')
  })

  test('every word with a token can be found by it', () => {
    expect(trendSentence(riders, words).flatMap(({ token }) => token ?? [])).toEqual([
      'measure',
      'event',
      'every',
      'range',
      'breakdown',
    ])
  })

  test('a funnel says its window and time, and elsewhere its first and last step', () => {
    const funnel = {
      kind: 'funnel',
      steps: [{ event: { names: ['view'] } }, { event: { names: ['buy', 'pay'] } }],
      window: { count: 1, unit: 'day' },
      range: { from: '2025-12-30' },
    } as const
    const question = { ...funnel, steps: funnel.steps.map((step) => ({ event: { names: [...step.event.names] } })) }
    expect(read(funnelSentence(question, words))).toBe(
      'How many people get through these steps, one after another, within 1 day, starting on or after 30 Dec 2025?',
    )
    expect(funnelCaption(question, words)).toBe(
      'How many people get from view to buy or pay within 1 day, starting on or after 30 Dec 2025?',
    )
  })

  test('people read from a study are told in words', () => {
    expect(
      amongWords(
        { study: riders, marks: [{ kind: 'point', bucket: '2026-09-14', group: { value: 'Quayside' } }] },
        words,
      ),
    ).toBe('those who did Ride completed in the week of 14 Sep (Quayside)')
  })
})

test.each<[string, GroupKey, SplitRef[]]>([
  ['Annual', { value: 'Annual' }, [{ of: 'person', name: 'plan' }]],
  ['Plan: no value', { value: null }, [{ of: 'person', name: 'plan' }]],
  ['Helmet: yes', { value: true }, [{ of: 'event', name: 'helmet' }]],
  ['Position in session 4', { value: 4 }, [{ of: 'event', name: 'position in session' }]],
  ['Fare 2 to under 5', { range: [2, 5] }, [{ of: 'event', name: 'fare' }]],
  ['Tuesday', { weekday: 2 }, [{ of: 'weekday' }]],
  [
    'Annual · Fare 3',
    { each: [{ value: 'Annual' }, { value: 3 }] },
    [
      { of: 'person', name: 'plan' },
      { of: 'event', name: 'fare' },
    ],
  ],
  ['Everything else (2 groups)', { rest: true }, [{ of: 'event', name: 'fare' }]],
])('in a sentence a group reads %s', (said, key, by) => {
  expect(
    toldGroup(
      key,
      by.map((each) => ({ by: each })),
      {},
      2,
    ),
  ).toBe(said)
})

describe('figures', () => {
  test('counts have thousands separated, what is missing is a dash', () => {
    expect([formatNumber(12345), formatNumber(null), formatNumber(0), formatNumber(2.345)]).toEqual([
      '12,345',
      '–',
      '0',
      '2.35',
    ])
  })

  test('shares, changes and points', () => {
    expect(formatPercent(0.184)).toBe('18.4\u202f%')
    expect([formatPercent(0), formatPercent(1), formatPercent(null)]).toEqual(['0\u202f%', '100\u202f%', '–'])
    expect(formatChange(-0.062)).toBe('−6.2\u202f%')
    expect(formatPoints(0.019)).toBe('+1.9 points')
  })

  test('durations by their two largest units, dates with the year only where it is another', () => {
    const said = [190_000, 93_600_000, 45, 2500, null].map((ms) => formatDuration(ms).replaceAll('\u00a0', ' '))
    expect(said).toEqual(['3 m 10 s', '1 d 2 h', '45 ms', '2.5 s', '–'])
    expect([formatDay('2026-09-14', 2026), formatDay('2025-09-14', 2026)]).toEqual(['14 Sep', '14 Sep 2025'])
  })
})

test.each([
  [0, '0'],
  [0.0002, '<0.1'],
  [0.001, '0.1'],
  [0.0949, '9.5'],
  // Never 10.0 beside 10.
  [0.0996, '10'],
  [0.1, '10'],
  [0.3149, '31'],
  [1, '100'],
])('a share of %d is %s in a table whose heading has the sign', (share, text) => expect(shareFigure(share)).toBe(text))
