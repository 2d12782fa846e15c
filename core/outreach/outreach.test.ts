import { describe, expect, test } from 'vitest'
import { expectedSize } from './expected.js'
import { dueAfter } from './schedule.js'
import { MOST_TRIES, syncSchema, waitMs } from './sync.js'
import { syncSentence } from './words.js'
import { sentenceText } from '../words/sentence.js'

const LISBON = 'Europe/Lisbon'
const utc = (text: string) => Date.parse(`${text}Z`)
const said = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString())

describe('when people are looked at anew', () => {
  test('hours are counted from the start, also where some were missed', () => {
    const start = utc('2026-10-01T10:00:00')
    const every6 = { kind: 'hours', every: 6 } as const
    expect(said(dueAfter(every6, start, start, LISBON))).toBe('2026-10-01T16:00:00.000Z')
    expect(said(dueAfter(every6, utc('2026-10-02T09:59:00'), start, LISBON))).toBe('2026-10-02T10:00:00.000Z')
    expect(said(dueAfter(every6, utc('2026-10-02T10:00:00'), start, LISBON))).toBe('2026-10-02T16:00:00.000Z')
  })

  test('daily at a time of day: that of the zone, summer and winter', () => {
    const at2 = { kind: 'daily', at: '02:30' } as const
    const due = (after: string) => said(dueAfter(at2, utc(after), 0, LISBON))
    expect(due('2026-07-01T00:00:00')).toBe('2026-07-01T01:30:00.000Z')
    expect(due('2026-12-01T02:30:00')).toBe('2026-12-02T02:30:00.000Z')
  })

  test('a time that the last Sunday of March does not have is due an hour later, once; one that October’s has twice once', () => {
    const at = { kind: 'daily', at: '01:30' } as const
    // 29 March 2026: from 1:00 the clock goes to 2:00. 1:30 becomes 2:30 of summer time, 1:30 UTC.
    const spring = dueAfter(at, utc('2026-03-28T12:00:00'), 0, LISBON)
    expect(said(spring)).toBe('2026-03-29T01:30:00.000Z')
    expect(said(dueAfter(at, spring!, 0, LISBON))).toBe('2026-03-30T00:30:00.000Z')
    // 25 October 2026: 1:30 comes in summer time, 0:30 UTC, and again an hour later.
    const autumn = dueAfter(at, utc('2026-10-24T12:00:00'), 0, LISBON)
    expect(said(autumn)).toBe('2026-10-25T00:30:00.000Z')
    expect(said(dueAfter(at, autumn!, 0, LISBON))).toBe('2026-10-26T01:30:00.000Z')
  })

  test('once is due once', () => {
    expect(dueAfter({ kind: 'once' }, 5, 5, LISBON)).toBeNull()
  })
})

test('the expected size: what it is now, and the 10th and 90th percentile of 28 whole days', () => {
  // The older days do not count. Of 1 … 28 the rank of the 10th percentile is 2.7: 3.7.
  const sizes = [1000, 1000, ...Array.from({ length: 28 }, (_, i) => 28 - i)]
  const found = expectedSize(30, sizes)
  expect(found).toMatchObject({ now: 30, days: 28 })
  expect(found.usual!.low).toBeCloseTo(3.7, 12)
  expect(found.usual!.high).toBeCloseTo(25.3, 12)
  expect(expectedSize(4, [])).toEqual({ now: 4, usual: null, days: 0 })
})

test('tries wait twice as long each time, an hour at most', () => {
  expect(Array.from({ length: MOST_TRIES - 1 }, (_, i) => waitMs(i + 1))).toEqual([5000, 10_000, 20_000, 40_000])
  expect(waitMs(40)).toBe(3_600_000)
})

test('what is kept in step is read as one sentence', () => {
  const names = { segment: () => 'Lapsed riders', destination: () => 'Mail', property: (name: string) => name }
  const words = (more: object) =>
    sentenceText(
      syncSentence(
        syncSchema.parse({ name: 'x', segment: 's', destination: 'd', schedule: { kind: 'once' }, ...more }),
        names,
      ),
    )
  expect(words({})).toBe('Send Lapsed riders to Mail, once, with ids alone.')
  expect(words({ schedule: { kind: 'daily', at: '02:30' }, properties: ['plan', 'age'], onlyNew: true })).toBe(
    'Keep Lapsed riders in step with Mail, daily at 02:30, with plan and age, only those who come in from now on.',
  )
})
