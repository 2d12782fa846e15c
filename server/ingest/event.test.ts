import { describe, expect, test } from 'vitest'
import { eventSchema, readEvent, readPerson, timeOf } from './event.js'
import { LIMITS } from './limits.js'

const NOW = Date.UTC(2026, 9, 8, 12)
const good = {
  person: 'ada',
  event: 'Ride completed',
  time: '2026-10-08T07:12:03.250Z',
  properties: { minutes: 14.5, helmet: true, remarks: ['brakes'] },
}
const reasonOf = (event: unknown) => {
  const read = readEvent(event, () => 'text', NOW)
  return 'reason' in read ? read.reason : 'taken'
}

describe('an event', () => {
  test('is taken with its id, ids, time and properties', () => {
    expect(readEvent({ ...good, id: 'e1', anonymous: 'c1', source: 'mobile app' }, () => '', NOW)).toEqual({
      id: 'e1',
      known: 'ada',
      anonymous: 'c1',
      event: 'Ride completed',
      timeMs: Date.UTC(2026, 9, 8, 7, 12, 3, 250),
      source: 'mobile app',
      properties: good.properties,
    })
  })

  test('without an id gets one from its content: the same bytes are the same event', () => {
    const id = (content: string) => (readEvent(good, () => content, NOW) as { id: string }).id
    expect(id('{"a":1}')).toBe(id('{"a":1}'))
    expect(id('{"a":1}')).not.toBe(id('{"a":2}'))
  })

  test('without a time happened when it was received', () => {
    const { time: _time, ...rest } = good
    expect(readEvent(rest, () => '', NOW)).toMatchObject({ timeMs: NOW })
  })

  test('loses properties that are null, and keeps one that is called __proto__', () => {
    const { properties } = readEvent(
      JSON.parse('{"person":"a","event":"e","properties":{"__proto__":"x","gone":null}}'),
      () => '',
      NOW,
    ) as { properties: object }
    expect(Object.entries(properties)).toEqual([['__proto__', 'x']])
  })
})

describe('what is refused says why', () => {
  test.each<[object | string, RegExp]>([
    ['text', /not a JSON object/],
    [[], /not a JSON object/],
    [{ ...good, person: undefined }, /neither "person" nor "anonymous"/],
    [{ ...good, event: ' ' }, /name, is missing/],
    [{ ...good, event: 'x'.repeat(201) }, /201 characters, at most 200/],
    [{ ...good, time: 'yesterday' }, /"yesterday" cannot be read/],
    [{ ...good, time: '2026-02-30T00:00:00Z' }, /cannot be read/],
    [{ ...good, time: '1969-12-31T23:59:59Z' }, /before 1970-01-01, the oldest that this workspace takes/],
    [{ ...good, time: 1_790_000_000 }, /are these seconds\? Milliseconds are expected/],
    [{ ...good, time: NOW + LIMITS.aheadMs + 1 }, /more than a day in the future/],
    [{ ...good, properties: { long: 'ä'.repeat(4097) } }, /"long" has 8194 bytes/],
    [
      { ...good, properties: Object.fromEntries(Array.from({ length: 201 }, (_, i) => [`p${i}`, 1])) },
      /201 properties, at most 200/,
    ],
    [{ ...good, properties: { inner: { a: 1 } } }, /"inner" is an object/],
    [{ ...good, properties: { list: [1, 2] } }, /list of something other than texts/],
    [{ ...good, propertys: {} }, /"propertys" is not known/],
  ])('%o', (event, reason) => expect(reasonOf(event)).toMatch(reason))

  test('the limits themselves are still taken', () => {
    expect(reasonOf({ ...good, event: 'x'.repeat(200), time: NOW + LIMITS.aheadMs })).toBe('taken')
    expect(reasonOf({ ...good, properties: { long: 'x'.repeat(8192) } })).toBe('taken')
    expect(reasonOf({ ...good, time: LIMITS.earliestMs })).toBe('taken')
  })

  test('a profile needs a person and properties', () => {
    expect(readPerson({ properties: {} }, NOW)).toMatchObject({ reason: expect.stringMatching(/"person"/) as string })
    expect(readPerson({ person: 'ada', properties: { plan: null } }, NOW)).toMatchObject({
      ...{ properties: { plan: null }, writtenMs: NOW, timed: false },
    })
    expect(readPerson({ person: 'ada', time: '2026-03-01T10:00:00Z', properties: {} }, NOW)).toMatchObject({
      ...{ writtenMs: Date.UTC(2026, 2, 1, 10), timed: true },
    })
    expect(readPerson({ person: 'ada', time: NOW + 3 * 86_400_000, properties: {} }, NOW)).toMatchObject({
      reason: expect.stringMatching(/more than a day in the future/) as string,
    })
  })
})

test('times: anything finer than a millisecond is cut off, offsets are read, none means UTC', () => {
  const at = Date.UTC(2026, 9, 8, 7, 12, 3)
  expect(timeOf('2026-10-08T07:12:03.999999Z', NOW)).toBe(at + 999)
  expect(timeOf('2026-10-08T09:12:03+02:00', NOW)).toBe(at)
  expect(timeOf('2026-10-08 07:12:03', NOW)).toBe(at)
  expect(timeOf(at + 0.9, NOW)).toBe(at)
})

test('the contract of the API takes what the check takes, and refuses what it refuses', () => {
  const samples: object[] = [
    good,
    { ...good, person: 5 },
    { ...good, event: '' },
    { ...good, properties: { a: [1] } },
    { ...good, extra: 1 },
    { anonymous: 'c', event: 'e' },
    { ...good, properties: { a: {} } },
  ]
  for (const sample of samples)
    expect([sample, eventSchema.safeParse(sample).success]).toEqual([sample, reasonOf(sample) === 'taken'])
})
