import { describe, expect, test } from 'vitest'
import { answer, eventLog, faultsOf } from '../../tests/eventLog.js'
import type { Fault } from '../questions/faults.js'
import type { CrosstabQuestion } from './crosstab/question.js'
import type { FunnelQuestion } from './funnel/question.js'
import type { Question } from './registry.js'
import { restOf, withEdited } from './rest.js'
import type { TrendResult } from './trend/finish.js'
import type { TrendQuestion } from './trend/question.js'

const log = eventLog({ ada: 'ride@0d ride@1d open@0d', bea: 'open@0d open@8d', cai: 'ride@9d' })
const range = { from: '2026-01-05', to: '2026-01-18' }
const two: TrendQuestion = {
  kind: 'trend',
  series: [
    { event: { names: ['ride'] }, measure: 'people', name: 'riders' },
    { event: { names: ['open'] }, measure: 'people' },
  ],
  formulas: [{ formula: 'riders / b', unit: 'percent' }],
  every: 'week',
  range,
  show: { form: 'lines', as: 'number' },
}
const unknown = { names: ['nobody did this'] }
const side = { by: { of: 'segments' as const, sides: [{ segment: 'gone' }] }, keep: 10 }
const plan = { by: { of: 'person' as const, name: 'plan' }, keep: 10 }

/** Answers what can be, in rounds, as the engine does. */
function partly(question: Question): { question: Question; faults: Fault[][] } | null {
  const told: Fault[][] = []
  let left: Question | null = question
  while (left) {
    const faults: Fault[] = faultsOf(log, left)
    if (faults.length === 0) return { question: left, faults: told }
    told.push(faults)
    left = restOf(left, faults)
  }
  return null
}
const totals = (question: Question) =>
  answer<TrendResult>(log, question).lines.map(({ all }) => all.values.map((value) => value ?? null))

describe('a trend', () => {
  test('with a formula that cannot be read shows its series', () => {
    const found = partly({ ...two, formulas: [{ formula: '(riders / zz', unit: 'percent' }] })!
    const { formulas: _formulas, ...plain } = two
    expect(found.question).toEqual(plain)
    expect(totals(found.question)).toEqual([
      [1, 1],
      [2, 1],
    ])
  })

  test('with an event that never came shows the other series, and no formula that is made of it', () => {
    const [riders] = two.series
    const found = partly({ ...two, series: [riders, { event: unknown, measure: 'people' }] })!
    expect(found.faults.map((faults) => faults.map(({ code }) => code))).toEqual([['unknown_event'], ['bad_formula']])
    expect(found.question).toMatchObject({ series: [riders] })
    expect(found.question).not.toHaveProperty('formulas')
    expect(totals(found.question)).toEqual([[1, 1]])
  })

  test('keeps the names that formulas know the others by', () => {
    const third = { event: { names: ['ride'] }, measure: 'events' as const }
    const found = partly({
      ...two,
      series: [{ event: unknown, measure: 'people' }, two.series[1], third],
      formulas: [{ formula: 'c / b', unit: 'number' }],
    })!
    // In week 1 two rides and two who opened, in week 2 one and one.
    expect(totals(found.question)).toEqual([
      [2, 1],
      [2, 1],
      [1, 1],
    ])
  })

  test('shows series that only stood for a formula when none of those is left', () => {
    const hidden = two.series.map((series) => ({ ...series, hidden: true as const }))
    const found = partly({ ...two, series: hidden, formulas: [{ formula: 'riders /', unit: 'number' }] })!
    expect((found.question as TrendQuestion).series.every((series) => !series.hidden)).toBe(true)
  })

  test('of which nothing is known has no answer', () => {
    expect(partly({ ...two, series: [{ event: unknown, measure: 'people' }], formulas: [] })).toBeNull()
  })

  test('is never asked among others, or of another time, than was wanted', () => {
    const fault = (path: Fault['path']): Fault[] => [{ path, code: 'invalid' }]
    expect(
      restOf({ ...two, among: { rule: { kind: 'segment', segment: 'gone' } } }, fault(['among', 'rule'])),
    ).toBeNull()
    expect(restOf(two, fault(['range']))).toBeNull()
    expect(restOf(two, [])).toBeNull()
  })

  test('edited in its chart keeps what could not be answered', () => {
    const rest = restOf(two, [{ path: ['formulas', 0], code: 'bad_formula' }]) as TrendQuestion
    const changed = { show: { form: 'bars', as: 'number' }, range: { last: 4, unit: 'week' } } as const
    const [riders] = rest.series
    const edited = withEdited(two, rest, { ...rest, ...changed, series: [riders] }, true)
    expect(edited).toEqual({ ...two, ...changed })
  })

  test('edited in its table while another edit is on its way keeps both', () => {
    const compare = { range: 'previous' } as unknown as TrendQuestion['compare']
    const drawn = { ...two, compare } as TrendQuestion
    const onItsWay = { ...drawn, every: 'day' } as TrendQuestion
    const { compare: _compare, ...next } = { ...drawn, show: { ...drawn.show, off: ['riders'] } }
    expect(withEdited(onItsWay, drawn, next)).toEqual({ ...two, every: 'day', show: { ...two.show, off: ['riders'] } })
  })

  test('made into another kind of study is that', () => {
    const next = { ...two, kind: 'crosstab' } as unknown as Question
    expect(withEdited({ ...two, every: 'day' }, two, next)).toBe(next)
  })
})

describe('other kinds', () => {
  const table: CrosstabQuestion = {
    kind: 'crosstab',
    series: two.series,
    every: 'week',
    range,
    rows: [plan, side],
    column: plan,
    show: { cells: 'bars', beside: 'trend' },
  }
  const funnel: FunnelQuestion = {
    kind: 'funnel',
    steps: [{ event: { names: ['open'] } }, { event: { names: ['ride'] } }],
    window: { count: 7, unit: 'day' },
    range,
    breakdowns: [plan],
  }

  test('a table loses a row or column that is not known, and not its last row', () => {
    const without = restOf(table, [
      { path: ['rows', 1, 'by', 'sides', 0], code: 'unknown_segment' },
      { path: ['column', 'by'], code: 'unknown_property' },
    ])
    const { column: _column, ...plain } = table
    expect(without).toEqual({ ...plain, rows: [plan] })
    expect(restOf({ ...table, rows: [side] }, [{ path: ['rows', 0, 'by'], code: 'unknown_segment' }])).toBeNull()
  })

  test('a funnel loses its breakdown, and never a step or a condition', () => {
    const { breakdowns: _breakdowns, ...plain } = funnel
    expect(restOf(funnel, [{ path: ['breakdowns', 0, 'by'], code: 'unknown_property' }])).toEqual(plain)
    expect(restOf(funnel, [{ path: ['steps', 1, 'event'], code: 'unknown_event' }])).toBeNull()
    expect(restOf(funnel, [{ path: ['steps', 1, 'where'], code: 'unknown_property' }])).toBeNull()
  })
})
