import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { newFolder } from '../../tests/workspace.js'
import { openDatabase, type Db } from '../store/database.js'
import type { IncomingEvent } from './event.js'
import { peopleStore } from '../store/people.js'
import { eventWriter, type EventWriter } from './writer.js'

let folder: ReturnType<typeof newFolder>
let db: Db
let writer: EventWriter
beforeEach(() => {
  folder = newFolder()
  db = openDatabase(`${folder.dir}/w.db`)
  writer = eventWriter(db)
})
afterEach(() => {
  db.close()
  folder.remove()
})

let count = 0
const event = (known: string | null, anonymous: string | null, more: Partial<IncomingEvent> = {}): IncomingEvent => ({
  id: `e${count++}`,
  known,
  anonymous,
  event: 'did',
  timeMs: 1,
  source: null,
  properties: {},
  ...more,
})
/** Which ids belong together, as sorted lists. */
const people = () => {
  const rows = db
    .prepare<[], { id: string; person: number }>(`SELECT space || ' ' || value AS id, person FROM person_ids`)
    .all()
  const groups = new Map<number, string[]>()
  for (const { id, person } of rows) groups.set(person, [...(groups.get(person) ?? []), id])
  return [...groups.values()].map((ids) => ids.sort().join(', ')).sort()
}

describe('ids', () => {
  test('an event with both ids makes them one person, also for what came before', () => {
    writer.writeEvents([event(null, 'c1'), event('ada', null), event('ada', 'c1')], 1)
    expect(people()).toEqual(['anonymous c1, known ada'])
  })

  test('merging is transitive: a device seen with two known people makes them one', () => {
    writer.writeEvents([event('ada', 'c1'), event('grace', 'c2')], 1)
    expect(people()).toHaveLength(2)
    writer.writeEvents([event('grace', 'c1')], 1)
    expect(people()).toEqual(['anonymous c1, anonymous c2, known ada, known grace'])
  })

  test('known and anonymous ids are separate name spaces', () => {
    writer.writeEvents([event('x', null), event(null, 'x')], 1)
    expect(people()).toEqual(['anonymous x', 'known x'])
  })

  test('of two merged profiles the later value of each property wins', () => {
    writer.writePeople([{ known: 'ada', properties: { plan: 'Annual', city: 'A' }, writtenMs: 10 }])
    writer.writePeople([{ known: 'grace', properties: { plan: 'None', city: 'B' }, writtenMs: 20 }])
    writer.writePeople([{ known: 'ada', properties: { city: 'C' }, writtenMs: 30 }])
    writer.writeEvents([event('ada', 'c1'), event('grace', 'c1')], 1)
    const values = db
      .prepare('SELECT name, value FROM profile_values JOIN properties ON id = property ORDER BY name')
      .all()
    expect(values).toEqual([
      { name: 'city', value: '"C"' },
      { name: 'plan', value: '"None"' },
    ])
  })
})

describe('a profile in the course of time', () => {
  const write = (known: string, plan: string | null, writtenMs: number, timed = true) =>
    writer.writePeople([{ known, properties: { plan }, writtenMs, timed }])
  const latest = () => db.prepare('SELECT value FROM profile_values').all()
  const history = (id: string) => {
    const row = db.prepare<[string], { person: number }>('SELECT person FROM person_ids WHERE value = ?').get(id)!
    return peopleStore(db)
      .history(row.person)
      .flatMap(({ held }) => held.map(({ sinceMs, value }) => [sinceMs, value]))
  }

  test('what comes late takes its place, and the latest by time is what the person has', () => {
    write('ada', 'Annual', 30)
    write('ada', 'None', 10)
    expect(latest()).toEqual([{ value: '"Annual"' }])
    write('ada', null, 40)
    expect(latest()).toEqual([])
    write('ada', 'Monthly', 20)
    expect(latest()).toEqual([])
    expect(history('ada')).toEqual([
      [40, null],
      [30, 'Annual'],
      [20, 'Monthly'],
      [10, 'None'],
    ])
  })

  test('of two at one time the later one to arrive holds; what was told again is one', () => {
    write('ada', 'Annual', 10)
    write('ada', 'None', 10)
    write('ada', 'None', 20)
    expect(history('ada')).toEqual([[10, 'None']])
  })

  test('a first value without a time holds from the first, and one alone is no history', () => {
    write('ada', 'None', 50, false)
    expect(history('ada')).toEqual([])
    write('ada', 'Annual', 60)
    expect(history('ada')).toEqual([
      [60, 'Annual'],
      [null, 'None'],
    ])
  })

  test('people who turn out to be one have one history, and go apart with their own', () => {
    write('ada', 'None', 10)
    write('ada', 'Annual', 30)
    write('grace', 'Monthly', 20)
    write('grace', 'None', 40)
    writer.writeEvents([event('ada', 'c1'), event('grace', 'c1')], 1)
    expect(history('grace')).toEqual([
      [40, 'None'],
      [30, 'Annual'],
      [20, 'Monthly'],
      [10, 'None'],
    ])
    const grace = db.prepare<[], { id: number }>(`SELECT id FROM person_ids WHERE value = 'grace'`).get()!
    writer.unmerge(grace.id)
    expect(history('grace')).toEqual([
      [40, 'None'],
      [20, 'Monthly'],
    ])
    expect(history('ada')).toEqual([
      [30, 'Annual'],
      [10, 'None'],
    ])
  })
})

describe('duplicates', () => {
  test('the first stored wins, the second has no effect at all: it merges nobody', () => {
    const first = event('ada', null, { id: 'same', properties: { n: 1 } })
    expect(writer.writeEvents([first, event('grace', 'c1')], 1)).toMatchObject({
      ...{ accepted: 2, duplicates: 0, replaced: 0, knownAt: [] },
    })
    expect(writer.writeEvents([event('ada', 'c1', { id: 'same', properties: { n: 2 } })], 1)).toEqual({
      accepted: 0,
      duplicates: 1,
      replaced: 0,
      knownAt: [0],
    })
    expect(people()).toEqual(['anonymous c1, known grace', 'known ada'])
    expect(db.prepare(`SELECT properties FROM events WHERE event_id = 'same'`).get()).toEqual({ properties: '{"n":1}' })
  })

  test('within one batch as well', () => {
    expect(writer.writeEvents([event('a', null, { id: 'x' }), event('a', null, { id: 'x' })], 1)).toEqual({
      accepted: 1,
      duplicates: 1,
      replaced: 0,
      knownAt: [1],
    })
  })
})

test('a batch is written whole or not at all, and the next one is not confused by it', () => {
  const failing = () =>
    writer.writeEvents([event('ada', 'c1', { event: 'new' })], 1, {
      also: () => {
        throw new Error('the disk is full')
      },
    })
  expect(failing).toThrow('the disk is full')
  expect(db.prepare('SELECT COUNT(*) AS n FROM events').get()).toEqual({ n: 0 })
  writer.writeEvents([event('ada', 'c1', { event: 'new' })], 1)
  expect(people()).toEqual(['anonymous c1, known ada'])
})

test('the catalog counts events and tells the commonest type of each property', () => {
  writer.writeEvents(
    [
      event('a', null, { timeMs: 5, properties: { p: 1 } }),
      event('a', null, { timeMs: 3, properties: { p: 2, q: 'x' } }),
      event('a', null, { properties: { p: 'text' } }),
    ],
    1,
  )
  expect(db.prepare('SELECT events, first_ms, last_ms FROM event_types').get()).toEqual({
    events: 3,
    first_ms: 1,
    last_ms: 5,
  })
  expect(db.prepare(`SELECT numbers, texts FROM properties WHERE name = 'p'`).get()).toEqual({ numbers: 2, texts: 1 })
})
