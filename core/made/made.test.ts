import { atOnce } from '../steps.js'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  answer,
  days,
  eventLog,
  logOf,
  madeBase,
  MONDAY,
  peopleIn,
  type TestEvent,
  type TestLog,
} from '../../tests/eventLog.js'
import type { TrendResult } from '../analyses/trend/finish.js'
import type { TrendQuestion } from '../analyses/trend/question.js'
import type { FunnelResult } from '../analyses/funnel/finish.js'
import type { Value } from '../log/values.js'
import type { Filter } from '../questions/parts.js'
import { makeReady, MadeCache } from './columns.js'
import { derivedSchema, type Mending, type Recipe } from './definitions.js'
import { linkPart } from './evaluate.js'
import { findNever } from './never.js'
import { countRules, previewMade } from './preview.js'
import { findCircle } from './refs.js'
import { chancesIn, scoreColumn } from './scores.js'
import { caughtBy } from './tryEvent.js'

const made = (name: string, recipe: Recipe, of: 'event' | 'person' = 'event') => ({ name, of, description: '', recipe })
const event = (name: string) => ({ of: 'event' as const, name })

/** Events of one person on following days, each with some properties. */
function did(properties: Record<string, Value>[], more: Partial<TestEvent> = {}): TestEvent[] {
  return properties.map((each, i) => ({
    ...{ person: `p${i}`, event: 'did', time: MONDAY + days(1) + i },
    properties: each,
    ...more,
  }))
}

function groupsBy(log: TestLog, name: string, events: TrendQuestion['series'][0]['event'] = { names: ['did'] }) {
  const result = answer<TrendResult>(log, {
    kind: 'trend',
    series: [{ event: events, measure: 'events' }],
    every: 'day',
    range: { from: '2026-01-05', to: '2026-01-31' },
    breakdowns: [{ by: event(name), keep: 50 }],
    show: { form: 'lines', as: 'number' },
  })
  return Object.fromEntries(
    result.lines[0].groups.map(({ key, total }) => [key && 'value' in key ? String(key.value) : 'rest', total]),
  )
}
const groupsOf = (properties: Record<string, Value>[], recipe: Recipe) =>
  groupsBy(logOf(did(properties), { mending: { derived: [made('x', recipe)] } }), 'x')

describe('derived properties', () => {
  test('arithmetic: a missing value, a text and ÷ 0 are gaps', () => {
    const recipe: Recipe = { kind: 'arithmetic', formula: 'fare / minutes' }
    const rows: Record<string, Value>[] = [
      { fare: 6, minutes: 4 },
      { fare: 3, minutes: 2 },
      { fare: 6 },
      { fare: 'six', minutes: 1 },
    ]
    expect(groupsOf([...rows, { fare: 1, minutes: 0 }], recipe)).toEqual({ '1.5': 2, null: 3 })
  })

  test('texts are joined; no value anywhere makes no value', () => {
    const parts = [{ property: event('a') }, { text: ' → ' }, { property: event('b') }]
    expect(groupsOf([{ a: 'x', b: 'y' }, { a: 'x', b: 2 }, { a: 'x' }], { kind: 'joined', parts })).toEqual({
      'x → y': 1,
      'x → 2': 1,
      null: 1,
    })
  })

  test('parts of a date are read in the workspace’s zone, from a property or the event’s own time', () => {
    // Monday 23:30 UTC is Tuesday 00:30 in Berlin.
    const late = {
      person: 'a',
      event: 'did',
      time: MONDAY + days(7) + 84_600_000,
      properties: { when: '2026-01-05T23:30:00Z' },
    }
    const zone = 'Europe/Berlin'
    const asked = (recipe: Recipe) => {
      const log = logOf([late], { zone, mending: { derived: [made('x', recipe)] } })
      const base = madeBase(log, { calendar: { zone, firstDayOfWeek: 1 } })
      return atOnce(previewMade(made('x', recipe), base)).values[0]?.text
    }
    const time = { of: 'time' } as const
    expect(asked({ kind: 'date part', input: time, part: 'weekday' })).toBe('Tuesday')
    expect(asked({ kind: 'date part', input: time, part: 'hour' })).toBe('0')
    expect(asked({ kind: 'date part', input: event('when'), part: 'day' })).toBe('2026-01-06')
    expect(asked({ kind: 'date part', input: event('when'), part: 'week' })).toBe('2026-01-05')
    expect(asked({ kind: 'date part', input: event('when'), part: 'month' })).toBe('January')
  })

  test.each([
    ['https://www.Example.org:80/shop/item.html?utm_source=news&q=a+b#top', 'host', '', 'example.org'],
    ['https://example.org/shop/item.html?q=1', 'path', '', '/shop/item.html'],
    ['https://example.org', 'path', '', '/'],
    ['/shop/item?q=1', 'path', '', '/shop/item'],
    ['/shop/item', 'host', '', null],
    ['example.org/shop', 'host', '', 'example.org'],
    ['example.org/shop', 'first folder', '', 'shop'],
    ['/a/b.PDF', 'file ending', '', 'pdf'],
    ['/a?q=a+b%21', 'query value', 'q', 'a b!'],
    ['/a?q=%', 'query value', 'q', '%'],
    ['/a', 'query value', 'q', null],
  ] as const)('of %s the %s %s is %s', (link, part, key, result) => expect(linkPart(link, part, key)).toBe(result))

  test('the first rule that holds gives the value; none is no value', () => {
    const is = (name: string, ...values: string[]): Filter => ({ property: event(name), op: 'is', values })
    const rows: Recipe = {
      kind: 'rules',
      rows: [
        { where: is('from', 'ad'), gives: { text: 'Paid' } },
        { where: { all: [is('from', 'mail'), { property: event('n'), op: '>', number: 3 }] }, gives: { text: 'Mail' } },
        { where: is('from', 'mail', 'ad'), gives: { property: event('from') } },
      ],
    }
    const data: Record<string, Value>[] = [
      { from: 'ad' },
      { from: 'mail', n: 4 },
      { from: 'mail', n: 3 },
      { from: 'web' },
    ]
    expect(groupsOf(data, rows)).toEqual({ Paid: 1, Mail: 1, mail: 1, null: 1 })
    expect(groupsOf(data, { ...rows, otherwise: { text: 'Other' } })).toEqual({ Paid: 1, Mail: 1, mail: 1, Other: 1 })
  })

  test('a look-up list leaves other values as they are, or takes them away, or names them', () => {
    const data: Record<string, Value>[] = [{ c: 'PT' }, { c: 'DE' }, { n: 1 }]
    const list = (otherwise: Extract<Recipe, { kind: 'look-up' }>['otherwise']): Recipe => ({
      ...{ kind: 'look-up', input: event('c'), table: [['PT', 'Portugal']], otherwise },
    })
    expect(groupsOf(data, list('as it is'))).toEqual({ Portugal: 1, DE: 1, null: 1 })
    expect(groupsOf(data, list('no value'))).toEqual({ Portugal: 1, null: 2 })
    expect(groupsOf(data, list({ text: 'Elsewhere' }))).toEqual({ Portugal: 1, Elsewhere: 1, null: 1 })
  })

  test('one may be made from another, and be used in filters, funnels and of people', () => {
    const profiles = { ada: { born: 1960 }, grace: { born: 2001 } }
    const derived: Mending['derived'] = [
      made('age', { kind: 'arithmetic', formula: '2026 - born' }, 'person'),
      made(
        'band',
        {
          kind: 'rules',
          rows: [{ where: { property: { of: 'person', name: 'age' }, op: '<', number: 30 }, gives: { text: 'young' } }],
          otherwise: { text: 'older' },
        },
        'person',
      ),
    ]
    const log = eventLog({ ada: 'view@1d buy@2d', grace: 'view@1d' }, { profiles, mending: { derived } })
    const band = { of: 'person', name: 'band' } as const
    const question = (where?: Filter): TrendQuestion => ({
      kind: 'trend',
      series: [{ event: { names: ['view'] }, measure: 'people', ...(where ? { where } : {}) }],
      every: 'day',
      range: { from: '2026-01-05', to: '2026-01-31' },
      show: { form: 'lines', as: 'number' },
    })
    expect(peopleIn(log, question({ property: band, op: 'is', values: ['young'] }), [{ kind: 'point' }])).toEqual([
      'grace',
    ])
    const funnel = answer<FunnelResult>(log, {
      kind: 'funnel',
      steps: [{ event: { names: ['view'] } }, { event: { names: ['buy'] } }],
      window: { count: 7, unit: 'day' },
      range: { from: '2026-01-05', to: '2026-01-31' },
      breakdowns: [{ by: band, keep: 5 }],
    })
    expect(funnel.groups.map(({ key, steps }) => [key, steps.map((step) => step.people)])).toEqual([
      [{ value: 'older' }, [1, 1]],
      [{ value: 'young' }, [1, 0]],
    ])
  })

  test('a breakdown by one gives what a plain property with the same values gives, for any cut of the data', () => {
    const channel = (from: unknown, n: unknown) => (from === 'a' ? 'A' : from === 'b' && Number(n) > 1 ? 'B' : 'other')
    const row = fc.record({
      person: fc.constantFrom('x', 'y', 'z'),
      event: fc.constantFrom('did', 'saw'),
      from: fc.constantFrom('a', 'b', 'c', undefined),
      n: fc.constantFrom(1, 2, undefined),
    })
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 40 }), (rows) => {
        const events = rows.map(({ person, event: name, from, n }, i) => ({
          ...{ person, event: name, time: MONDAY + i },
          properties: {
            ...(from === undefined ? {} : { from }),
            ...(n === undefined ? {} : { n }),
            plain: channel(from, n),
          },
        }))
        const is = (value: string): Filter => ({ property: event('from'), op: 'is', values: [value] })
        const recipe: Recipe = {
          kind: 'rules',
          rows: [
            { where: is('a'), gives: { text: 'A' } },
            { where: { all: [is('b'), { property: event('n'), op: '>', number: 1 }] }, gives: { text: 'B' } },
          ],
          otherwise: { text: 'other' },
        }
        const log = logOf(events, { mending: { derived: [made('x', recipe)] } })
        const all = { activity: true } as const
        expect(groupsBy(log, 'x', all)).toEqual(groupsBy(log, 'plain', all))
      }),
    )
  })
})

describe('merged and combined', () => {
  const rides: TestEvent[] = [
    { person: 'ada', event: 'Ride', time: MONDAY + 1, properties: { bike_type: 'cargo', fare: 2 } },
    { person: 'ada', event: 'ride_old', time: MONDAY + 2, properties: { bikeType: 'pedal', price: 3 } },
    { person: 'grace', event: 'ride_old', time: MONDAY + 3, properties: { bike_type: 'cargo' } },
  ]
  const people = (log: TestLog, name: string) =>
    answer<TrendResult>(log, {
      kind: 'trend',
      series: [{ event: { names: [name] }, measure: 'people' }],
      every: 'day',
      range: { from: '2026-01-05', to: '2026-01-31' },
      show: { form: 'lines', as: 'number' },
    }).lines[0].all.total

  test('an old event counts as the one it is merged into, under both names; taken back, it is apart again', () => {
    const log = logOf(rides, { mending: { mergedEvents: { ride_old: 'Ride' } } })
    expect([people(log, 'Ride'), people(log, 'ride_old')]).toEqual([2, 2])
    expect([people(logOf(rides), 'Ride'), people(logOf(rides), 'ride_old')]).toEqual([1, 2])
  })

  test('an old property is read as the right one, whichever an event carries', () => {
    const mergedProperties = [{ of: 'event' as const, from: 'bikeType', into: 'bike_type' }]
    const log = logOf(rides, { mending: { mergedProperties, mergedEvents: { ride_old: 'Ride' } } })
    expect(groupsBy(log, 'bike_type', { names: ['Ride'] })).toEqual({ cargo: 2, pedal: 1 })
    expect(groupsBy(log, 'bikeType', { names: ['Ride'] })).toEqual({ cargo: 2, pedal: 1 })
  })

  test('a combined event counts several types as one, with a property from the right one of each', () => {
    const combined = [
      {
        ...{ name: 'Any ride', description: '', events: ['Ride', 'ride_old'] },
        properties: [{ name: 'paid', from: { Ride: 'fare', ride_old: 'price' } }],
      },
    ]
    const log = logOf(rides, { mending: { combined } })
    expect(people(log, 'Any ride')).toBe(2)
    expect(groupsBy(log, 'paid', { names: ['Any ride'] })).toEqual({ '2': 1, '3': 1, null: 1 })
  })

  test('a column is made once, and made anew when the profiles it reads change', () => {
    const derived = [made('x', { kind: 'joined', parts: [{ property: { of: 'person', name: 'plan' } }] })]
    const log = eventLog({ ada: 'did@1d' }, { profiles: { ada: { plan: 'Day' } }, mending: { derived } })
    const cache = new MadeCache()
    const ask = { event: { names: ['did'] }, by: event('x') }
    const base = madeBase(log)
    const [first] = atOnce(makeReady(ask, base, cache))
    expect(atOnce(makeReady(ask, base, cache))).toEqual([])
    const again = { ...log.log, made: [] }
    expect(atOnce(makeReady(ask, { ...base, logs: [again] }, cache))[0].column).toBe(first.column)
    const changed = { ...log.log, made: [], profiles: log.log.profiles.map((column) => ({ ...column })) }
    expect(atOnce(makeReady(ask, { ...base, logs: [changed] }, cache))[0].column).not.toBe(first.column)
  })

  test('a column is made anew under another clock, and as of another moment where it asks for that', () => {
    const hour = made('hour', { kind: 'date part', input: { of: 'time' }, part: 'hour' })
    const due = made('due', {
      kind: 'rules',
      rows: [{ where: { property: event('at'), op: 'in the last', last: 3, unit: 'day' }, gives: { text: 'soon' } }],
      otherwise: { text: 'long ago' },
    })
    // Made from what asks for the moment, it asks for it as well.
    const marked = made('marked', { kind: 'joined', parts: [{ property: event('due') }, { text: '!' }] })
    const log = logOf(did([{ at: '2026-01-07T10:00:00Z' }]), { mending: { derived: [hour, due, marked] } })
    const cache = new MadeCache()
    const first = (name: string, more: Partial<ReturnType<typeof madeBase>>) => {
      atOnce(makeReady({ event: { names: ['did'] }, by: event(name) }, { ...madeBase(log), ...more }, cache))
      const info = log.schema.made[log.schema.madeCode('event', name)!]
      const column = log.log.made[log.schema.typesNamed('did')![0]].get(log.schema.madeCode('event', name)!)!
      return column.codes ? info.dictionary.values[column.codes[0]] : column.numbers![0]
    }
    expect(first('hour', {})).toBe(0)
    expect(first('hour', { calendar: { zone: 'Asia/Tokyo', firstDayOfWeek: 1 } })).toBe(9)
    expect(first('hour', {})).toBe(0)
    const soon = Date.UTC(2026, 0, 8)
    expect(first('due', { now: soon })).toBe('soon')
    expect(first('marked', { now: soon })).toBe('soon!')
    expect(first('due', { now: soon + days(5) })).toBe('long ago')
    expect(first('marked', { now: soon + days(5) })).toBe('long ago!')
  })
})

describe('before it is saved', () => {
  test('a circle is named', () => {
    const needs = (name: string, input: string) => made(name, { kind: 'arithmetic', formula: `${input} + 1` })
    expect(findCircle([needs('a', 'b'), needs('b', 'c'), needs('c', 'a')])).toEqual(['a', 'b', 'c', 'a'])
    expect(findCircle([needs('a', 'a')])).toEqual(['a', 'a'])
    expect(findCircle([needs('a', 'b'), needs('b', 'c')])).toBeNull()
  })

  test('one in a circle with itself gives no value rather than no answer', () => {
    expect(groupsOf([{ y: 1 }], { kind: 'arithmetic', formula: 'x + 1' })).toEqual({ null: 1 })
  })

  test('the preview tells values, gaps with their reasons, and what was read', () => {
    const log = logOf(did([{ fare: 6, minutes: 4 }, { fare: 6 }, { fare: 'six', minutes: 1 }, { fare: 1, minutes: 0 }]))
    const preview = atOnce(previewMade(made('x', { kind: 'arithmetic', formula: 'fare / minutes' }), madeBase(log)))
    expect(preview).toMatchObject({ total: 4, valued: 1, faults: [], values: [{ text: '1.5', count: 1 }] })
    expect(new Set(preview.gaps.map(({ reason }) => reason))).toEqual(
      new Set(['minutes has no value', 'fare is not a number there', 'it would divide by zero']),
    )
    expect(preview.samples.at(-1)).toEqual({
      event: 'did',
      inputs: [
        { name: 'fare', text: '6' },
        { name: 'minutes', text: '4' },
      ],
      value: '1.5',
    })
  })

  test('an unknown property is a fault with its place', () => {
    const { faults } = atOnce(
      previewMade(made('x', { kind: 'arithmetic', formula: 'fares * 2' }), madeBase(logOf(did([{ fare: 6 }])))),
    )
    expect(faults).toMatchObject([{ path: ['formula'], code: 'unknown_property', got: 'fares', want: 'fare' }])
  })

  test('each row is counted by what it catches first, people once', () => {
    const rows: Recipe = {
      kind: 'rules',
      rows: [
        { where: { property: event('s'), op: 'is', values: ['ad'] }, gives: { text: 'Paid' } },
        { where: { property: event('s'), op: 'has a value' }, gives: { text: 'Other' } },
      ],
    }
    const events = [...did([{ s: 'ad' }, { s: 'mail' }, {}]), ...did([{ s: 'ad' }])]
    expect(atOnce(countRules(rows, madeBase(logOf(events)))).rows).toEqual([
      { events: 2, people: 1 },
      { events: 1, people: 1 },
      { events: 1, people: 1 },
    ])
  })

  test('what only the fallback catches is told by its commonest values', () => {
    const rows: Recipe = {
      kind: 'rules',
      rows: [{ where: { property: event('s'), op: 'is', values: ['ad'] }, gives: { text: 'Paid' } }],
    }
    const events = did([{ s: 'ad' }, { s: 'mail' }, { s: 'post' }, { s: 'mail' }, {}])
    expect(atOnce(countRules(rows, madeBase(logOf(events)))).left).toEqual([
      {
        property: event('s'),
        values: [
          { text: 'mail', count: 2 },
          { text: 'post', count: 1 },
        ],
      },
    ])
  })

  test('an event that is made up is caught as a real one would be', () => {
    const person = { of: 'person' as const, name: 'plan' }
    const rows: Extract<Recipe, { kind: 'rules' }> = {
      kind: 'rules',
      rows: [
        {
          where: {
            all: [
              { property: event('s'), op: 'is', values: ['ad'] },
              { property: event('n'), op: '>', number: 3 },
            ],
          },
          gives: { text: 'a' },
        },
        { where: { property: { of: 'source' }, op: 'is', values: ['web'] }, gives: { text: 'b' } },
        { where: { property: person, op: 'has no value' }, gives: { text: 'c' } },
      ],
    }
    const caught = (s: Value | null, n: Value | null, source: Value | null, plan: Value | null) =>
      caughtBy(
        rows,
        [
          { property: event('s'), value: s },
          { property: event('n'), value: n },
          { property: { of: 'source' }, value: source },
          { property: person, value: plan },
        ],
        { zone: 'UTC', firstDayOfWeek: 1 },
        MONDAY,
      )
    expect(caught('ad', 4, 'web', 'Annual')).toBe(0)
    expect(caught('ad', 3, 'web', 'Annual')).toBe(1)
    expect(caught('ad', null, null, null)).toBe(2)
    expect(caught(null, 9, 'app', 'Annual')).toBe(3)
  })

  test('a definition that is not whole is refused with words', () => {
    const bad = derivedSchema.safeParse({ name: ' ', of: 'event', recipe: { kind: 'joined', parts: [] } })
    expect(bad.error!.issues.map(({ message }) => message)).toEqual(['give it a name', 'join at least one property'])
  })
})

describe('the first and the latest touch of a person', () => {
  const touch = (which: 'first' | 'latest', name: string) =>
    made(which, { kind: 'touch', which, property: event(name) }, 'person')
  const both = (name: string) => [touch('first', name), touch('latest', name)]
  /** events by what the person's touch was when each happened */
  const groups = (log: TestLog, name: string, event: TrendQuestion['series'][0]['event']) =>
    Object.fromEntries(
      answer<TrendResult>(log, {
        ...{ kind: 'trend', series: [{ event, measure: 'events' }], every: 'day' },
        ...{ range: { from: '2026-01-05', to: '2026-01-31' }, show: { form: 'lines', as: 'number' } },
        breakdowns: [{ by: { of: 'person', name }, keep: 50 }],
      }).lines[0].groups.map(({ key, total }) => [key && 'value' in key ? String(key.value) : 'rest', total]),
    )
  const at = (person: string, event: string, day: number, properties: Record<string, Value> = {}): TestEvent => ({
    ...{ person, event, time: MONDAY + days(day), properties },
  })

  test('hold from the event on that carries them, whatever its type, and not before', () => {
    const log = logOf(
      [
        ...[at('a', 'buy', 1), at('a', 'click', 2, { s: 'ad' }), at('a', 'buy', 3), at('a', 'click', 4, { s: 'mail' })],
        ...[at('a', 'buy', 5), at('b', 'buy', 1)],
      ],
      { mending: { derived: both('s') } },
    )
    expect(groups(log, 'first', { names: ['buy'] })).toEqual({ null: 2, ad: 2 })
    expect(groups(log, 'latest', { names: ['buy'] })).toEqual({ null: 2, ad: 1, mail: 1 })
  })

  test('of channel rules, what only the fallback catches is no touch', () => {
    const channel = {
      ...made('Channel', {
        kind: 'rules',
        rows: [{ where: { property: event('s'), op: 'is', values: ['ad'] }, gives: { text: 'Paid' } }],
        otherwise: { text: 'Direct' },
      }),
      channels: true as const,
    }
    const list = [at('a', 'open', 1), at('a', 'open', 2, { s: 'ad' }), at('a', 'open', 3), at('b', 'open', 1)]
    const log = logOf(list, { mending: { derived: [channel, ...both('Channel')] } })
    expect(groups(log, 'latest', { names: ['open'] })).toEqual({ null: 2, Paid: 2 })
  })

  test('are as a plain reading of each person’s events has them', () => {
    const step = fc.record({
      person: fc.constantFrom('a', 'b', 'c'),
      event: fc.constantFrom('x', 'y'),
      day: fc.integer({ min: 0, max: 20 }),
      s: fc.constantFrom('ad', 'mail', null),
    })
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 30, size: 'max' }), (list) => {
        const events = list.map(({ person, event, day, s }) => at(person, event, day, s === null ? {} : { s }))
        const log = logOf(events, { mending: { derived: both('s') } })
        const wanted = { first: new Map<string, number>(), latest: new Map<string, number>() }
        // Of events of one moment the one that arrived first comes first; as of a moment all of it has happened.
        const sorted = events
          .map((each, arrival) => ({ ...each, arrival }))
          .sort((a, b) => a.time - b.time || a.arrival - b.arrival)
        for (const each of sorted) {
          const own = sorted.filter(
            ({ person, time, properties }) =>
              person === each.person && time <= each.time && properties?.s !== undefined,
          )
          for (const [which, found] of [
            ['first', own[0]],
            ['latest', own.at(-1)],
          ] as const) {
            const key = String(found?.properties?.s ?? null)
            wanted[which].set(key, (wanted[which].get(key) ?? 0) + 1)
          }
        }
        for (const which of ['first', 'latest'] as const)
          expect(groups(log, which, { activity: true })).toEqual(Object.fromEntries(wanted[which]))
      }),
    )
  })

  test('a preview tells whose events carry none', () => {
    const log = logOf([at('a', 'x', 1, { s: 'ad' }), at('b', 'x', 2)])
    const { valued, total, gaps, values } = atOnce(previewMade(touch('first', 's'), madeBase(log)))
    expect([valued, total, gaps, values]).toEqual([
      ...[1, 2, [{ reason: 'none of their events carries it', count: 1 }], [{ text: 'ad', count: 1 }]],
    ])
  })
})

describe('chances as properties', () => {
  const study = { kind: 'likelihood' as const, days: 7 }
  const chance = (part: 'score' | 'tenth') => ({ kind: 'chance' as const, part, study })
  // Twelve people, from the likeliest on, in two pieces; person 0 is not scored.
  const scored = {
    people: [
      [1, 2, 3, 4, 5],
      [6, 7, 8, 9, 10, 11, 12],
    ],
    scores: [
      [0.9, 0.8, 0.7, 0.6, 0.5],
      [0.4, 0.3, 0.2, 0.1, 0.05, 0.02, 0.01],
    ],
    order: Int32Array.from([-1, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]),
    tenths: [0, 1, 2, 4, 5, 6, 7, 8, 10, 11, 12],
  }

  test('stand in percent, and as the tenth that a person’s place is in', () => {
    const percent = [...scoreColumn('score', scored, 13).numbers!]
    expect(percent.slice(0, 3)).toEqual([NaN, 90, 80])
    expect(percent[12]).toBeCloseTo(1)
    expect([...scoreColumn('tenth', scored, 13).numbers!]).toEqual([NaN, 1, 2, 3, 3, 4, 5, 6, 7, 8, 8, 9, 10])
  })

  test('of too few to learn from nobody has one', () =>
    expect([...scoreColumn('tenth', null, 2).numbers!]).toEqual([NaN, NaN]))

  test('are found where a question reads them, also through what is made of them', () => {
    const derived = [
      made('likely', chance('score'), 'person'),
      made('half', { kind: 'arithmetic', formula: 'likely / 2' }, 'event'),
    ]
    const { schema } = logOf(did([{ fare: 6 }]), { mending: { derived } })
    expect(chancesIn({ by: event('half') }, schema)).toEqual([chance('score')])
    expect(chancesIn({ by: event('fare') }, schema)).toEqual([])
  })

  test('a question about itself has no values, and needs none', () => {
    const derived = [made('likely', chance('score'), 'person')]
    const log = logOf(did([{ fare: 6 }]), { mending: { derived } })
    expect(groupsBy(log, 'fare')).toEqual({ 6: 1 })
    atOnce(makeReady({ by: { of: 'person', name: 'likely' } }, madeBase(log), new MadeCache()))
    expect([...log.log.madeProfiles.values()]).toEqual([])
  })
})

describe('rows that can never match', () => {
  const is = (...values: string[]): Filter => ({ property: event('s'), op: 'is', values })
  const more = (op: '>' | '<', number: number): Filter => ({ property: event('n'), op, number })
  const starts: Filter = { property: event('s'), op: 'starts with', text: 'ne' }
  test.each<[string, Filter[], (string | null)[]]>([
    ['the same twice', [is('a'), is('a')], [null, 'covered']],
    ['narrower after wider', [is('a', 'b'), { all: [is('a'), more('>', 1)] }], [null, 'covered']],
    ['wider after narrower', [{ all: [is('a'), more('>', 1)] }, is('a')], [null, null]],
    ['a value caught by another comparison', [starts, is('news', 'next')], [null, 'covered']],
    ['values each caught by a row of its own', [is('a'), is('b'), is('a', 'b')], [null, null, 'covered']],
    ['two ranges that exclude one another', [{ all: [more('>', 5), more('<', 3)] }], ['contradiction']],
    ['anything after no condition', [{ all: [] }, is('a')], [null, 'covered']],
    ['alternatives are given the benefit of the doubt', [is('a'), { any: [is('a'), is('c')] }], [null, null]],
    ['no value and a value', [{ all: [{ property: event('s'), op: 'has no value' }, is('a')] }], ['contradiction']],
  ])('%s', (_what, filters, expected) => {
    const found = findNever(filters.map((where) => ({ where, gives: { text: 'x' } })))
    expect(found.map((never) => never?.why ?? null)).toEqual(expected)
  })
})
