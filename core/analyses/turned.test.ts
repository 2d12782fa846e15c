import { describe, expect, test } from 'vitest'
import { eventsIn } from '../questions/named.js'
import { analyses, parseQuestion, type AnalysisKind, type Question } from './registry.js'
import { turnedInto } from './turned.js'

/** A study of one kind becomes one of another, with what fits of it. */
const kinds = (Object.keys(analyses) as AnalysisKind[]).filter((kind) => kind !== 'overlap' && kind !== 'effect')
const where = { property: { of: 'event' as const, name: 'bike_type' }, op: 'is' as const, values: ['cargo'] }
const among = { rule: { kind: 'segment' as const, segment: 's1' } }
const range = { from: '2026-03-01', to: '2026-06-30' }
const PLAN = { by: { of: 'person' as const, name: 'plan' }, keep: 5 }
const read = (input: object): Question => {
  const { question, faults } = parseQuestion(input)
  expect(faults).toEqual([])
  return question
}
const funnel = read({
  ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range, among, breakdowns: [PLAN] },
  steps: [{ event: { names: ['Signed up'] } }, { event: { names: ['Ride completed'] }, where }],
})

describe.each(kinds)('a funnel as %s', (kind) => {
  test('keeps its events, its condition, its time, its people and its groups', () => {
    const turned = turnedInto(kind, funnel)! as Question & { breakdowns?: unknown; rows?: unknown }
    expect(turned.kind).toBe(kind)
    expect(parseQuestion(turned)).toEqual({ question: turned, faults: [] })
    expect(turned).toMatchObject(kind === 'likelihood' ? { among } : { range, among })
    // What early behaviour goes with is asked of all together.
    expect(turned.breakdowns ?? turned.rows).toEqual(kind === 'tipping' || kind === 'likelihood' ? undefined : [PLAN])
    expect(eventsIn(turned).names).toContain('Ride completed')
    expect(JSON.stringify(turned)).toContain(JSON.stringify(where))
  })

  test('and back again is about the same event', () => {
    expect(eventsIn(turnedInto('funnel', turnedInto(kind, funnel)!)!).names).toContain('Ride completed')
  })
})

test('what the other kind does not take is left out, all else stays', () => {
  const trend = read({
    ...{ kind: 'trend', every: 'hour', range: { last: 24, unit: 'hour' }, show: { form: 'lines', as: 'number' } },
    series: [{ event: { names: ['Ride completed'] }, measure: 'sum', of: { of: 'event', name: 'minutes' } }],
    breakdowns: [{ by: { of: 'event', name: 'bike_type' }, keep: 5 }, PLAN],
  })
  for (const kind of kinds) {
    const turned = turnedInto(kind, trend)!
    expect(parseQuestion(turned).faults).toEqual([])
    expect(eventsIn(turned).names).toEqual(['Ride completed'])
  }
  // People have no bike type of their own.
  expect(turnedInto('habit', trend)).toHaveProperty('breakdowns', [PLAN])
})

test('an overlap is about segments: it becomes nothing else, and nothing becomes one', () => {
  const overlap = analyses.overlap.usual('Ride completed')
  expect(turnedInto('trend', overlap)).toBeNull()
  expect(turnedInto('overlap', funnel)).toBeNull()
})
