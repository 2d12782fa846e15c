import { annotationSchema } from './annotationSchema.js'
import { sentenceText } from '../../words/sentence.js'
import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, logOf, MONDAY } from '../../../tests/eventLog.js'
import type { Bucket } from '../../time/buckets.js'
import { peopleWords } from '../peopleWords.js'
import { annotationsIn } from './annotations.js'
import { contributionsOf } from './contribution.js'
import { trendFindings } from './findings.js'
import type { TrendResult } from './finish.js'
import type { TrendQuestion } from './question.js'
import { trendSentence } from './sentence.js'
import { readingsFor, shownLines, smoothed } from './shown.js'
import { unusualPoints } from './unusual.js'

const words = { thisYear: 2026 }
const question = (more: Partial<TrendQuestion> = {}): TrendQuestion => ({
  kind: 'trend',
  series: [{ event: { names: ['ride'] }, measure: 'events' }],
  every: 'week',
  range: { from: '2026-01-05', to: '2026-01-25' },
  show: { form: 'lines', as: 'number' },
  ...more,
})
const bike = (person: string, day: number, kind: string) => ({
  ...{ person, event: 'ride', time: MONDAY + days(day) },
  properties: { bike: kind },
})
const log = logOf([bike('a', 0, 'x'), bike('b', 1, 'x'), bike('c', 2, 'y'), bike('a', 8, 'x'), bike('a', 15, 'y')])
const breakdowns = [{ by: { of: 'event', name: 'bike' } as const, keep: 10 }]
const read = (asked: TrendQuestion) =>
  shownLines(answer<TrendResult>(log, asked), asked, words).map(({ label, values, total, unit }) => ({
    ...{ label, values, total, unit },
  }))

describe('how a result is read', () => {
  test('as shares of all together; a bucket without anything is a gap', () => {
    expect(read(question({ breakdowns, show: { form: 'lines', as: 'share' } }))).toEqual([
      { label: 'x', values: [2 / 3, 1, 0], total: 3 / 5, unit: 'percent' },
      { label: 'y', values: [1 / 3, 0, 1], total: 2 / 5, unit: 'percent' },
    ])
  })

  test('as an index, the first that is not 0 being 100', () => {
    const [, y] = read(question({ breakdowns, show: { form: 'lines', as: 'index' } }))
    expect(y).toEqual({ label: 'y', values: [100, 0, 100], total: null, unit: 'index' })
  })

  test('as a running total, for what adds up only', () => {
    expect(read(question({ show: { form: 'lines', as: 'running total' } }))[0].values).toEqual([3, 4, 5])
    const people = question({ series: [{ event: { names: ['ride'] }, measure: 'people' }], breakdowns })
    expect(readingsFor(people)).toEqual(['number', 'share', 'index'])
    // One that does not go with the measure is not in force.
    expect(read({ ...people, show: { form: 'lines', as: 'running total' } })[0].values).toEqual([2, 1, 0])
  })

  test('smoothed is the trailing mean, gaps passed over, fewer at the start', () => {
    expect(smoothed([3, null, 5, 1], 3)).toEqual([3, 3, 4, 3])
    expect(smoothed([null, 2], 2)).toEqual([null, 2])
    expect(read(question({ smooth: 2 }))[0]).toMatchObject({ values: [3, 2, 1], total: 5 })
  })

  test('a series that only a formula uses is not shown', () => {
    const asked = question({
      series: [{ event: { names: ['ride'] }, measure: 'events', name: 'rides', hidden: true }],
      formulas: [{ name: 'doubled', formula: 'rides * 2', unit: 'number' }],
    })
    expect(read(asked).map(({ label, total }) => [label, total])).toEqual([['doubled', 10]])
  })
})

describe('unusual points', () => {
  const weeks = (values: number[], lastOpen = false): Bucket[] =>
    values.map((_, i) => {
      const start = MONDAY + days(7 * i)
      const open = lastOpen && i === values.length - 1
      return { start, end: start + days(7), key: new Date(start).toISOString().slice(0, 10), open, cut: false }
    })
  const steady = [100, 110, 90, 105, 95, 100, 108, 92]

  test('lie outside the 99 % prediction interval of the eight weeks before', () => {
    // mean 100, s² = 418/7 = 59.71 under the 100 that chance makes of counts; t(0.995, 7) = 3.4995;
    // reach = 3.4995 · √(100 · 9/8) = 37.1
    const values = [...steady, 138]
    expect(unusualPoints(values, weeks(values), 'week', true)).toMatchObject([
      { bucket: 8, value: 138, low: expect.closeTo(62.88, 1) as number, high: expect.closeTo(137.12, 1) as number },
    ])
    expect(unusualPoints([...steady, 137], weeks(values), 'week', true)).toEqual([])
  })

  test('an open week is never unusual, and neither is one with too little before it', () => {
    const values = [...steady, 2]
    expect(unusualPoints(values, weeks(values, true), 'week', true)).toEqual([])
    expect(unusualPoints([5, 5, 5, 5, 5, 90], weeks([5, 5, 5, 5, 5, 90]), 'week', true)).toEqual([])
  })
})

test('dated notes stand in the bucket of their day; by tag, or not at all', () => {
  const { buckets } = answer<TrendResult>(log, question())
  const note = (id: string, day: string, tag: string) => ({ id, day, text: id, tags: [tag], study: null })
  const notes = [note('early', '2026-01-04', 'x'), note('mid', '2026-01-14', 'x'), note('last', '2026-01-25', 'y')]
  expect(annotationsIn(buckets, notes, undefined).map(({ annotation, bucket }) => [annotation.id, bucket])).toEqual([
    ['mid', 1],
    ['last', 2],
  ])
  expect(annotationsIn(buckets, notes, { tag: 'y' }).map(({ annotation }) => annotation.id)).toEqual(['last'])
  expect(annotationsIn(buckets, notes, 'none')).toEqual([])
})

test('a dated note needs a day that exists and something to say', () => {
  const note = { day: '2026-10-08', text: ' Price up ', tags: ['price'] }
  expect(annotationSchema.parse(note)).toEqual({ ...note, text: 'Price up', study: null })
  for (const wrong of [{ day: '2026-02-30' }, { text: '   ' }, { text: 'x'.repeat(201) }, { tags: [''] }])
    expect(annotationSchema.safeParse({ ...note, ...wrong }).success).toBe(false)
})

describe('in words', () => {
  const said = (asked: TrendQuestion) => sentenceText(trendSentence(asked, words))

  test('one series is a question', () => {
    expect(
      said(
        question({
          series: [{ event: { names: ['ride'] }, measure: 'median', of: { of: 'event', name: 'minutes' } }],
          breakdowns: [{ by: { of: 'weekday' }, keep: 10 }],
          compare: { to: 'year' },
          smooth: 3,
        }),
      ),
    ).toBe(
      'What is the median of Minutes in ride each week from 5 Jan to 25 Jan, for each Day of week, compared with the same dates a year earlier, smoothed over 3 weeks?',
    )
  })

  test('several have a line each, with their short names, and formulas under them', () => {
    const asked = question({
      series: [
        { event: { names: ['ride'] }, measure: 'people', name: 'riders' },
        { event: { activity: true }, measure: 'people in the last days', days: 7, hidden: true },
      ],
      formulas: [{ formula: 'riders / b', unit: 'percent' }],
    })
    expect(said(asked)).toBe(
      'Each week from 5 Jan to 25 Jan: riders = people who did ride; b (not shown) = people in the last 7 days who did anything; riders / b, as a percentage',
    )
  })

  test('who was selected, also in one week and not in another', () => {
    const mark = { kind: 'point', bucket: '2026-01-12', not: '2026-01-05' } as const
    expect(peopleWords({ study: question(), marks: [mark] }, words)).toBe(
      'who did ride in the week of 12 Jan and not in the week of 5 Jan',
    )
  })
})

test('what changed most explains so much of the whole change', () => {
  const people = (n: number, day: number, plan: string) =>
    Object.fromEntries(Array.from({ length: n }, (_, i) => [`${plan}${day}-${i}`, `ride@${day}d`]))
  const all = { ...people(40, -7, 'x'), ...people(60, -7, 'y'), ...people(40, 0, 'x'), ...people(80, 0, 'y') }
  const profiles = Object.fromEntries(Object.keys(all).map((name) => [name, { plan: name[0] }]))
  const asked = question({
    series: [{ event: { names: ['ride'] }, measure: 'people' }],
    range: { from: '2026-01-05', to: '2026-01-11' },
    breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }],
    compare: { to: 'before' },
  })
  const result = answer<TrendResult>(eventLog(all, { profiles }), asked)
  // x stayed, y went from 60 to 80: the whole 20.
  expect(contributionsOf(result.lines[0])).toEqual([1, 0])
  const findings = trendFindings(result, asked, words).findings.map((pieces) => pieces.map(({ text }) => text).join(''))
  expect(findings.slice(1, 3)).toEqual([
    '120 people in the whole time, against 100 in the time it is compared with: +20.0\u202f%.',
    'y changed most: +20, 100\u202f% of the whole change.',
  ])
})
