import { describe, expect, test } from 'vitest'
import { planEventSchema } from '../../core/plan/plan.js'
import { clockIn, dayIn } from './days.js'
import { allowIn, likelyEvent, likelyName } from './remedies.js'
import { weeksWords } from './weeksWords.js'

const ride = planEventSchema.parse({
  name: 'Ride',
  properties: [
    { name: 'minutes', kind: 'number', required: true },
    { name: 'bike', kind: 'text', allowed: ['pedal'], pattern: '^p' },
  ],
})
const allow = (rule: Parameters<typeof allowIn>[1]['rule'], property: string, values: string[] = []) =>
  allowIn(ride, { rule, property }, values, () => 'number').properties.find(({ name }) => name === property)

describe('allowing a problem widens the plan just so far', () => {
  test('an unknown property is taken in with the type it has', () =>
    expect(allow('unknown property', 'km')).toMatchObject({ kind: 'number', required: false }))
  test('a missing one becomes optional', () =>
    expect(allow('missing property', 'minutes')).toMatchObject({ required: false }))
  test('one of another type may be of any', () => expect(allow('wrong type', 'minutes')).toMatchObject({ kind: 'any' }))
  test('values are added to those allowed, once each', () =>
    expect(allow('value not allowed', 'bike', ['cargo', 'pedal'])).toMatchObject({ allowed: ['pedal', 'cargo'] }))
  test('a pattern is dropped', () => expect(allow('pattern not matched', 'bike')).not.toHaveProperty('pattern'))
  test('the plan that was given stays as it is', () => expect(ride.properties[0]).toMatchObject({ required: true }))
})

describe('the right name that is proposed', () => {
  test.each([
    ['bikeType', ['plan', 'bike_type'], 'bike_type'],
    ['Bike type', ['bike_type'], 'bike_type'],
    ['minuts', ['minutes', 'km'], 'minutes'],
    ['colour', ['minutes', 'km'], undefined],
  ])('for %s among %j is %s', (name, names, expected) => expect(likelyName(name, names)).toBe(expected))

  test('for an old event is the one that carries mostly the same', () => {
    const planned = [
      { name: 'Ride completed', properties: ['minutes', 'km', 'fare', 'bike_type'] },
      { name: 'Ride unlocked', properties: ['bike_type', 'dock'] },
    ]
    expect(likelyEvent(['minutes', 'km', 'fare', 'bikeType'], planned)).toBe(undefined)
    expect(likelyEvent(['minutes', 'km', 'fare', 'bike_type', 'helmet'], planned)).toBe('Ride completed')
    expect(likelyEvent(['bike_type'], planned)).toBe(undefined)
  })
})

describe('what stands out in the last weeks', () => {
  test.each<[string, number[], string | null]>([
    ['steady', [10, 11, 10, 9, 10, 11, 10, 9], null],
    ['few', [0, 1, 0, 2, 3, 9, 1, 0], null],
    ['risen', [10, 10, 10, 10, 60, 60, 60, 60], 'Up 6-fold on the four weeks before.'],
    ['fallen', [50, 50, 50, 50, 4, 4, 4, 4], 'Down to 8 % of the four weeks before.'],
    ['stopped', [50, 50, 50, 50, 50, 50, 0, 0], 'None in the last 2 weeks.'],
  ])('%s', (_what, weeks, words) => expect(weeksWords(weeks).words).toBe(words))
})

test('days and clocks are those of the zone', () => {
  const ms = Date.UTC(2026, 6, 1, 23, 30, 5)
  expect(dayIn(ms, 'Europe/Lisbon')).toBe('2026-07-02')
  expect(clockIn(ms, 'Europe/Lisbon', ms)).toEqual({ day: null, time: '00:30:05' })
  expect(clockIn(ms, 'UTC', ms + 86_400_000)).toEqual({ day: '2026-07-01', time: '23:30:05' })
})
