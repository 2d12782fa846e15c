import { describe, expect, test } from 'vitest'
import { answer, logOf, MONDAY, type TestEvent } from '../../../tests/eventLog.js'
import { said } from '../../../tests/said.js'
import type { CrosstabResult } from './finish.js'
import { crosstabFindings } from './findings.js'
import type { CrosstabQuestion } from './question.js'

/** What a table says, from rides that are made to say it. */
const by = (name: string) => ({ by: { of: 'event' as const, name }, keep: 10 })
const question: CrosstabQuestion = {
  ...{ kind: 'crosstab', every: 'week', range: { from: '2026-01-05', to: '2026-01-11' }, rows: [by('district')] },
  ...{ series: [{ event: { names: ['ride'] }, measure: 'events' }], show: { cells: 'bars', beside: 'trend' } },
}
/** So many rides of one district and bike, each by a person of its own. */
const rides = (district: string | null, bike: string, many: number, minutes = 10): TestEvent[] =>
  Array.from({ length: many }, (_, i) => ({
    ...{ person: `${district}-${bike}-${i}`, event: 'ride', time: MONDAY + i },
    properties: { ...(district === null ? {} : { district }), bike, minutes },
  }))
function read(events: TestEvent[], more: Partial<CrosstabQuestion> = {}) {
  const asked = { ...question, ...more }
  return said(
    crosstabFindings(answer<CrosstabResult>(logOf(events), asked), asked, {
      thisYear: 2026,
    }),
  )
}

describe('the largest row', () => {
  test('with its share of all, and the smallest', () => {
    const events = [...rides('Quayside', 'pedal', 60), ...rides('Hill', 'pedal', 30), ...rides(null, 'pedal', 10)]
    expect(read(events).findings).toEqual([
      'By District, Quayside comes first with 60 (times people did ride), 60 % of all; no value comes last with 10.',
    ])
  })
  test('of an average has no share of all, and few people are warned of', () => {
    const events = [...rides('Quayside', 'pedal', 40, 10), ...rides('Hill', 'pedal', 4, 20)]
    const minutes = { of: 'event', name: 'minutes' } as const
    const { findings, cautions } = read(events, {
      series: [{ event: { names: ['ride'] }, measure: 'average', of: minutes }],
    })
    expect(findings).toEqual([
      'By District, Hill comes first with 20 (average of Minutes in ride); Quayside comes last with 10.',
    ])
    expect(cautions).toEqual(['1 row is of fewer than 30 people: a few of them can move the figure.'])
  })
  test('is none where all are alike, or there is one alone', () => {
    expect(read([...rides('Quayside', 'pedal', 40), ...rides('Hill', 'pedal', 40)]).findings).toEqual([
      '80 (times people did ride) in all; no row stands before the others.',
    ])
    expect(read(rides('Quayside', 'pedal', 40)).findings).toEqual(['40 (times people did ride) in all.'])
  })
  test('is never everything else, however large', () => {
    const many = Array.from({ length: 9 }, (_, i) => rides(`d${i}`, 'pedal', 20 - i)).flat()
    const { findings } = read(many, { rows: [{ ...by('district'), keep: 2 }] })
    expect(findings).toEqual([
      'By District, d0 comes first with 20 (times people did ride), 13.9 % of all; d1 comes last with 19.',
    ])
  })
})

describe('the cell that stands out', () => {
  const column = by('bike')
  test('with what its row and column alone suggest', () => {
    // 200 of 400 rides in each row, and 100 of each hundred expected: 150 of 100, half as many again.
    const events = [
      ...rides('Quayside', 'pedal', 150),
      ...rides('Quayside', 'cargo', 50),
      ...rides('Hill', 'pedal', 50),
      ...rides('Hill', 'cargo', 150),
    ]
    expect(read(events, { column }).findings.at(-1)).toMatch(
      /^(Quayside · pedal|Hill · cargo) stands out: 150, 50 % more than the 100 that its row and column alone suggest\.$/,
    )
  })
  test('in words of times where it is twice as many or more', () => {
    const events = [
      ...rides('Quayside', 'pedal', 10),
      ...rides('Quayside', 'cargo', 50),
      ...rides('Hill', 'pedal', 430),
      ...rides('Hill', 'cargo', 10),
    ]
    // 60 × 60 / 500 = 7.2 are expected.
    expect(read(events, { column }).findings.at(-1)).toBe(
      'Quayside · cargo stands out: 50, 6.94 times the 7 that its row and column alone suggest.',
    )
  })
  test('is none where rows and columns explain all of it, or where figures do not add up', () => {
    const even = [
      ...rides('Quayside', 'pedal', 60),
      ...rides('Quayside', 'cargo', 40),
      ...rides('Hill', 'pedal', 60),
      ...rides('Hill', 'cargo', 40),
    ]
    expect(read(even, { column }).findings).toEqual([
      '200 (times people did ride) in all; no row stands before the others.',
    ])
    const average = { series: [{ event: { names: ['ride'] }, measure: 'events per person' as const }], column }
    expect(
      read([...rides('Quayside', 'pedal', 150), ...rides('Hill', 'cargo', 150)], average).findings.join(),
    ).not.toContain('stands out')
  })
})

test('people in two rows are warned of, and have no share of all', () => {
  const both = [...rides('Quayside', 'pedal', 40), ...rides('Hill', 'pedal', 30)].map((each, i) => ({
    ...each,
    person: `p${i % 40}`,
  }))
  const { findings, cautions } = read(both, { series: [{ event: { names: ['ride'] }, measure: 'people' }] })
  expect(findings).toEqual([
    'By District, Quayside comes first with 40 (people who did ride); Hill comes last with 30.',
  ])
  expect(cautions).toEqual([
    'A person can be in several rows or columns, so that people do not add up to the totals. The totals count each person once.',
  ])
})
