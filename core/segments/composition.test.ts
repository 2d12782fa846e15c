import { atOnce } from '../steps.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { days, eventLog, MONDAY, NOW, UTC, type TestLog } from '../../tests/eventLog.js'
import { bitsOf } from '../../tests/segmentLog.js'
import type { Value } from '../log/values.js'
import type { GroupKey, PropertyRef } from '../questions/parts.js'
import { composition, countByValue, largestGroups, mostApart, type Composition } from './composition.js'

const plan = { of: 'person', name: 'plan' } as const
const context = ({ schema }: TestLog, now = NOW) => ({ schema, calendar: UTC, now })
const composed = (log: TestLog, members: string[], property: PropertyRef = plan, now = NOW) =>
  atOnce(composition([log.log], bitsOf(log, members), property, context(log, now)))!
const rowsOf = ({ rows }: Composition) => rows.map(({ key, members, everyone }) => [key, members, everyone])
const value = (of: string | number | boolean | null): GroupKey => ({ value: of })

/** People `name0`, `name1` … who all rode once, with this profile. */
function crowd(groups: [name: string, many: number, profile: Record<string, Value>][]): TestLog {
  const people = groups.flatMap(([name, many, profile]) =>
    Array.from({ length: many }, (_, i): [string, Record<string, Value>] => [`${name}${i}`, profile]),
  )
  return eventLog(Object.fromEntries(people.map(([name]) => [name, 'ride@0d'])), {
    profiles: Object.fromEntries(people),
  })
}
const some = (name: string, many: number) => Array.from({ length: many }, (_, i) => `${name}${i}`)

describe('who they are', () => {
  const log = eventLog(
    { ada: 'ride@0d', bea: 'ride@1d', cai: 'ride@2d', dot: 'ride@3d', eve: 'ride@40d' },
    { profiles: { ada: { plan: 'Annual' }, bea: { plan: 'Annual' }, cai: { plan: 'Day' }, eve: { plan: 'Day' } } },
  )

  test('each value among the members beside everybody, the commonest among them first', () => {
    const found = composed(log, ['ada', 'cai', 'dot'])
    expect([found.members, found.everyone]).toEqual([3, 5])
    // One each among the members: then those with more among all, no value last.
    expect(rowsOf(found)).toEqual([
      [value('Annual'), 1, 2],
      [value('Day'), 1, 2],
      [value(null), 1, 1],
    ])
    const [annual] = found.rows
    expect(annual).toMatchObject({ share: 1 / 3, usual: 2 / 5 })
    // Of the three members one, of the two others one.
    expect(annual.difference).toBeCloseTo(1 / 3 - 1 / 2)
  })

  test('who has done nothing yet at that time is nobody', () => {
    const found = composed(log, ['ada', 'eve'], plan, MONDAY + days(10))
    expect([found.members, found.everyone]).toEqual([1, 4])
    expect(rowsOf(found)).toEqual([
      [value('Annual'), 1, 2],
      [value('Day'), 0, 1],
      [value(null), 0, 1],
    ])
  })

  test('a list puts a person in the group of each of its elements, once', () => {
    const lists = eventLog(
      { ada: 'ride@0d', bea: 'ride@0d' },
      { profiles: { ada: { likes: ['hills', 'rain', 'hills'] }, bea: { likes: ['rain'] } } },
    )
    const found = composed(lists, ['ada'], { of: 'person', name: 'likes' })
    expect(rowsOf(found)).toEqual([
      [value('rain'), 1, 2],
      [value('hills'), 1, 1],
    ])
    // Shares of people, so that those of a list add up to more than all.
    expect(found.rows.map(({ share }) => share)).toEqual([1, 1])
  })

  test('the text "5", the number 5 and yes are groups of their own', () => {
    const mixed = eventLog(
      { ada: 'ride@0d', bea: 'ride@0d', cai: 'ride@0d' },
      { profiles: { ada: { plan: '5' }, bea: { plan: 5 }, cai: { plan: true } } },
    )
    expect(rowsOf(composed(mixed, [])).map(([key]) => key)).toEqual(
      expect.arrayContaining([value('5'), value(5), value(true)]),
    )
  })

  test('of nobody, and of everybody, there is nothing to compare with', () => {
    for (const members of [[], ['ada', 'bea', 'cai', 'dot', 'eve']])
      for (const row of composed(log, members).rows)
        expect(row).toMatchObject({ difference: null, differenceInterval: null, p: null })
    expect(composed(log, []).rows[0]).toMatchObject({ share: null, interval: null, usual: 2 / 5 })
  })

  test('a property that nobody has is told as null', () => {
    expect(
      atOnce(composition([log.log], bitsOf(log, []), { of: 'person', name: 'shoe_size' }, context(log))),
    ).toBeNull()
  })

  test('over two blocks of people it is as over one', () => {
    const half = (names: string[]) => ({
      ...log.log,
      hidden: Uint8Array.from(log.log.person, (person) => (names.includes(log.people[person - 1]) ? 0 : 1)),
    })
    const members = bitsOf(log, ['ada', 'cai'])
    const logs = [half(['ada', 'bea']), half(['cai', 'dot', 'eve'])]
    expect(atOnce(composition(logs, members, plan, context(log)))).toEqual(
      atOnce(composition([log.log], members, plan, context(log))),
    )
  })

  test('members and the others always make up everybody', () => {
    const people = ['ada', 'bea', 'cai', 'dot', 'eve']
    fc.assert(
      fc.property(fc.subarray(people), (inside) => {
        const outside = people.filter((name) => !inside.includes(name))
        const sumOf = (members: string[]) => atOnce(countByValue([log.log], bitsOf(log, members), plan, context(log)))!
        expect(sumOf(inside).members + sumOf(outside).members).toBe(5)
        const [a, b] = [composed(log, inside), composed(log, outside)]
        for (const row of a.rows) {
          const twin = b.rows.find(({ key }) => JSON.stringify(key) === JSON.stringify(row.key))!
          expect(row.members + twin.members).toBe(row.everyone)
          if (row.difference !== null) expect(row.difference).toBeCloseTo(-twin.difference!)
        }
      }),
      { numRuns: 32 },
    )
  })
})

describe('what sets them apart most', () => {
  // Of 40 members 30 are annual and of 60 others 12; the phone is the same in both; a rare hat is on a member.
  const log = crowd([
    ['in-annual', 29, { plan: 'Annual', phone: 'x', hat: 'none' }],
    ['in-hat', 1, { plan: 'Annual', phone: 'x', hat: 'red' }],
    ['in-day', 10, { plan: 'Day', phone: 'x', hat: 'none' }],
    ['out-annual', 12, { plan: 'Annual', phone: 'x', hat: 'none' }],
    ['out-day', 48, { plan: 'Day', phone: 'x', hat: 'none' }],
  ])
  const members = [...some('in-annual', 29), ...some('in-hat', 1), ...some('in-day', 10)]
  const all = ['plan', 'phone', 'hat'].map((name) => composed(log, members, { of: 'person', name }))

  test('is what is found clearly more, and clearly less, often; what is rare or the same is left out', () => {
    const { more, less } = mostApart(all, 5)
    expect(more.map(({ property, key }) => [property, key])).toEqual([[plan, value('Annual')]])
    expect(less.map(({ property, key }) => [property, key])).toEqual([[plan, value('Day')]])
    expect(more[0].difference).toBeCloseTo(30 / 40 - 12 / 60)
    expect(more[0].z).toBeCloseTo(-less[0].z)
  })

  test('by the z of the pooled proportions, worked out by hand', () => {
    const pooled = 42 / 100
    const z = (30 / 40 - 12 / 60) / Math.sqrt(pooled * (1 - pooled) * (1 / 40 + 1 / 60))
    expect(mostApart(all, 5).more[0].z).toBeCloseTo(z, 10)
  })

  test('is nothing where nothing differs', () => {
    expect(mostApart([composed(log, members, { of: 'person', name: 'phone' })], 5)).toEqual({ more: [], less: [] })
  })

  test('no more are told than asked for', () => {
    expect(mostApart(all, 0)).toEqual({ more: [], less: [] })
  })
})

describe('the groups that most members are in', () => {
  const log = crowd([
    ['a', 5, { plan: 'Annual' }],
    ['d', 3, { plan: 'Day' }],
    ['m', 2, { plan: 'Monthly' }],
    ['n', 4, {}],
  ])
  const keysOf = (members: string[], keep: number) =>
    atOnce(largestGroups([log.log], bitsOf(log, members), plan, keep, context(log)))!

  test('are kept up to so many, and there is always everything else', () => {
    const { keys, rest } = keysOf([...some('a', 1), ...some('d', 3), ...some('m', 2)], 2)
    expect(keys).toEqual([value('Day'), value('Monthly'), { rest: true }])
    expect(rest).toBe(1)
  })

  test('what no member has is none of them', () => {
    const { keys } = keysOf(some('d', 2), 10)
    expect(keys).toEqual([value('Day'), { rest: true }])
  })
})
