import { describe, expect, test } from 'vitest'
import type { TrendResult, TrendRow } from '../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../core/analyses/trend/question.js'
import { light } from '../look/palette.js'
import { tableOf } from '../study/lead.server.js'
import { spread } from './plugins.js'
import { trendConfig } from './trendConfig.js'

const row = (key: TrendRow['key'], values: (number | null)[]): TrendRow => ({
  key,
  values,
  total: 9,
  people: [1, 2],
  totalPeople: 3,
})
const result: TrendResult = {
  kind: 'trend',
  buckets: [
    { key: '2026-11-09', start: 0, end: 1, open: false, cut: false },
    { key: '2026-11-16', start: 1, end: 2, open: true, cut: false },
  ],
  beforeBuckets: null,
  lines: [
    {
      of: { series: 0 },
      name: 'a',
      unit: 'people',
      hidden: false,
      groups: [row({ value: 'Annual' }, [30, 10]), row({ rest: true }, [10, null])],
      all: row(null, [40, 20]),
      before: null,
    },
  ],
  keys: [{ value: 'Annual' }, { rest: true }],
  rest: 3,
  overlap: false,
}
const question: TrendQuestion = {
  kind: 'trend',
  series: [{ event: { names: ['Ride'] }, measure: 'people' }],
  every: 'week',
  range: { last: 2, unit: 'week' },
  breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 1 }],
  show: { form: 'lines', as: 'number' },
}
const config = (show: TrendQuestion['show']) =>
  trendConfig({
    result,
    question: { ...question, show },
    palette: light,
    words: { thisYear: 2026 },
    width: 900,
    selected: [],
  })

describe('the chart of a trend', () => {
  test('has a line for each group, everything else always in the last colour, gaps as gaps', () => {
    const { data } = config({ form: 'lines', as: 'number' })
    expect(data.labels).toEqual(['9 Nov', '16 Nov'])
    expect(data.datasets.map(({ label, data: values, borderColor }) => [label, values, borderColor])).toEqual([
      ['Annual', [30, 10], light.series[0]],
      ['Everything else (3 groups)', [10, null], light.series[7]],
    ])
  })

  test('shares are of all together', () => {
    expect(config({ form: 'lines', as: 'share' }).data.datasets.map(({ data }) => data)).toEqual([
      [0.75, 0.5],
      [0.25, null],
    ])
  })

  test('counts have zero on their axis, areas and bars are stacked', () => {
    for (const form of ['stacked', 'bars'] as const)
      expect(config({ form, as: 'number' }).options!.scales!.y).toMatchObject({ stacked: true, beginAtZero: true })
  })
})

test('of more lines than can be told apart the first have their colours, the others are pale', () => {
  const [line] = result.lines
  const groups = Array.from({ length: 20 }, (_, i) => row({ value: `g${i}` }, [20 - i, i]))
  const many = { ...result, lines: [{ ...line, groups }], keys: groups.map(({ key }) => key!) }
  const { datasets } = trendConfig({
    result: many,
    question: { ...question, show: { form: 'lines', as: 'number' } },
    palette: light,
    words: { thisYear: 2026 },
    width: 900,
    selected: [],
  }).data
  const colours = datasets.map(({ borderColor }) => String(borderColor).slice(0, 7))
  expect(colours.slice(0, 7)).toEqual(light.series.slice(0, 7))
  expect(new Set(colours.slice(7))).toEqual(new Set([light.faint]))
})

test.each([
  [7, 7],
  [8, 7],
  [12, 7],
])('of %i groups %i have a colour, and no colour comes twice', (many, coloured) => {
  const [line] = result.lines
  const groups = Array.from({ length: many }, (_, i) => row({ value: `g${i}` }, [20 - i, i]))
  const { datasets } = trendConfig({
    result: { ...result, lines: [{ ...line, groups }], keys: groups.map(({ key }) => key!) },
    question,
    palette: light,
    words: { thisYear: 2026 },
    width: 900,
    selected: [],
  }).data
  const colours = datasets
    .map(({ borderColor }) => String(borderColor).slice(0, 7))
    .filter((each) => each !== light.faint)
  expect(colours).toHaveLength(coloured)
  expect(new Set(colours).size).toBe(coloured)
})

test('an axis says which series and formulas it is of, once each, however many groups they have', () => {
  const [line] = result.lines
  const two: TrendQuestion = {
    ...question,
    series: [
      { event: { names: ['Ride'] }, measure: 'people', name: 'riders' },
      { event: { names: ['Ride'] }, measure: 'sum', of: { of: 'event', name: 'fare' }, name: 'fares' },
    ],
  }
  const { scales } = trendConfig({
    result: { ...result, lines: [line, { ...line, of: { series: 1 }, name: 'b', unit: 'number' }] },
    question: two,
    palette: light,
    words: { thisYear: 2026 },
    width: 900,
    selected: [],
  }).options!
  expect(scales!.y).toMatchObject({ position: 'left', title: { display: true, text: 'riders' } })
  expect(scales!.y2).toMatchObject({ position: 'right', title: { display: true, text: 'fares' } })
})

test('what notes say has room above the lines, where there is width to say it', () => {
  const annotations = [{ id: 'n1', day: '2026-11-10', text: 'New docks', tags: [], study: null }]
  const yOf = (width: number, notes: typeof annotations) =>
    trendConfig({
      ...{ result, question, palette: light, width, selected: [] },
      words: { thisYear: 2026, annotations: notes },
    }).options!.scales!.y
  expect(yOf(900, annotations)).toMatchObject({ grace: '8%' })
  expect(yOf(900, [])).not.toHaveProperty('grace')
  expect(yOf(300, annotations)).not.toHaveProperty('grace')
})

test('labels at the ends of lines are moved apart, kept in order and inside the chart', () => {
  const placed = spread([{ y: 100 }, { y: 101 }, { y: 102 }, { y: 199 }], 0, 200)
  const ys = placed.map(({ y }) => y)
  for (let i = 1; i < ys.length; i++) expect(ys[i] - ys[i - 1]).toBeGreaterThanOrEqual(14)
  expect(ys[0]).toBeGreaterThanOrEqual(0)
  expect(ys.at(-1)).toBeLessThanOrEqual(200)
})

test('the table as rows: heads, groups, all together; what is open is said', async () => {
  expect(await tableOf(question, result, { thisYear: 2026 })).toEqual([
    ['Plan', 'Whole time', '2026-11-09', '2026-11-16 (still open)'],
    ['Annual', 9, 30, 10],
    ['Everything else (3 groups)', 9, 10, null],
    ['All together', 9, 40, 20],
  ])
})
