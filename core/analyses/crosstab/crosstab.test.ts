import { sentenceText } from '../../words/sentence.js'
import { describe, expect, test } from 'vitest'
import { answer, eventLog, faultsOf, MONDAY, peopleIn, type TestEvent } from '../../../tests/eventLog.js'
import type { CrosstabResult } from './finish.js'
import type { CrosstabQuestion } from './question.js'
import { standsOut } from './findings.js'
import { crosstabSentence } from './sentence.js'

const district = { of: 'event', name: 'district' } as const
const bike = { of: 'event', name: 'bike' } as const
const minutes = { of: 'event', name: 'minutes' } as const

const ride = (person: string, day: number, district: string, bike: string, minutes: number): TestEvent => ({
  ...{ person, event: 'ride', time: MONDAY + day * 86_400_000 },
  properties: { district, bike, minutes },
})
/** Six rides of three people: Ada rides in both districts. */
const log = eventLog({
  ada: [
    ride('ada', 0, 'harbour', 'cargo', 10),
    ride('ada', 8, 'old town', 'cargo', 30),
    ride('ada', 9, 'harbour', 'city', 20),
  ],
  bea: [ride('bea', 1, 'harbour', 'city', 5), ride('bea', 2, 'harbour', 'city', 15)],
  cai: [ride('cai', 3, 'marsh', 'tandem', 60)],
})
const ask = (more: Partial<CrosstabQuestion> = {}): CrosstabQuestion => ({
  kind: 'crosstab',
  series: [{ event: { names: ['ride'] }, measure: 'people' }],
  every: 'week',
  range: { from: '2026-01-05', to: '2026-01-18' },
  rows: [{ by: district, keep: 10 }],
  show: { cells: 'bars', beside: 'trend' },
  ...more,
})
/** Rows as `harbour/city` with their figures. */
const table = (question: CrosstabQuestion) => {
  const result = answer<CrosstabResult>(log, question)
  const name = (key: CrosstabResult['rows'][number]['path'][number]) =>
    'rest' in key ? '*' : 'value' in key ? key.value : '?'
  return {
    result,
    rows: Object.fromEntries(result.rows.map(({ path, values }) => [path.map(name).join('/'), values])),
    all: result.all.values,
  }
}

describe('rows and columns', () => {
  test('the total of people counts a person in two rows once', () => {
    const { rows, all, result } = table(ask())
    expect(rows).toEqual({ harbour: [2], marsh: [1], 'old town': [1] })
    expect(all).toEqual([3])
    expect(result.overlap).toBe(true)
  })

  test('the values of a property across, with the total of each row and column', () => {
    const { rows, all, result } = table(ask({ column: { by: bike, keep: 10 } }))
    expect(result.columns.map(({ key }) => key)).toEqual([
      { value: 'city' },
      { value: 'cargo' },
      { value: 'tandem' },
      null,
    ])
    expect(rows).toEqual({ harbour: [2, 1, 0, 2], marsh: [0, 0, 1, 1], 'old town': [0, 1, 0, 1] })
    expect(all).toEqual([2, 1, 1, 3])
  })

  test('several measures stand side by side, each with its own events and totals', () => {
    const series: CrosstabQuestion['series'] = [
      { event: { names: ['ride'] }, measure: 'events' },
      { event: { names: ['ride'] }, measure: 'median', of: minutes },
      { event: { names: ['ride'] }, measure: 'events', where: { property: bike, op: 'is', values: ['city'] } },
    ]
    const { rows, all } = table(ask({ series }))
    expect(rows).toEqual({ harbour: [4, 12.5, 3], marsh: [1, 60, 0], 'old town': [1, 30, 0] })
    // The median of all six rides, not of the rows' medians.
    expect(all).toEqual([6, 17.5, 3])
  })

  test('rows lie within rows, kept within each: the others are everything else of their own row', () => {
    const { rows } = table(
      ask({
        rows: [
          { by: district, keep: 1 },
          { by: bike, keep: 1 },
        ],
      }),
    )
    expect(rows).toEqual({ harbour: [2], 'harbour/city': [2], 'harbour/*': [1], '*': [2] })
  })

  test('everything else and no value are left out of rows where they are not wanted, never of the total', () => {
    const { rows, all } = table(ask({ rows: [{ by: district, keep: 1, hideRest: true }] }))
    expect([rows, all]).toEqual([{ harbour: [2] }, [3]])
  })

  test('numbers are cut into ranges', () => {
    const { result } = table(ask({ rows: [{ by: minutes, keep: 10, cuts: { at: [20] } }] }))
    expect(result.rows.map(({ path, values }) => [path, values])).toEqual([
      [[{ range: [null, 20] }], [2]],
      [[{ range: [20, null] }], [2]],
    ])
  })

  test('each row has its measure over time, for the trend beside', () => {
    const { result } = table(ask({ series: [{ event: { names: ['ride'] }, measure: 'events' }] }))
    expect(result.rows[0].trends).toEqual([[3, 1]])
    expect(result.all.trends).toEqual([[4, 2]])
  })

  test('a cell, a row, a column, a total and a point give exactly their people', () => {
    const question = ask({ column: { by: bike, keep: 1 } })
    const people = (mark: object) => peopleIn(log, question, [{ kind: 'cell', row: [], ...mark }]).sort()
    expect(people({ row: [{ value: 'harbour' }], column: { value: 'city' } })).toEqual(['ada', 'bea'])
    expect(people({ row: [{ value: 'harbour' }] })).toEqual(['ada', 'bea'])
    expect(people({ column: { rest: true } })).toEqual(['ada', 'cai'])
    expect(people({})).toEqual(['ada', 'bea', 'cai'])
    expect(people({ row: [{ value: 'harbour' }], bucket: '2026-01-12' })).toEqual(['ada'])
  })

  test('an unknown property is said where it stands', () => {
    const misspelt = { by: { of: 'event', name: 'distrikt' }, keep: 10 } as const
    const fault = { code: 'unknown_property', want: 'district' }
    expect(faultsOf(log, ask({ rows: [misspelt] }))).toMatchObject([{ ...fault, path: ['rows', 0, 'by'] }])
    expect(faultsOf(log, ask({ column: misspelt }))).toMatchObject([{ ...fault, path: ['column', 'by'] }])
  })
})

describe('in words', () => {
  const said = (question: CrosstabQuestion) => sentenceText(crosstabSentence(question, { thisYear: 2026 }))

  test('one measure is a question, several have a line each', () => {
    const rows = [
      { by: district, keep: 10 },
      { by: bike, keep: 5 },
    ]
    expect(said(ask({ rows, column: { by: minutes, keep: 10 } }))).toBe(
      'How many people did ride each week from 5 Jan to 18 Jan, a row for each District and within it each Bike (the 5 largest), a column for each Minutes?',
    )
    const several = ask({ series: [...ask().series, { event: { names: ['ride'] }, measure: 'median', of: minutes }] })
    expect(said(several)).toBe(
      'Each week from 5 Jan to 18 Jan, a row for each District: a = people who did ride; b = median of Minutes in ride',
    )
  })

  test('the cell that differs most from what rows and columns alone let expect', () => {
    // 40 + 60 in the one row, 90 + 10 in the other: 65 and 35 of each hundred are expected.
    const row = (name: string, values: number[]) => ({
      path: [{ value: name }],
      rest: 0,
      values,
      people: values,
      trends: [],
    })
    const column = (key: string | null) => ({
      series: 0,
      key: key === null ? null : { value: key },
      rest: 0,
      name: 'a',
      unit: 'count' as const,
    })
    const result: CrosstabResult = {
      kind: 'crosstab',
      ...{ buckets: [], overlap: false, columns: [column('x'), column('y'), column(null)] },
      rows: [row('p', [40, 60, 100]), row('q', [90, 10, 100])],
      all: row('all', [130, 70, 200]),
    }
    // All four differ equally much; 60 of 35 is the most.
    expect(standsOut(result)).toMatchObject({ value: 60, expected: 35, row: { value: 'p' }, column: { value: 'y' } })
    expect(standsOut({ ...result, rows: [row('p', [65, 35, 100]), row('q', [65, 35, 100])] })).toBeNull()
  })
})
