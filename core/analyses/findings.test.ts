import { narrowest } from './funnel/narrowest.js'
import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, MONDAY, type TestEvent } from '../../tests/eventLog.js'
import type { Finding } from '../words/words.js'
import type { Rule } from '../segments/rule.js'
import { boardWide } from './boardWide.js'
import type { FunnelResult } from './funnel/finish.js'
import { funnelFindings } from './funnel/findings.js'
import type { FunnelQuestion } from './funnel/question.js'
import { trendFindings } from './trend/findings.js'
import type { TrendResult } from './trend/finish.js'
import type { TrendQuestion } from './trend/question.js'

const words = { thisYear: 2026 }
const said = (findings: readonly Finding[]) => findings.map((pieces) => pieces.map(({ text }) => text).join(''))
const show = { form: 'lines', as: 'number' } as const
const weekly: TrendQuestion = {
  kind: 'trend',
  series: [{ event: { names: ['ride'] }, measure: 'people' }],
  every: 'week',
  range: { last: 9, unit: 'week' },
  show,
}

/** So many people in each week, all of one plan. */
function weeks(
  counts: number[],
  plan: string,
  prefix: string,
): { events: TestEvent[]; profiles: Record<string, { plan: string }> } {
  const events = counts.flatMap((n, week) =>
    Array.from({ length: n }, (_, i) => ({
      person: `${prefix}${i}`,
      event: 'ride',
      time: MONDAY + days(7 * week + 1),
    })),
  )
  return {
    events,
    profiles: Object.fromEntries(Array.from({ length: Math.max(...counts) }, (_, i) => [`${prefix}${i}`, { plan }])),
  }
}
const NOW = MONDAY + days(7 * 8 + 3)

function readTrend(groups: Record<string, number[]>) {
  const made = Object.entries(groups).map(([plan, counts]) => weeks(counts, plan, plan))
  const log = eventLog(
    { all: made.flatMap(({ events }) => events) },
    { profiles: Object.assign({}, ...made.map(({ profiles }) => profiles)) as never },
  )
  const question: TrendQuestion = { ...weekly, breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }] }
  return trendFindings(answer<TrendResult>(log, question, { now: NOW }), question, words)
}

describe('a trend', () => {
  test('tells the group whose level moved, with its figures, and never from the open week', () => {
    const { findings, cautions } = readTrend({
      steady: [80, 82, 79, 81, 80, 78, 82, 80, 3],
      dropped: [60, 62, 61, 59, 20, 21, 19, 22, 2],
    })
    expect(said(findings)[1]).toBe(
      'dropped moved most: from 61 a week on average to 21 (−66.1\u202f%) since the week of 2 Feb, more than its usual ups and downs.',
    )
    expect(said(findings).some((text) => text.startsWith('No clear change'))).toBe(false)
    expect(said(cautions)).toContain('This week is still open: drawn dashed, left out of the changes above.')
  })

  test('says that there is no clear change where there is none', () => {
    expect(
      said(
        readTrend({ steady: [80, 70, 90, 75, 85, 72, 88, 80, 3], other: [50, 58, 45, 60, 47, 55, 49, 52, 1] }).findings,
      )[1],
    ).toMatch(/^No clear change/)
  })

  test('compares the last whole week with the first, and warns of small groups', () => {
    const { findings, cautions } = readTrend({
      many: [100, 100, 100, 100, 100, 100, 100, 150, 9],
      few: [5, 5, 5, 5, 5, 5, 5, 5, 5],
    })
    expect(said(findings)[0]).toBe('155 people in the last full week, 47.6\u202f% more than 7 weeks before.')
    expect(said(cautions)).toContain('few has under 30 people: read it with care.')
  })

  test('of days compares with the same weekday', () => {
    const rides = Array.from({ length: 22 }, (_, day) => `ride@${day}d`).join(' ')
    const log = eventLog({ a: rides, b: 'ride@6d ride@20d', c: 'ride@20d' })
    const daily: TrendQuestion = { ...weekly, every: 'day', range: { from: '2026-01-05', to: '2026-01-25' } }
    const { findings } = trendFindings(answer<TrendResult>(log, daily, { now: NOW }), daily, words)
    // Sunday 25 January, 3 people, against Sunday 11 January, 2 people.
    expect(said(findings)[0]).toBe('3 people in the last full day, 2 people 14 days before.')
  })

  test('of nothing says so', () => {
    const log = eventLog({ a: 'ride@300d' })
    expect(said(trendFindings(answer<TrendResult>(log, weekly, { now: NOW }), weekly, words).findings)).toEqual([
      'Nobody did ride in this time, as asked.',
    ])
  })
})

describe('a funnel', () => {
  const steps = ['view', 'add', 'buy'].map((name) => ({ event: { names: [name] } }))
  const question: FunnelQuestion = {
    kind: 'funnel',
    steps,
    window: { count: 7, unit: 'day' },
    range: { from: '2026-01-05', to: '2026-02-28' },
    breakdowns: [{ by: { of: 'person', name: 'kind' }, keep: 10 }],
  }
  const people = (kind: string, start: number, add: number, buy: number) =>
    Array.from(
      { length: start },
      (_, i) => [`${kind}${i}`, `view@0d${i < add ? ' add@1h' : ''}${i < buy ? ' buy@2h' : ''}`] as const,
    )
  const shop = (a: readonly (readonly [string, string])[], b: readonly (readonly [string, string])[]) => {
    const all = [...a, ...b]
    return eventLog(Object.fromEntries(all), {
      profiles: Object.fromEntries(all.map(([name]) => [name, { kind: name.replace(/\d+$/, '') }])),
    })
  }

  test('tells the conversion with its interval, the narrowest place, and the group that differs', () => {
    const result = answer<FunnelResult>(shop(people('student', 100, 60, 55), people('visitor', 100, 30, 20)), question)
    expect(narrowest(result.all)).toBe(0)
    const lines = said(funnelFindings(result, question, words).findings)
    expect(lines[0]).toBe('38\u202f% of the people who did view got to buy within 7 days (95 %: 31.1 – 44.4).')
    expect(lines[1]).toBe(
      'The narrowest place is before add: 55\u202f% of those who did view are lost there, 110 people.',
    )
    expect(lines[2]).toBe(
      'student: 55\u202f% get through, 2.8× as often as the others (20\u202f%). The difference is +35.0 points (95 %: 21.8 to 46.5).',
    )
  })

  test('finds no difference where chance would do', () => {
    const result = answer<FunnelResult>(shop(people('student', 60, 30, 20), people('visitor', 60, 28, 19)), question)
    expect(said(funnelFindings(result, question, words).findings)[2]).toBe('No clear difference between the 2 groups.')
  })

  test('tells who may still go on', () => {
    const log = eventLog({ a: 'view@0d add@1h buy@2h', b: 'view@9d' })
    const open: FunnelQuestion = { ...question, breakdowns: undefined }
    const { cautions } = funnelFindings(answer<FunnelResult>(log, open, { now: MONDAY + days(10) }), open, words)
    expect(said(cautions)).toEqual([
      '1 person entered in the last 7 days and may still go on. They count as not converted so far.',
    ])
  })
})

describe('what a dashboard sets for all', () => {
  const range = { last: 4, unit: 'week' } as const
  const annual: Rule = {
    kind: 'profile',
    where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] },
  }
  const regulars: Rule = { kind: 'segment', segment: 'regulars' }

  test('the range, and the people, who are then those of both', () => {
    expect(boardWide(weekly, range, { rule: annual })).toEqual({ ...weekly, range, among: { rule: annual } })
    expect(boardWide(weekly, null, null)).toEqual(weekly)
    expect(boardWide({ ...weekly, among: { rule: regulars } }, null, { rule: annual })).toEqual({
      ...weekly,
      among: { rule: { hold: 'all', of: [regulars, annual] } },
    })
    const point = { study: weekly, marks: [{ kind: 'point' as const }] }
    expect(boardWide({ ...weekly, among: point }, null, { rule: annual })).toEqual({
      ...weekly,
      among: { rule: { hold: 'all', of: [{ kind: 'study', ...point }, annual] } },
    })
  })

  test('people as of a moment cannot be asked with others', () => {
    const before = { ...weekly, among: { rule: regulars, at: MONDAY } }
    expect(boardWide(before, range, { rule: annual })).toBeNull()
    expect(boardWide(before, range, null)).toEqual({ ...before, range })
  })
})
