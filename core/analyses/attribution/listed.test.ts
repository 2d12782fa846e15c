import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { answer, logOf, MONDAY, rangesOf, scanAll, type TestEvent, type TestLog } from '../../../tests/eventLog.js'
import { joinedPieces } from '../../stats/pieces.js'
import { atOnce } from '../../steps.js'
import { analysisOf } from '../registry.js'
import { creditsOf } from './credits.js'
import type { AttributionResult } from './finish.js'
import { conversionAt, conversionList } from './listed.js'
import { creditedBy, creditedWords } from './listedWords.js'
import type { AttributionMark } from './marks.js'
import type { AttributionPlan } from './plan.js'
import { plainModels, usualAttribution, type AttributionQuestion } from './question.js'

const HOUR = 3_600_000
const base: AttributionQuestion = {
  ...usualAttribution('buy'),
  range: { from: '2026-01-05', to: '2026-01-18' },
  by: { of: 'event', name: 'from' },
  lookBack: { count: 3, unit: 'day' },
}
const words = { thisYear: 2026 }

/** The conversions of marks, as the engine lists them. */
function listed(log: TestLog, question: AttributionQuestion, marks: AttributionMark[], cuts: number[] = []) {
  const { plan } = scanAll(log, question, { cuts }, marks)
  const pieces = rangesOf(log, { cuts }).flatMap((range) =>
    analysisOf('attribution').listed!(log.log, range, plan, marks),
  )
  const all = atOnce(conversionList(joinedPieces(pieces), plan as AttributionPlan, marks))
  return { ...all, rows: Array.from(all.starts, (_, i) => conversionAt(all, i)) }
}

const visit = (person: string, hours: number, from: string): TestEvent => ({
  ...{ person, event: 'visit', time: MONDAY + hours * HOUR, properties: { from } },
})
const buy = (person: string, hours: number, price = 1): TestEvent => ({
  ...{ person, event: 'buy', time: MONDAY + hours * HOUR, properties: { price } },
})
const credit = (value: string, model?: AttributionQuestion['models'][number]): AttributionMark => ({
  ...{ kind: 'credit', value: { value } },
  ...(model && { model }),
})

describe('the conversions behind a number', () => {
  const log = logOf([
    ...[visit('p', 0, 'ad'), visit('p', 1, 'mail'), visit('p', 2, 'ad'), buy('p', 3, 10), buy('p', 100, 7)],
    ...[visit('q', 5, 'mail'), buy('q', 5, 4)],
  ])

  test('have their touches, oldest first, with what each earned', () => {
    const { rows, credit: sum, people } = listed(log, base, [credit('ad', 'linear')])
    expect([people, Math.round(sum! * 1000)]).toEqual([1, 667])
    expect(rows).toHaveLength(1)
    expect(rows[0].at).toBe(MONDAY + 3 * HOUR)
    expect(rows[0].touches.map(({ key, at, credit: part }) => [key, (at - MONDAY) / HOUR, part])).toEqual([
      [{ value: 'ad' }, 0, 1 / 3],
      [{ value: 'mail' }, 1, 1 / 3],
      [{ value: 'ad' }, 2, 1 / 3],
    ])
  })

  test('are worth what they carry; by participation a value has it whole, however often it came', () => {
    const question: AttributionQuestion = { ...base, worth: { sum: { of: 'event', name: 'price' } } }
    const { rows, credit: sum, worth } = listed(log, question, [credit('ad', 'participation')])
    expect([sum, worth]).toEqual([10, 10])
    expect(rows[0].touches.map((touch) => touch.credit)).toEqual([5, 10, 5])
  })

  test('without a touch, and of all values, are whole', () => {
    const none = listed(log, base, [{ kind: 'credit', none: true }])
    expect(none.rows.map(({ at, touches }) => [(at - MONDAY) / HOUR, touches])).toEqual([[100, []]])
    expect(listed(log, base, [{ kind: 'credit' }])).toMatchObject({ people: 2, worth: 3, credit: 3 })
  })

  test('of people the first counts, also where another one is listed', () => {
    const both = listed(log, { ...base, worth: 'people' }, [{ kind: 'credit' }])
    expect(both.rows.map(({ worth }) => worth)).toEqual([1, 0, 1])
    expect(listed(log, { ...base, worth: 'people' }, [{ kind: 'credit', none: true }]).worth).toBe(0)
  })

  test('where a model looks at all ways at once, no touch has a share of its own', () => {
    const { rows, credit: sum } = listed(log, { ...base, models: ['removal'] }, [credit('ad', 'removal')])
    expect([sum, rows[0].credit, rows[0].touches[0].credit]).toEqual([null, null, null])
  })

  test('are said with what they are credited with', () => {
    const said = (marks: AttributionMark[], sum: number | null, more: Partial<AttributionQuestion> = {}) =>
      creditedWords({ study: { ...base, ...more }, marks }, { count: 4, credit: sum }, words)
    expect(said([credit('ad')], 3.42)).toBe('credited with 3.4 conversions')
    expect(said([credit('ad')], 1)).toBe('credited with 1 conversion')
    expect(said([credit('ad')], 1234, { worth: 'people' })).toBe('credited with 1,234 people')
    expect(said([credit('ad')], null)).toBe('4 conversions')
    expect(said([{ kind: 'credit', none: true }], 4)).toBe('4 conversions')
    expect(creditedBy({ study: base, marks: [credit('ad'), credit('mail', 'first')] }, words)).toBe(
      'To ad and mail by first touch',
    )
    expect(creditedBy({ study: base, marks: [{ kind: 'credit' }] }, words)).toBeNull()
  })
})

test('what they are credited with is what the table says, by every model, however people are cut', () => {
  const events = fc.array(
    fc.record({
      person: fc.constantFrom('p', 'q', 'r', 's'),
      event: fc.constantFrom('visit', 'visit', 'buy'),
      time: fc.nat({ max: 500 }).map((quarters) => MONDAY + quarters * 900_000),
      properties: fc.record({ from: fc.constantFrom('a', 'b', 'c'), price: fc.nat({ max: 9 }) }),
    }),
    { minLength: 20, maxLength: 60, size: 'max' },
  )
  const models = plainModels.filter((model) => model !== 'removal' && model !== 'shapley')
  const worths = [undefined, 'people', { sum: { of: 'event', name: 'price' } }] as const
  // Names are known also where none of the events has them.
  const seed = [visit('seed', -1000, 'a'), buy('seed', -900)]
  fc.assert(
    fc.property(events, fc.constantFrom(...worths), fc.double({ min: 0, max: 1, noNaN: true }), (list, worth, cut) => {
      const log = logOf([...seed, ...list])
      const question: AttributionQuestion = { ...base, worth, direct: [{ value: 'b' }] }
      const result = answer<AttributionResult>(log, question)
      for (const model of models)
        creditsOf(result.goals[0], result.goals[0].all, model)!.forEach((asked, at) => {
          const mark: AttributionMark = { kind: 'credit', value: result.values[at], model }
          expect(listed(log, question, [mark], [cut]).credit).toBeCloseTo(asked, 6)
        })
    }),
    { numRuns: 40 },
  )
})
