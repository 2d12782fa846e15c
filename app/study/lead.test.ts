import { describe, expect, test } from 'vitest'
import type { Catalog, EventEntry, PropertyEntry } from '../../server/engine/catalog.js'
import { parseQuestion } from '../../core/analyses/registry.js'
import type { Near } from '../analyses/leads.js'
import { homeCards, startingQuestion } from './lead.server.js'

const event = (name: string, recent: number, description = '', more: Partial<EventEntry> = {}): EventEntry => ({
  name,
  label: name,
  combined: false,
  recent,
  synonyms: [],
  description,
  passive: false,
  deprecated: false,
  events: recent,
  firstMs: 0,
  lastMs: 1,
  properties: [],
  ...more,
})
const property = (of: 'event' | 'person', name: string, description: string): PropertyEntry => ({
  property: { of, name },
  ...{
    name,
    label: '',
    description,
    synonyms: [],
    kind: 'text',
    made: false,
    changes: false,
    deprecated: false,
    samples: [],
  },
})
const catalog: Catalog = {
  version: 1,
  events: [
    event('App opened', 900, 'The app came to the foreground'),
    event('Ride completed', 500, 'A bike was locked'),
    event('Pass bought', 90),
    event('ride_done_old', 800, '', { deprecated: true }),
    event('Mail opened', 950, '', { passive: true }),
  ],
  properties: [property('event', 'district', ''), property('person', 'plan', 'Pass the person has')],
}
const near: Near = { catalog, words: { thisYear: 2026 }, zone: 'UTC', now: Date.UTC(2026, 10, 22), segments: [] }

test('a new study starts from the most frequent live event, and a funnel goes from the frequent to the rare', async () => {
  expect(await startingQuestion('trend', near)).toMatchObject({ series: [{ event: { names: ['App opened'] } }] })
  expect(await startingQuestion('funnel', near)).toMatchObject({
    steps: [
      { event: { names: ['App opened'] } },
      { event: { names: ['Ride completed'] } },
      { event: { names: ['Pass bought'] } },
    ],
  })
})

test('Home asks in the order of an analyst, each time with studies that stand on the commonest events', async () => {
  const cards = await homeCards(near)
  expect(cards.map(({ title }) => title)).toEqual([
    'How many?',
    'How far do they get?',
    'Which way do they go?',
    'Do they come back?',
    'How often?',
    'Are we growing or leaking?',
    'How long, and how deep?',
    'What brought them?',
  ])
  for (const { looks } of cards)
    for (const { question } of looks) expect(parseQuestion(question)).toEqual({ question, faults: [] })
  const [, , retention, habit, growth] = cards
  for (const { looks } of [retention, habit, growth])
    expect(looks[0].question).toMatchObject({ start: { event: { names: ['App opened'] } } })
})

test('Home without events offers nothing that would not open', async () => {
  for (const { looks } of await homeCards({ ...near, catalog: { ...catalog, events: [], properties: [] } }))
    for (const { question } of looks) expect(parseQuestion(question).faults).toEqual([])
})

describe('starting questions fit the data there is', () => {
  const DAY = 86_400_000
  const now = Date.UTC(2026, 10, 22)
  const of = (events: number, first: string, last: string): Near => ({
    ...near,
    now,
    catalog: {
      ...catalog,
      events: [{ ...event('Visited', 5), events, firstMs: Date.parse(first), lastMs: Date.parse(last) }],
    },
  })

  test('many events up to now are looked at as usual', async () => {
    const dense = of(100_000, '2026-01-01', '2026-11-22')
    expect(await startingQuestion('trend', dense)).toMatchObject({ every: 'week', range: { last: 12, unit: 'week' } })
  })

  test('few in many years by the unit that holds enough, and up to the last of them', async () => {
    const sparse = of(6919, '1997-01-01', '1998-06-30')
    expect(await startingQuestion('trend', sparse)).toMatchObject({
      ...{ every: 'week', range: { from: '1998-04-07', to: '1998-06-30' } },
    })
    const rare = of(810, '1994-03-01', '2020-02-01')
    expect(await startingQuestion('trend', rare)).toMatchObject({
      ...{ every: 'year', range: { from: '1994-03-01', to: '2020-02-01' } },
    })
    expect(await startingQuestion('growth', rare)).toMatchObject({ interval: { unit: 'month' } })
    const going = of(400, '2024-01-01', '2026-11-20')
    expect(await startingQuestion('trend', going)).toMatchObject({
      every: 'quarter',
      range: { last: 12, unit: 'quarter' },
    })
    const [card] = await homeCards(rare)
    expect(JSON.stringify(card!.looks[0]!.question)).toContain('1994-03-01')
    expect(now - Date.parse('2020-02-01')).toBeGreaterThan(DAY)
  })
})
