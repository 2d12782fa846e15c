import { expect, test } from 'vitest'
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
  ...{ name, label: '', description, synonyms: [], kind: 'text', made: false, changes: false, deprecated: false, samples: [] },
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
const near: Near = { catalog, words: { thisYear: 2026 }, zone: 'UTC', segments: [] }

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
    'Do they come back?',
    'How often?',
    'Are we growing or leaking?',
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
