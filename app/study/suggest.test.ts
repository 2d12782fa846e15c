import { describe, expect, test } from 'vitest'
import type { Catalog, EventEntry, PropertyEntry } from '../../server/engine/catalog.js'
import { startingQuestion, suggest } from './suggest.js'

const event = (name: string, recent: number, description = '', more: Partial<EventEntry> = {}): EventEntry => ({
  name,
  label: name,
  combined: false,
  recent,
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
  ...{ name, label: '', description, kind: 'text', made: false, deprecated: false, samples: [] },
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
const saved = { studies: [{ id: 's1', name: 'Weekly riders by plan' }], dashboards: [{ id: 'd1', name: 'Onboarding' }] }

describe('a typed question', () => {
  test('names an event in other words, a breakdown and a unit', () => {
    const [first] = suggest('riders each day by district', catalog, { studies: [], dashboards: [] })
    expect(first.question).toMatchObject({
      kind: 'trend',
      series: [{ event: { names: ['Ride completed'] } }],
      every: 'day',
      breakdowns: [{ by: { of: 'event', name: 'district' } }],
    })
    expect(first.label).toBe('How many people did Ride completed each day, for each District?')
  })

  test('finds saved studies and dashboards by their names first', () => {
    expect(suggest('weekly riders', catalog, saved)[0]).toMatchObject({ kind: 'Study', to: '/studies/s1' })
    expect(suggest('onboarding', catalog, saved)[0]).toMatchObject({ kind: 'Dashboard', to: '/dashboards/d1' })
  })

  test('that names nothing known gives nothing', () => {
    expect(suggest('zebra', catalog, saved)).toEqual([])
    expect(suggest('  ', catalog, saved)).toEqual([])
  })
})

test('a new study starts from the most frequent live event, and a funnel goes from the frequent to the rare', () => {
  expect(startingQuestion('trend', catalog)).toMatchObject({ series: [{ event: { names: ['App opened'] } }] })
  expect(startingQuestion('funnel', catalog)).toMatchObject({
    steps: [
      { event: { names: ['App opened'] } },
      { event: { names: ['Ride completed'] } },
      { event: { names: ['Pass bought'] } },
    ],
  })
})
