import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { eventLog, logOf, MONDAY } from '../../tests/eventLog.js'
import { blockBytes, cutPeople } from './log.js'
import { Dictionary } from './dictionary.js'
import { kindOf, readDate } from './values.js'

describe('the sorted block', () => {
  test('has each person’s rows together, by time and then arrival, whatever order they came in', () => {
    const event = fc.record({
      person: fc.constantFrom('a', 'b', 'c'),
      event: fc.constantFrom('x', 'y'),
      time: fc.integer({ min: 0, max: 9 }),
    })
    fc.assert(
      fc.property(fc.array(event, { maxLength: 80 }), (events) => {
        const { log, people } = logOf(events)
        for (let i = 0; i < log.people; i++) {
          const rows = Array.from({ length: log.offsets[i + 1] - log.offsets[i] }, (_, n) => log.offsets[i] + n)
          const got = rows.map((row) => [log.time[row], log.arrival[row]])
          const own = events.flatMap((e, n) => (e.person === people[log.person[i] - 1] ? [[e.time, n + 1]] : []))
          expect(got).toEqual(own.sort((a, b) => a[0] - b[0] || a[1] - b[1]))
        }
        expect(log.length).toBe(events.length)
      }),
    )
  })

  test('sorts a long history that came backwards', () => {
    const n = 30_000
    const { log } = logOf(
      Array.from({ length: n }, (_, i) => ({ person: 'a', event: 'x', time: n - i, properties: { i } })),
    )
    const column = log.columns[0].get(0)!
    for (let row = 0; row < n; row += 997) {
      expect(log.time[row]).toBe(row + 1)
      expect(column.numbers![log.slot[row]]).toBe(n - row - 1)
    }
  })

  test('keeps a property only where it occurs, in as few bytes as its values need', () => {
    const { log, schema } = eventLog({
      a: [
        { person: 'a', event: 'x', time: MONDAY, properties: { colour: 'red', n: 1 } },
        { person: 'a', event: 'y', time: MONDAY },
      ],
    })
    const [x, y] = ['x', 'y'].map((name) => log.columns[schema.typeCode(name)!])
    expect([...y.keys()]).toEqual([])
    const colour = x.get(schema.propertyCode('colour')!)!
    expect(colour.codes).toBeInstanceOf(Uint8Array)
    expect(colour.numbers).toBeNull()
    expect(x.get(schema.propertyCode('n')!)!.codes).toBeNull()
    expect(blockBytes(log)).toBeLessThan(200)
  })

  test('is cut into runs of people that cover everybody once', () => {
    const { log } = logOf(Array.from({ length: 100 }, (_, i) => ({ person: `p${i % 17}`, event: 'x', time: i })))
    for (const rows of [1, 7, 50, 1000]) {
      const ranges = cutPeople(log, rows)
      expect(ranges.flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i))).toEqual(
        Array.from({ length: 17 }, (_, i) => i),
      )
    }
  })
})

describe('values', () => {
  test('codes are given once and stay; a list knows its different elements', () => {
    const dictionary = new Dictionary()
    const [red, list, yes] = [dictionary.code('red'), dictionary.code(['red', 'blue', 'red']), dictionary.code(true)]
    expect([dictionary.code('red'), dictionary.code(['red', 'blue', 'red']), dictionary.code(true)]).toEqual([
      red,
      list,
      yes,
    ])
    expect(dictionary.code(false)).not.toBe(yes)
    expect(dictionary.code([])).toBe(0)
    expect(dictionary.elements.get(list)).toEqual([red, dictionary.code('blue')])
  })

  test('the text true, the list of it and the truth value are three', () => {
    const dictionary = new Dictionary()
    expect(new Set([dictionary.code('true'), dictionary.code(true), dictionary.code(['true'])]).size).toBe(3)
  })

  test.each([
    ['2026-10-08', 'date'],
    ['2026-10-08T07:12:03Z', 'date'],
    ['2026-10-08T07:12:03.123+02:00', 'date'],
    ['2026-10-08T07:12:03', 'text'],
    ['2026-02-30', 'text'],
    ['2026-10-08 was a Thursday', 'text'],
    ['20261008', 'text'],
    ['', 'text'],
    [7, 'number'],
    [NaN, null],
    [false, 'boolean'],
    [['a'], 'list'],
    [[], null],
    [null, null],
  ])('%j is %s', (value, kind) => expect(kindOf(value)).toBe(kind))

  test('a date without a time is the start of its local day', () => {
    expect(readDate('2026-10-08', (day) => Date.parse(`${day}T05:00:00Z`))).toBe(Date.UTC(2026, 9, 8, 5))
  })
})
