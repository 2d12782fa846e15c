import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { costsIn, dayNumber, dayText, lastDayOf, readAmount, type CostRow } from './costs.js'
import { readCosts } from './readCosts.js'

const read = (text: string, names: string[] = []) =>
  readCosts(
    text.split('\n').map((line) => line.split(';')),
    names,
  )
const reasons = (text: string) => read(text).problems.map(({ line, reason }) => `${line}: ${reason}`)

describe('a table of costs', () => {
  test('by day and by week, under any of the usual heads', () => {
    expect(read('day;value;amount\n2026-10-08;Search;12.5').rows).toEqual([
      { day: '2026-10-08', days: 1, value: 'Search', amount: 12.5 },
    ])
    expect(read('Spend;Channel;Week\n1,234.50;Search;2026-W41\n7;Mail;2026-10-12', ['channel']).rows).toEqual([
      { day: '2026-10-05', days: 7, value: 'Search', amount: 1234.5 },
      { day: '2026-10-12', days: 7, value: 'Mail', amount: 7 },
    ])
    // The first week of a year is the one of 4 January.
    expect(read('week;value;amount\n2026-W01;a;1\n2026-W53;b;1').rows.map(({ day }) => day)).toEqual([
      '2025-12-29',
      '2026-12-28',
    ])
    expect(read('date;what;cost\n2026-10-08;a;3,5').rows[0].amount).toBe(3.5)
  })

  test('what cannot be read is told with its line, and the others are kept', () => {
    const text = [
      ...['day;value;amount', '2026-02-30;a;1', '2026-02-01;;1', '2026-02-01;a;much', '2026-02-01;a;-1'],
      ...['', '2026-02-01;a;1', '2026-02-01;a;2'],
    ].join('\n')
    expect(reasons(text)).toEqual([
      '2: “2026-02-30” is no day such as 2026-10-08',
      '3: it names no value',
      '4: “much” is no amount',
      '5: what was paid is less than 0',
      '8: a has a cost for 2026-02-01 already, in line 7',
    ])
    expect(read(text).rows).toHaveLength(1)
    expect(reasons('week;value;amount\n2027-W53;a;1')).toEqual([
      '2: “2027-W53” is no week such as 2026-W41, or day it begins on',
    ])
    expect(reasons('when;what\n1;2')[0]).toBe(
      '1: the first line names the columns, and has none called “day” or “week”, none “value”, none “amount”',
    )
  })

  test('weeks that overlap count a day twice, which is told', () => {
    expect(reasons('week;value;amount\n2026-10-05;a;1\n2026-10-11;a;1')).toEqual([
      '3: a has a cost for 2026-10-11 already, in line 2',
    ])
    expect(reasons('week;value;amount\n2026-10-05;a;1\n2026-10-12;a;1\n2026-10-05;b;1')).toEqual([])
  })
})

describe('what was paid in a time', () => {
  const week: CostRow = { day: '2026-10-05', days: 7, value: 'a', amount: 70 }

  test('a week that reaches over the edge counts by its days; days without any row are told in runs', () => {
    const day: CostRow = { day: '2026-10-14', days: 1, value: 'b', amount: 3 }
    const found = costsIn([week, day], { firstDay: '2026-10-10', lastDay: '2026-10-16' })
    // 10 and 11 October are two of the seven.
    expect([...found.amounts]).toEqual([
      ['a', 20],
      ['b', 3],
    ])
    expect(found).toMatchObject({ total: 23, parts: 1, days: 7 })
    expect(found.missing).toEqual([
      { from: '2026-10-12', to: '2026-10-13', days: 2 },
      { from: '2026-10-15', to: '2026-10-16', days: 2 },
    ])
  })

  test('two times that meet have together what the whole has', () => {
    const rows = fc.array(
      fc.record({
        day: fc.nat({ max: 60 }).map((n) => dayText(dayNumber('2026-09-01') + n)),
        days: fc.constantFrom(1 as const, 7 as const),
        value: fc.constantFrom('a', 'b'),
        amount: fc.nat({ max: 100 }),
      }),
      { maxLength: 20, size: 'max' },
    )
    fc.assert(
      fc.property(rows, fc.nat({ max: 58 }), (list, cut) => {
        const at = dayNumber('2026-09-01') + cut
        const total = (firstDay: string, lastDay: string) => costsIn(list, { firstDay, lastDay })
        const [before, after] = [total('2026-09-01', dayText(at)), total(dayText(at + 1), '2026-12-01')]
        const all = total('2026-09-01', '2026-12-01')
        expect(before.total + after.total).toBeCloseTo(all.total, 9)
        // A day has a row or is told as missing, never both.
        const missing = all.missing.reduce((sum, { days }) => sum + days, 0)
        const covered = new Set(
          list.flatMap((row) => Array.from({ length: row.days }, (_, i) => dayNumber(row.day) + i)),
        )
        expect(missing + covered.size).toBe(all.days)
      }),
    )
  })

  test('an amount as it is written or shown; what is no amount is none', () => {
    expect(['1,234.50', '€9,300', '9.300,5', '12,5', '120.50 €', '-3', 'much', '1,2,3'].map(readAmount)).toEqual([
      ...[1234.5, 9300, null, 12.5, 120.5, -3, null, null],
    ])
  })

  test('the last day of a row', () => {
    expect([lastDayOf(week), lastDayOf({ day: '2026-12-31', days: 1 })]).toEqual(['2026-10-11', '2026-12-31'])
  })
})
