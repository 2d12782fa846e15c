import { describe, expect, test } from 'vitest'
import { answer, days, eventLog, logOf, MONDAY, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import { said } from '../../../tests/said.js'
import type { Value } from '../../log/values.js'
import type { Words } from '../../words/words.js'
import type { TrendResult } from './finish.js'
import { trendFindings } from './findings.js'
import type { TrendQuestion, TrendSeries } from './question.js'

/** What is read out of a trend, sentence by sentence, from figures that are made to say it. */
const ride = { names: ['ride'] }
const plan = { by: { of: 'event', name: 'plan' }, keep: 10 } as const
const base: TrendQuestion = {
  ...{ kind: 'trend', every: 'week', range: { from: '2026-01-05' }, show: { form: 'lines', as: 'number' } },
  series: [{ event: ride, measure: 'people' }],
}
type Asked = Partial<TrendQuestion> & { series?: TrendSeries[] }

function read(log: TestLog, asked: Asked, now: number, words: Words = { thisYear: 2026 }) {
  const question = { ...base, ...asked }
  return said(trendFindings(answer<TrendResult>(log, question, { now }), question, words))
}

/** So many people on each day or in each week, each doing it once. */
function counted(
  counts: readonly number[],
  apart: number,
  more: (at: number, i: number) => Record<string, Value> = () => ({}),
): TestEvent[] {
  return counts.flatMap((many, at) =>
    Array.from({ length: many }, (_, i): TestEvent => ({
      ...{ person: `p${i}`, event: 'ride', time: MONDAY + days(at * apart) + 1 },
      properties: more(at, i),
    })),
  )
}
const weeksOf = (counts: number[], more?: Parameters<typeof counted>[2]) => logOf(counted(counts, 7, more))
const daysOf = (counts: number[]) => logOf(counted(counts, 1))
const afterWeeks = (n: number) => MONDAY + days(7 * n)

describe('the last full period', () => {
  const log = logOf([
    ...counted([4, 2], 7, () => ({ minutes: 30 })),
    { person: 'p0', event: 'ride', time: MONDAY + days(8), properties: { minutes: 10 } },
    { person: 'p9', event: 'look', time: MONDAY + days(9), properties: {} },
  ])
  const minutes = { of: { of: 'event', name: 'minutes' } } as const
  test.each<[TrendSeries, string]>([
    [{ event: ride, measure: 'people' }, '2 people in the last full week, 4 people 1 week before.'],
    [{ event: ride, measure: 'events' }, '3 times in the last full week, 4 times 1 week before.'],
    [
      { event: ride, measure: 'events per person' },
      '1.50 times per person in the last full week, 1 time per person 1 week before.',
    ],
    [{ event: ride, measure: 'sessions' }, '3 sessions in the last full week, 4 sessions 1 week before.'],
    [{ event: ride, measure: 'people so far' }, '4 people in the last full week, as in the week of 5 Jan.'],
    [
      { event: ride, measure: 'people in the last days', days: 14 },
      '4 people in 14 days in the last full week, as in the week of 5 Jan.',
    ],
    [
      { event: ride, measure: 'share of active people' },
      '66.7 % of the active people in the last full week, 100 % of the active people 1 week before.',
    ],
    [
      { event: ride, measure: 'sum', ...minutes },
      'A sum of 70 Minutes in the last full week, a sum of 120 Minutes 1 week before.',
    ],
    [
      { event: ride, measure: 'maximum', ...minutes },
      'A maximum of 30 Minutes in the last full week, as in the week of 5 Jan.',
    ],
    [{ event: ride, measure: 'distinct values', ...minutes }, '2 values in the last full week, 1 value 1 week before.'],
    // Any activity is nobody's name.
    [{ event: { activity: true }, measure: 'people' }, '3 people in the last full week, 4 people 1 week before.'],
  ])('%j', (series, words) => {
    expect(read(log, { series: [series] }, afterWeeks(2)).findings[0]).toBe(words)
  })

  test('with nothing before it has nothing to compare with', () => {
    expect(read(log, {}, afterWeeks(1)).findings[0]).toBe('4 people in the last full week.')
  })
  test('where none is over yet only what there is so far is told', () => {
    expect(read(log, {}, MONDAY + days(3)).findings).toEqual(['4 people so far; no week of this time is over yet.'])
  })
  test('that a formula has no value for is said to have none', () => {
    const asked: Asked = {
      series: [
        { event: ride, measure: 'people' },
        { event: { names: ['look'] }, measure: 'people' },
      ],
      formulas: [{ formula: 'a / b', unit: 'number' }],
    }
    const onlyFormula = { ...asked, series: asked.series!.map((series) => ({ ...series, hidden: true as const })) }
    expect(read(log, onlyFormula, afterWeeks(1)).findings).toEqual([
      'a / b has no value in this time: a part of it is missing, or it would divide by zero.',
    ])
    expect(read(log, onlyFormula, afterWeeks(2)).findings[0]).toMatch(/^2 in the last full week/)
  })
  test('of numbers where no event carries one says so, and not that nobody did it', () => {
    const none = logOf([...counted([3], 7), { person: 'x', event: 'look', time: MONDAY, properties: { minutes: 3 } }])
    expect(read(none, { series: [{ event: ride, measure: 'average', ...minutes }] }, afterWeeks(1)).findings).toEqual([
      'No number to work from: none of the events carries one there.',
    ])
  })
})

describe('the direction over the whole time', () => {
  test('a steady rise is told with its first and last third', () => {
    const { findings } = read(weeksOf([40, 43, 46, 49, 52, 55, 58, 61, 64]), {}, afterWeeks(9))
    expect(findings[1]).toBe(
      'ride rises steadily: from 43 a week on average in the first third to 61 (+41.9 %) in the last.',
    )
  })
  test('a steady fall likewise, and of any activity by its name', () => {
    const { findings } = read(
      weeksOf([64, 61, 58, 55, 52, 49, 46, 43, 40]),
      { series: [{ event: { activity: true }, measure: 'people' }] },
      afterWeeks(9),
    )
    expect(findings[1]).toBe(
      'Activity falls steadily: from 61 a week on average in the first third to 43 (−29.5 %) in the last.',
    )
  })
  test('ups and downs are none', () => {
    const { findings } = read(weeksOf([50, 44, 56, 47, 53, 45, 55, 50, 48]), {}, afterWeeks(9))
    expect(findings[1]).toMatch(/^No clear change/)
  })
  test('a time that came and went is told with its days and both levels', () => {
    const { findings } = read(weeksOf([14, 14, 13, 69, 71, 66, 64, 11, 10, 4, 11]), {}, afterWeeks(11))
    expect(findings[1]).toBe(
      'ride was up from 26 Jan to 22 Feb, then back: 68 a week on average, against 11 before and after.',
    )
    expect(findings.join(' ')).not.toContain('No clear change')
    const dip = read(weeksOf([70, 72, 69, 71, 12, 11, 70, 68, 71, 70]), {}, afterWeeks(10))
    expect(dip.findings[1]).toBe(
      'ride was down from 2 Feb to 15 Feb, then back: 11.5 a week on average, against 70 before and after.',
    )
  })
  test('the group that carries it is named, and not the largest', () => {
    const of = (plan: string, counts: number[]) =>
      counted(counts, 7, () => ({ plan })).map((event) => ({ ...event, person: plan + event.person }))
    const log = logOf([
      ...of('large', [200, 214, 190, 205, 196, 210, 188, 207, 201, 195, 204]),
      ...of('carries', [14, 14, 13, 69, 71, 66, 64, 11, 10, 4, 11]),
    ])
    const by = { breakdowns: [{ by: { of: 'event' as const, name: 'plan' }, keep: 10 }] }
    const { findings } = read(log, by, afterWeeks(11))
    expect(findings[1]).toMatch(/^carries was up from 26 Jan to 22 Feb, then back/)
  })
  test('a last week that falls beyond the usual is told as that, and nothing says that there was no change', () => {
    const { findings } = read(weeksOf([50, 52, 49, 51, 50, 48, 51, 50, 1]), {}, afterWeeks(9))
    expect(findings[0]).toMatch(/^1 person in the last full week, 98.0 % less than \d weeks? before\.$/)
    expect(findings.join(' ')).not.toContain('No clear change')
  })
  test('a step with a note of that week is tied to it', () => {
    const annotations = [{ id: 'n', day: '2026-02-03', text: 'Prices up', tags: [], study: null }]
    const asked = (notes: typeof annotations) =>
      read(weeksOf([60, 61, 59, 60, 20, 21, 19, 20]), {}, afterWeeks(8), { thisYear: 2026, annotations: notes })
    const { findings } = asked(annotations)
    expect(findings[1]).toBe(
      'ride moved: from 60 a week on average to 20 (−66.7 %) since the week of 2 Feb, more than its usual ups and downs. Noted that week: “Prices up”.',
    )
    // One of the week before is not where it began.
    expect(asked([{ ...annotations[0], day: '2026-01-31' }]).findings[1]).toMatch(/ups and downs\.$/)
  })
})

describe('an unusual point', () => {
  const calm = [50, 52, 49, 51, 50, 48, 51, 50]
  test('is told with what was expected, and whether there are more', () => {
    const { findings } = read(weeksOf([...calm, 120, 50]), {}, afterWeeks(10))
    expect(findings.find((each) => each.includes('unusual'))).toMatch(
      /^The week of 2 Mar was unusual: 120, where the eight weeks before suggest \d\d to \d\d\.$/,
    )
  })
  test('is not looked for where the line is smoothed, or reads otherwise than in numbers', () => {
    const log = weeksOf([...calm, 120, 50])
    const of = (asked: Asked) => read(log, asked, afterWeeks(10)).findings.filter((each) => each.includes('unusual'))
    expect(of({ show: { form: 'lines', as: 'index' } })).toEqual([])
    expect(of({ smooth: 3 } as Asked)).toEqual([])
  })
})

describe('the rhythm of the week', () => {
  const week = [30, 31, 29, 30, 32, 12, 10]
  const five = Array.from({ length: 35 }, (_, day) => week[day % 7] + ((day * 5) % 3))
  test('of days over four weeks or more: the highest and the lowest day', () => {
    const { findings } = read(daysOf(five), { every: 'day' }, MONDAY + days(35))
    expect(findings.find((each) => each.includes('rhythm'))).toMatch(
      /^The week has a rhythm: Fridays are highest with 33 on average, Sundays lowest with 1[01]/,
    )
  })
  test('is not told of three weeks, nor where days are alike', () => {
    const of = (counts: number[]) =>
      read(daysOf(counts), { every: 'day' }, MONDAY + days(counts.length)).findings.filter((each) =>
        each.includes('rhythm'),
      )
    expect(of(five.slice(0, 21))).toEqual([])
    expect(of(five.map((_n, day) => 30 + ((day * 7) % 5)))).toEqual([])
  })
})

describe('beside another time', () => {
  const compare = { to: 'before' } as const
  /** Annual and Day, in the week before and in this one. */
  const twoWeeks = (annual: [number, number], day: [number, number]) =>
    logOf(
      [0, 1].flatMap((at) =>
        [...Array.from({ length: annual[at] }, () => 'Annual'), ...Array.from({ length: day[at] }, () => 'Day')].map(
          (name, i): TestEvent => ({
            person: `p${i}`,
            event: 'ride',
            time: MONDAY + days(7 * at) + 1,
            properties: { plan: name },
          }),
        ),
      ),
    )
  const asked: Asked = { compare, range: { from: '2026-01-12', to: '2026-01-18' }, breakdowns: [plan] }
  const of = (annual: [number, number], day: [number, number]) =>
    read(twoWeeks(annual, day), asked, afterWeeks(2)).findings

  test('the group that explains most of the change, and how much', () => {
    expect(of([40, 60], [30, 35]).slice(1, 3)).toEqual([
      '95 people in the whole time, against 70 in the time it is compared with: +35.7 %.',
      'Annual changed most: +20, 80 % of the whole change.',
    ])
  })
  test('where groups change against each other, the change of both is told and no share of it', () => {
    expect(of([60, 30], [30, 50])[2]).toBe('Annual changed most: −30, where the whole changed by −10.')
  })
  test('where nothing changed in all, nothing explains it', () => {
    const found = of([40, 50], [30, 20])
    expect(found[1]).toBe('70 people in the whole time, against 70 in the time it is compared with.')
    expect(found.join(' ')).not.toContain('changed most')
  })
})

describe('groups', () => {
  const grouped = (counts: Record<string, number>) =>
    logOf(
      Object.entries(counts).flatMap(([name, many]) =>
        Array.from({ length: many }, (_, i): TestEvent => ({
          ...{ person: `${name}${i}`, event: 'ride', time: MONDAY + 1 },
          properties: { plan: name, minutes: name === 'Annual' ? 40 : 20 },
        })),
      ),
    )
  const asked: Asked = { breakdowns: [plan] }
  test('the largest with its share', () => {
    expect(read(grouped({ Annual: 60, Day: 40 }), asked, afterWeeks(1)).findings[1]).toBe(
      'Annual is the largest group with 60 % of the people.',
    )
  })
  test('of an average, the first beside that of all; of equal ones nothing', () => {
    const average: Asked = {
      ...asked,
      series: [{ event: ride, measure: 'average', of: { of: 'event', name: 'minutes' } }],
    }
    expect(read(grouped({ Annual: 50, Day: 50 }), average, afterWeeks(1)).findings[1]).toBe(
      'Annual comes first with an average of 40 Minutes, against 30 for all.',
    )
    expect(read(grouped({ Monthly: 50, Day: 50 }), average, afterWeeks(1)).findings).toHaveLength(1)
  })
  test('small ones are warned of: one by its name, several by their number', () => {
    expect(read(grouped({ Annual: 60, Day: 4 }), asked, afterWeeks(1)).cautions).toContain(
      'Day has under 30 people: read it with care.',
    )
    expect(read(grouped({ Annual: 60, Day: 4, Week: 3 }), asked, afterWeeks(1)).cautions).toContain(
      '2 groups have under 30 people: read them with care.',
    )
  })
  test('a person in two of them is counted in both, and once in all', () => {
    const both = logOf([...counted([40], 7, () => ({ plan: 'Annual' })), ...counted([35], 7, () => ({ plan: 'Day' }))])
    expect(read(both, asked, afterWeeks(1)).cautions).toContain(
      'A person can be in several groups: together they are 40 people, not the sum of the rows.',
    )
  })
  test('everything else is many things, and none of them is said to have moved', () => {
    const log = logOf(
      [30, 30, 30, 30, 60, 60, 60, 60].flatMap((many, at) =>
        Array.from({ length: 100 + many }, (_, i): TestEvent => ({
          ...{ person: `p${i}`, event: 'ride', time: MONDAY + days(7 * at) + 1 },
          properties: { plan: i < 100 ? 'Annual' : `rare ${i % 7}` },
        })),
      ),
    )
    const { findings } = read(log, { breakdowns: [{ ...plan, keep: 1 }] }, afterWeeks(8))
    expect(findings.join(' ')).not.toMatch(/Everything else|moved most/)
  })
})

describe('what the time cuts, or has not ended yet', () => {
  const log = eventLog({ a: 'ride@0d ride@7d ride@14d', b: 'ride@0d ride@9d' })
  test('one week, or two, of which only the part inside is counted', () => {
    const cut = (range: TrendQuestion['range']) =>
      read(log, { range }, afterWeeks(4)).cautions.filter((each) => each.includes('cuts'))
    expect(cut({ from: '2026-01-06', to: '2026-01-18' })).toEqual([
      'The time asked about cuts one week: only the part inside is counted.',
    ])
    expect(cut({ from: '2026-01-06', to: '2026-01-20' })).toEqual([
      'The time asked about cuts two weeks: only the part inside is counted.',
    ])
    expect(cut({ from: '2026-01-05', to: '2026-01-18' })).toEqual([])
  })
  test('the open one is told of, and never of a single one', () => {
    const open = (now: number) => read(log, {}, now).cautions.some((each) => each.includes('still open'))
    expect(open(MONDAY + days(9))).toBe(true)
    expect(open(MONDAY + days(3))).toBe(false)
  })
})
