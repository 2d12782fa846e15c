import express from 'express'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import { parquetReadObjects } from 'hyparquet'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../core/analyses/trend/question.js'
import { planEventSchema, type Policy } from '../core/plan/plan.js'
import { apiRouter } from '../server/api/router.js'
import type { Dowser } from '../server/index.js'
import { readSettings } from '../server/settings.js'
import { fill, newFolder, openReady } from './workspace.js'

/** Described, planned, watched and mended, through the server's doors and threads. */
let folder: ReturnType<typeof newFolder>
let dowser: Dowser
let server: Server
let base: string
let write: string
let read: string

const DAY = Date.UTC(2026, 9, 5)
const did = (n: number, event: string, properties: object, more: object = {}) => ({
  ...{ id: `e${n}`, person: `p${n % 3}`, event, time: DAY + n * 60_000, properties },
  ...more,
})

const open = async () => {
  folder = newFolder()
  fill(folder.dir, [
    did(1, 'Ride', { minutes: 5, bike_type: 'cargo' }),
    did(2, 'Ride', { minutes: 7, bike_type: 'pedal' }),
    did(3, 'ride_old', { minutes: 9, bikeType: 'cargo' }),
    did(4, 'Debug', { ok: true }),
  ])
  dowser = await openReady(folder.dir, { DOWSER_THREADS: '1' })
  write = dowser.keys.create('w', 'write', 1)
  read = dowser.keys.create('r', 'read', 1)
  const app = express()
  app.use('/api/v1', apiRouter(dowser, { ...readSettings({}), dataDir: folder.dir }))
  server = createServer(app).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`
}
const close = async () => {
  server.close()
  await dowser.close()
  folder.remove()
}

/** Tests that change the definitions start anew each time; the others share one server. */
function eachAnew(): void {
  beforeEach(open)
  afterEach(close)
}
function together(): void {
  beforeAll(open)
  afterAll(close)
}

async function send(body: unknown, headers: Record<string, string> = {}) {
  const response = await fetch(`${base}/events`, {
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers: { authorization: `Bearer ${write}`, 'content-type': 'application/json', ...headers },
  })
  return { status: response.status, body: (await response.json()) as Record<string, unknown> }
}

const question = (event: string, more: Partial<TrendQuestion> = {}): TrendQuestion => ({
  kind: 'trend',
  series: [{ event: { names: [event] }, measure: 'events' }],
  every: 'day',
  range: { from: '2026-10-01', to: '2026-10-31' },
  show: { form: 'lines', as: 'number' },
  ...more,
})
async function events(event: string): Promise<number | string> {
  const { result, faults } = await dowser.run(question(event))
  return result ? Number((result as TrendResult).lines[0].all.total) : faults[0]!.code
}
async function groups(event: string, name: string, of: 'event' | 'person' = 'event') {
  const { result } = await dowser.run(question(event, { breakdowns: [{ by: { of, name }, keep: 10 }] }))
  return Object.fromEntries(
    (result as TrendResult).lines[0].groups.map(({ key, total }) => [
      key && 'value' in key ? String(key.value) : 'rest',
      total,
    ]),
  )
}

const RIDE = planEventSchema.parse({
  name: 'Ride',
  properties: [
    { name: 'minutes', kind: 'number', required: true },
    { name: 'bike_type', kind: 'text', allowed: ['cargo', 'pedal'] },
  ],
})
const plan = (policy: Policy) => dowser.told((dowser.plan.save([RIDE]), dowser.plan.setPolicy(policy)))
const problems = async () =>
  (await dowser.problems()).map(({ rule, event, property, events: n }) => [rule, event, property, n])

describe('names', () => {
  eachAnew()

  test('an old event merged into the right one counts with it, and is apart again when that is taken back', async () => {
    expect(dowser.mending.mergeEvent('ride_old', 'Ride')).toEqual({ problems: [] })
    await dowser.told(null)
    expect([await events('Ride'), await events('ride_old')]).toEqual([3, 3])
    expect(dowser.mending.mergeProperty('event', 'bikeType', 'bike_type')).toEqual({ problems: [] })
    await dowser.told(null)
    expect(await groups('Ride', 'bike_type')).toEqual({ cargo: 2, pedal: 1 })
    dowser.mending.mergeEvent('ride_old', null)
    await dowser.told(null)
    expect([await events('Ride'), await events('ride_old')]).toEqual([2, 1])
  })

  test('merging in a circle or into nothing is refused in words', () => {
    expect(dowser.mending.mergeEvent('Ride', 'Ride').problems[0]!.message).toMatch(/into itself/)
    expect(dowser.mending.mergeEvent('ride_old', 'Rid').problems[0]!.message).toMatch(/No event “Rid”.*“Ride”/)
    dowser.mending.mergeEvent('ride_old', 'Ride')
    expect(dowser.mending.mergeEvent('Ride', 'Debug').problems[0]!.message).toMatch(/merge it elsewhere first/)
    expect(dowser.mending.mergeEvent('Debug', 'ride_old').problems[0]!.message).toMatch(/counted as “Ride”/)
  })

  test('a display name is said in words and changes no number', async () => {
    dowser.said.describeEvents(['Ride'], { display: 'Bike ride', owner: 'Stations', description: 'It ended' })
    await dowser.told(null)
    expect(dowser.wordsAt(DAY).labels!.events).toEqual({ Ride: 'Bike ride' })
    const entry = (await dowser.catalog()).events.find(({ name }) => name === 'Ride')
    expect(entry).toMatchObject({ label: 'Bike ride', description: 'It ended', events: 2 })
    expect(await events('Ride')).toBe(2)
    expect(() => dowser.said.describeEvents(['Nothing'], { owner: 'x' })).toThrow(/no event “Nothing”/)
  })
})

describe('what is made of the data', () => {
  eachAnew()

  const save = (recipe: object, more: object = {}) =>
    dowser.mending.saveDerived({ name: 'x', of: 'event', description: '', recipe, ...more }, 1)

  test('a derived property is worked out for past events and for those to come', async () => {
    expect(await save({ kind: 'arithmetic', formula: 'minutes * 2' })).toEqual({ problems: [] })
    await dowser.told(null)
    expect(await groups('Ride', 'x')).toEqual({ '10': 1, '14': 1 })
    await send(did(10, 'Ride', { minutes: 5 }))
    await dowser.told(null)
    expect(await groups('Ride', 'x')).toEqual({ '10': 2, '14': 1 })
    expect((await dowser.values({ of: 'event', name: 'x' }, '', 5))[0]).toEqual({ value: 10, count: 2 })
    expect((await dowser.catalog()).properties.find(({ name }) => name === 'x')).toMatchObject({
      kind: 'number',
      made: true,
    })
  })

  test('a changed one gives new values, a removed one is not known any more', async () => {
    await save({ kind: 'arithmetic', formula: 'minutes * 2' })
    await dowser.mending.saveDerived(
      { name: 'x', of: 'event', description: '', recipe: { kind: 'arithmetic', formula: 'minutes + 1' } },
      2,
      { of: 'event', name: 'x' },
    )
    await dowser.told(null)
    expect(await groups('Ride', 'x')).toEqual({ '6': 1, '8': 1 })
    dowser.mending.removeDerived('event', 'x')
    await dowser.told(null)
    const { faults } = await dowser.run(question('Ride', { breakdowns: [{ by: { of: 'event', name: 'x' }, keep: 5 }] }))
    expect(faults).toMatchObject([{ code: 'unknown_property', got: 'x' }])
  })

  test('a combined event is counted, broken down by its own property, and where it is used is told', async () => {
    const saved = dowser.mending.saveCombined(
      {
        ...{ name: 'Any ride', events: ['Ride', 'ride_old'] },
        properties: [{ name: 'kind', from: { Ride: 'bike_type', ride_old: 'bikeType' } }],
      },
      1,
    )
    expect(saved).toEqual({ problems: [] })
    await dowser.told(null)
    expect(await groups('Any ride', 'kind')).toEqual({ cargo: 2, pedal: 1 })
    dowser.studies.create({ id: 's', name: 'Rides', description: '', question: question('Any ride') }, 1)
    expect(dowser.usesOfEvent('ride_old')).toEqual({
      studies: [{ id: 's', name: 'Rides' }],
      dashboards: [],
      made: [{ name: 'Any ride', what: 'combined event' }],
    })
    expect(dowser.mending.saveCombined({ name: 'Ride', events: ['Ride', 'Debug'] }, 1).problems[0]!.message).toMatch(
      /arrives already/,
    )
  })

  test('a property is used by what is made from it, and by what is made from that', async () => {
    await save({ kind: 'arithmetic', formula: 'minutes * 2' })
    await dowser.told(null)
    await save({ kind: 'arithmetic', formula: 'x + 1' }, { name: 'y' })
    const asked = question('Ride', { breakdowns: [{ by: { of: 'event', name: 'y' }, keep: 5 }] })
    dowser.studies.create({ id: 's', name: 'By y', description: '', question: asked }, 1)
    expect(dowser.usesOfProperty({ of: 'event', name: 'minutes' })).toMatchObject({
      studies: [{ name: 'By y' }],
      made: [{ name: 'x' }, { name: 'y' }],
    })
  })
})

describe('a definition that is wrong', () => {
  together()
  const save = (recipe: object, more: object = {}) =>
    dowser.mending.saveDerived({ name: 'x', of: 'event', description: '', recipe, ...more }, 1)

  test.each<[string, object, object, RegExp]>([
    ['a broken formula', { kind: 'arithmetic', formula: 'minutes *' }, {}, /ends too early/],
    ['an unknown name in arithmetic', { kind: 'arithmetic', formula: 'minute * 2' }, {}, /No property “minute”/],
    ['a name that arrives', { kind: 'arithmetic', formula: 'minutes' }, { name: 'minutes' }, /arrives with events/],
    ['itself', { kind: 'arithmetic', formula: 'x + 1' }, {}, /circle: x → x/],
    [
      'a link’s query without its name',
      { kind: 'link part', input: { of: 'event', name: 'minutes' }, part: 'query value' },
      {},
      /Say which value/,
    ],
    [
      'a pattern that cannot be read',
      {
        kind: 'rules',
        rows: [
          {
            where: { property: { of: 'event', name: 'bike_type' }, op: 'matches', text: '(' },
            gives: { text: 'y' },
          },
        ],
      },
      {},
      /not a regular expression/,
    ],
  ])('%s is refused', async (_what, recipe, more, message) => {
    const { problems: found } = await save(recipe, more)
    expect(found.map((each) => each.message).join(' ')).toMatch(message)
    expect(dowser.mending.get().derived).toEqual([])
  })
})

describe('what does not fit the plan', () => {
  eachAnew()

  test('accepted: taken, and nothing said; flagged: taken, and told with its verdict', async () => {
    await plan('accept')
    expect(await problems()).toEqual([])
    await plan('flag')
    expect(await problems()).toEqual([
      ['unknown event', 'Debug', null, 1],
      ['unknown event', 'ride_old', null, 1],
    ])
    expect((await send(did(20, 'Ride', { minutes: 'x' }))).body).toMatchObject({ accepted: 1, setAside: 0 })
    expect(dowser.live({ person: 'p2' }, 1)[0]).toMatchObject({
      id: 'e20',
      verdict: ['“minutes” is of another type than planned: x'],
    })
  })

  test('set aside: kept out of all numbers, counted once, let in later as it came', async () => {
    await plan('set aside')
    const bad = did(20, 'Ride', { minutes: 'x' })
    expect((await send([bad, did(21, 'Ride', { minutes: 1 })])).body).toMatchObject({ accepted: 1, setAside: 1 })
    expect((await send(bad)).body).toMatchObject({ accepted: 0, setAside: 0, duplicates: 1 })
    await dowser.told(null)
    expect(await events('Ride')).toBe(3)
    const [group] = dowser.aside.groups()
    expect(group).toMatchObject({ rule: 'wrong type', event: 'Ride', property: 'minutes', events: 1, whole: true })
    expect(await dowser.letIn(group!, false)).toMatchObject({ accepted: 1 })
    expect([await events('Ride'), dowser.aside.count()]).toEqual([4, 0])
  })

  test('stored events are set aside by hand and let in again: the same numbers as before', async () => {
    await plan('flag')
    const problem = { rule: 'unknown event' as const, event: 'Debug', property: null }
    expect(await dowser.setProblemAside(problem, 'by hand')).toBe(1)
    expect(await problems()).toEqual([['unknown event', 'ride_old', null, 1]])
    expect((await dowser.status()).events).toBe(3)
    expect(dowser.aside.samples(problem, 1)[0]!.content).toContain('"Debug"')
    await dowser.letIn(problem, false)
    expect([await events('Debug'), (await dowser.status()).events]).toEqual([1, 4])
  })

  test('a clock years ahead is refused and kept; let in, it has the time it was received', async () => {
    const { body } = await send(did(30, 'Ride', { minutes: 3 }, { time: '2099-01-01T00:00:00Z' }))
    expect(body).toMatchObject({
      accepted: 0,
      rejected: [{ reason: expect.stringMatching(/in the future/) as string }],
    })
    const [group] = dowser.aside.groups()
    expect(group).toMatchObject({ rule: 'clock ahead', event: 'Ride', events: 1 })
    await dowser.letIn(group!, true)
    const [event] = dowser.live({}, 1)
    expect(Math.abs(event!.timeMs - Date.now())).toBeLessThan(60_000)
  })

  test('what cannot be read is kept as it came', async () => {
    await send('{"person":"a"}\nnonsense', { 'content-type': 'application/x-ndjson' })
    expect(dowser.aside.groups()).toMatchObject([{ rule: 'refused', events: 2, whole: false }])
    expect(dowser.aside.newest(5).map(({ content }) => content)).toEqual(['nonsense', '{"person":"a"}'])
  })
})

describe('one person', () => {
  eachAnew()

  test('is found by any id, with events by session, and where each id was seen', async () => {
    await send([
      { id: 'a', anonymous: 'c1', event: 'Ride', time: DAY, source: 'website' },
      { id: 'b', person: 'ada', anonymous: 'c1', event: 'Ride', time: DAY + 60_000, source: 'app' },
      { id: 'c', person: 'ada', event: 'Debug', time: DAY + 3_600_000, source: 'app' },
    ])
    await dowser.told(null)
    const page = { event: null, offset: 0, limit: 10 }
    const ada = (await dowser.person('known', 'ada', page))!
    expect(ada.page.map(({ session, event }) => [event.id, session])).toEqual([
      ['c', 2],
      ['b', 1],
      ['a', 1],
    ])
    expect(ada.ids.map(({ value, events: n, sources }) => [value, n, sources])).toEqual([
      ['ada', 2, ['app']],
      ['c1', 2, ['app', 'website']],
    ])
    expect((await dowser.person('anonymous', 'c1', { ...page, event: 'Debug' }))!.matching).toBe(1)
    expect(await dowser.person('known', 'nobody', page)).toBeNull()
  })

  test('a wrongly merged id is taken out for good, with what it wrote, and put back', async () => {
    const both = (person: string, n: number) => ({
      id: `m${n}`,
      person,
      anonymous: 'shared',
      event: 'Ride',
      time: DAY + n,
    })
    await send([both('ada', 1), both('bea', 2), { id: 'm3', anonymous: 'shared', event: 'Ride', time: DAY + 3 }])
    for (const [person, name] of [
      ['ada', 'Ada'],
      ['bea', 'Bea'],
    ])
      await fetch(`${base}/people`, {
        method: 'POST',
        headers: { authorization: `Bearer ${write}` },
        body: JSON.stringify({ person, properties: { name } }),
      })
    await dowser.told(null)
    const page = { event: null, offset: 0, limit: 10 }
    const seen = async (space: 'known' | 'anonymous', id: string) => {
      const found = (await dowser.person(space, id, page))!
      return { events: found.events, name: found.profile.name, ids: found.ids.map(({ value }) => value) }
    }
    expect(await seen('known', 'ada')).toEqual({ events: 3, name: 'Bea', ids: ['ada', 'bea', 'shared'] })
    const shared = (await dowser.person('anonymous', 'shared', page))!.ids.find(({ value }) => value === 'shared')!
    await dowser.unmerge(shared.id)
    // Without the shared device nothing holds the two together.
    expect(await seen('known', 'ada')).toEqual({ events: 1, name: 'Ada', ids: ['ada'] })
    expect(await seen('known', 'bea')).toEqual({ events: 1, name: 'Bea', ids: ['bea'] })
    expect(await seen('anonymous', 'shared')).toEqual({ events: 1, name: undefined, ids: ['shared'] })
    await send(both('ada', 4))
    await dowser.told(null)
    expect((await seen('known', 'ada')).ids).toEqual(['ada'])
    await dowser.remerge(shared.id)
    expect(await seen('known', 'bea')).toMatchObject({ events: 4, ids: ['ada', 'bea', 'shared'] })
  })
})

describe('the open event format', () => {
  together()

  const one = {
    ...{ specversion: '1.0', id: '7', source: 'shop', type: 'Ride', subject: 'ada', time: '2026-10-08T07:00:00Z' },
    ...{ data: { minutes: 4, bike: { type: 'cargo' } }, region: 'north' },
  }

  test('single, batch and with attributes in headers become the same events', async () => {
    expect((await send(one, { 'content-type': 'application/cloudevents+json' })).body).toMatchObject({ accepted: 1 })
    const batch = [one, { ...one, id: '8' }]
    const type = { 'content-type': 'application/cloudevents-batch+json' }
    expect((await send(batch, type)).body).toMatchObject({ accepted: 1, duplicates: 1 })
    const headers = Object.fromEntries(
      ['specversion', 'source', 'type', 'subject', 'time', 'region'].map((name) => [`ce-${name}`, one[name as 'type']]),
    )
    expect((await send(one.data, { ...headers, 'ce-id': '9' })).body).toMatchObject({ accepted: 1 })
    const stored = dowser.live({ person: 'ada' }, 5)
    expect(stored.map(({ id }) => id)).toEqual(['shop 9', 'shop 8', 'shop 7'])
    for (const event of stored)
      expect(event).toMatchObject({
        ...{ event: 'Ride', source: 'shop', timeMs: Date.UTC(2026, 9, 8, 7) },
        properties: { minutes: 4, 'bike.type': 'cargo', region: 'north' },
      })
  })

  test('one that says of nobody is refused in words', async () => {
    const { subject: _nobody, ...rest } = one
    expect((await send(rest)).body).toMatchObject({
      rejected: [{ reason: expect.stringMatching(/neither/) as string }],
    })
  })
})

describe('websites', () => {
  together()

  test('a website may send from another address, and only send', async () => {
    const preflight = await fetch(`${base}/events`, { method: 'OPTIONS', headers: { origin: 'https://shop.example' } })
    expect([preflight.status, preflight.headers.get('access-control-allow-origin')]).toEqual([204, '*'])
    expect(preflight.headers.get('access-control-allow-headers')).toMatch(/Authorization/)
    const elsewhere = await fetch(`${base}/studies`, { method: 'OPTIONS' })
    expect(elsewhere.headers.get('access-control-allow-origin')).toBeNull()
  })
})

describe('taking everything out', () => {
  eachAnew()

  const out = async (place: string) => {
    const response = await fetch(`${base}/${place}`, { headers: { authorization: `Bearer ${read}` } })
    return Buffer.from(await response.arrayBuffer())
  }

  test('CSV has a column for each property, and no cell that a spreadsheet would run', async () => {
    await send(did(40, '=1+1', { minutes: -5, note: '=HYPERLINK("x")' }))
    const lines = (await out('events/export?format=csv')).toString().trim().split('\n')
    expect(lines[0]).toBe(
      'id,person,anonymous,event,time,source,property.minutes,property.bike_type,property.bikeType,property.ok,property.note',
    )
    expect(lines.at(-1)).toBe(`e40,p1,,'=1+1,2026-10-05T00:40:00.000Z,,-5,,,,"'=HYPERLINK(""x"")"`)
    expect(lines).toHaveLength(6)
  })

  test('Parquet keeps types, and no value where there is none', async () => {
    const file = await out('events/export?format=parquet')
    const buffer = file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer
    const rows = await parquetReadObjects({
      file: { byteLength: buffer.byteLength, slice: (a, b) => buffer.slice(a, b) },
    })
    expect(rows).toHaveLength(4)
    expect(rows[0]).toMatchObject({ id: 'e1', event: 'Ride', 'property.minutes': 5, 'property.bikeType': null })
    expect(rows[3]).toMatchObject({ event: 'Debug', 'property.ok': true })
  })

  test('people and the catalog come as JSON Lines', async () => {
    const people = (await out('people/export'))
      .toString()
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as object)
    expect(people).toContainEqual({ person: 'p1', known_ids: 'p1' })
    const catalog = (await out('catalog/export'))
      .toString()
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as object)
    expect(catalog).toContainEqual(expect.objectContaining({ what: 'event', name: 'Ride', in_all: 2, state: 'live' }))
    expect((await out('people/export?format=xml')).toString()).toMatch(/must be one of csv, jsonl, parquet/)
  })

  test('what is not JSON inside of gzip is still told', async () => {
    const response = await fetch(`${base}/events`, {
      method: 'POST',
      headers: { authorization: `Bearer ${write}`, 'content-encoding': 'gzip' },
      body: gzipSync('{'),
    })
    expect(response.status).toBe(400)
  })
})

describe('the plan as a file', () => {
  together()

  test('goes out and comes in again, as CSV and as JSON Schema', async () => {
    await plan('flag')
    for (const text of [dowser.plan.csv(), JSON.stringify(dowser.plan.jsonSchema())])
      expect(dowser.plan.readFile(text)).toEqual({ events: dowser.plan.get().events, problems: [] })
    expect(dowser.plan.readFile('{"a":').problems[0]!.reason).toMatch(/not JSON/)
  })
})
