import { describe, expect, test } from 'vitest'
import { parseQuestion } from '../analyses/registry.js'
import { faultWords, nearest } from './faults.js'

const good = {
  kind: 'trend',
  series: [{ event: { names: ['ride'] }, measure: 'people' }],
  every: 'week',
  range: { last: 12, unit: 'week' },
  show: { form: 'bars', as: 'number' },
}

describe('a definition that is partly wrong', () => {
  test('a right one is taken as it is', () => {
    expect(parseQuestion(good)).toEqual({ question: good, faults: [] })
  })

  test('keeps what is right, and tells the place of what is not', () => {
    const { question, faults } = parseQuestion({ ...good, every: 'fortnight' })
    expect(question).toMatchObject({ every: 'week', show: { form: 'bars' }, series: good.series })
    expect(faults.map(({ path }) => path)).toEqual([['every']])
    expect(faultWords(faults[0])).toMatch(/^Each: /)
  })

  test('several mistakes are all told', () => {
    const { faults } = parseQuestion({ ...good, every: 1, range: { last: 0, unit: 'week' }, colour: 'red' })
    expect(faults.map(({ path }) => path[0]).sort()).toEqual(['colour', 'every', 'range'])
  })

  test('a bad filter of one step leaves the other steps alone', () => {
    const { question, faults } = parseQuestion({
      kind: 'funnel',
      steps: [
        { event: { names: ['view'] } },
        { event: { names: ['buy'] }, where: { property: { of: 'event', name: 'P' }, op: 'resembles', text: 'x' } },
      ],
      window: { count: 3, unit: 'day' },
      range: { last: 4, unit: 'week' },
    })
    expect(question).toMatchObject({
      kind: 'funnel',
      steps: [{ event: { names: ['view'] } }, { event: { names: ['buy'] } }],
      window: { count: 3 },
    })
    expect(faults).toHaveLength(1)
    expect(faultWords(faults[0])).toMatch(/^Step 2: /)
  })

  test.each([null, 7, 'x', [], {}, { kind: 'pie' }])('%o gives the usual question and one fault', (input) => {
    const { question, faults } = parseQuestion(input)
    expect(question.kind).toBe('trend')
    expect(faults).toHaveLength(1)
  })

  test('a funnel without steps gets the usual one', () => {
    const { faults } = parseQuestion({ kind: 'funnel', steps: [], range: { last: 4, unit: 'week' } })
    expect(faults[0]).toMatchObject({ path: ['steps'], want: 'at least one step' })
  })
})

test('the nearest name is found, but none that is far', () => {
  expect(nearest('Ride complete', ['Ride completed', 'Ride rated'])).toBe('Ride completed')
  expect(nearest('Payment', ['Ride completed', 'Ride rated'])).toBeUndefined()
})
