import express from 'express'
import { writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { Random } from '../demo/random.js'
import { apiRouter } from '../server/api/router.js'
import type { Dowser } from '../server/index.js'
import type { ImportPlan } from '../server/ingest/importPlan.js'
import { readSettings } from '../server/settings.js'
import { openDatabase } from '../server/store/database.js'
import { workspaceFile } from '../server/store/home.js'
import type { TakeChoice } from '../server/ingest/takeChoice.js'
import { fill, newFolder, openReady, until } from './workspace.js'

/** What came in is taken back: as if it had never come; and brought back: as if nothing had happened. */
let folder: ReturnType<typeof newFolder>
let dowser: Dowser
let server: Server
let base: string

async function open(events: object[], people: object[] = []): Promise<void> {
  folder = newFolder()
  fill(folder.dir, events, people)
  await reopen()
}

async function reopen(): Promise<void> {
  dowser = await openReady(folder.dir, { DOWSER_THREADS: '1' })
  const app = express()
  app.use('/api/v1', apiRouter(dowser, { ...readSettings({}), dataDir: folder.dir }))
  server = createServer(app).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`
}

async function shut(): Promise<void> {
  server.close()
  await dowser.close()
}

afterEach(async () => {
  await shut()
  folder.remove()
})

const AT = Date.UTC(2026, 9, 5)
const did = (id: string, person: string, event: string, minute: number, more: object = {}) => ({
  ...{ id, person, event, time: new Date(AT + minute * 60_000).toISOString(), properties: {} },
  ...more,
})

async function call(key: string, address: string, body?: object) {
  const response = await fetch(`${base}${address}`, {
    ...(body ? { method: 'POST', body: JSON.stringify(body) } : {}),
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
  })
  return { status: response.status, body: (await response.json()) as Record<string, unknown> }
}

const LINES: ImportPlan = { format: 'jsonl', gzip: false, encoding: 'utf-8' }

/** @returns the import's id, when all of it is in */
async function bringIn(records: object[], plan: ImportPlan = LINES, text?: string): Promise<string> {
  const content = text ?? records.map((record) => JSON.stringify(record)).join('\n')
  const file = path.join(dowser.uploads, `f${Math.random()}`)
  writeFileSync(file, content)
  const id = dowser.startImport({ file: 'x', path: file, bytes: content.length, plan })
  await until(async () => dowser.imports.get(id).state === 'done', 'the import')
  await dowser.told(null)
  return id
}

/** Everything the file and the engine know, by what people call it: no numbers that depend on the order of arrival. */
async function state() {
  const db = openDatabase(workspaceFile(folder.dir, AT), { readonly: true })
  const people = db
    .prepare<[], { person: number; id: string }>(
      `SELECT person, GROUP_CONCAT(space || ':' || value) AS id FROM (SELECT * FROM person_ids ORDER BY space, value)
       WHERE id IN (SELECT known FROM events UNION SELECT anonymous FROM events UNION SELECT id FROM profile_history)
       GROUP BY person`,
    )
    .all()
  const profile = db.prepare<[number], { name: string; value: string }>(
    'SELECT name, value FROM profile_values v JOIN properties p ON p.id = v.property WHERE person = ? ORDER BY name',
  )
  const told = people
    .map(({ person, id }) => [id, profile.all(person).map(({ name, value }) => `${name}=${value}`)])
    .sort()
  const stored = db
    .prepare(
      `SELECT event_id, t.name, time_ms, properties FROM events e JOIN event_types t ON t.id = e.type ORDER BY event_id`,
    )
    .all()
  db.close()
  // While data streams in the catalog may be some seconds old; after a change of what is said of it, it is not.
  dowser.said.describeEvents(['Ride'], {})
  await dowser.told(null)
  const { events, properties } = await dowser.catalogDetail()
  const counts = []
  for (const event of [{ names: ['Ride'] }, { names: ['Call'] }, { activity: true as const }]) {
    const { result } = await dowser.run({
      ...{ kind: 'trend', series: [{ event, measure: 'people' }], every: 'day' },
      breakdowns: [{ by: { of: 'person', name: 'plan' }, keep: 10 }],
      range: { from: '2026-10-01', to: '2026-10-31' },
      show: { form: 'lines', as: 'number' },
    })
    const [line] = (result as TrendResult | null)?.lines ?? []
    // A name that nobody has sent yet is a fault; one of which nothing is left is none.
    counts.push([
      line?.all.total ?? 0,
      (line?.groups ?? []).map(({ key, total }) => [JSON.stringify(key), total]).sort(),
    ])
  }
  return {
    told,
    stored,
    counts,
    events: events.map(({ name, events: n, firstMs, lastMs }) => [name, n, firstMs, lastMs]).sort(),
    properties: properties.map(({ name, kind, events: n }) => [name, kind, n]).sort(),
    now: (await dowser.status()).now,
  }
}

const took = async (choice: TakeChoice) => (await dowser.takeBack.take(choice))!

describe('a file', () => {
  beforeEach(() =>
    open(
      [did('a', 'ada', 'Ride', 0, { properties: { minutes: 5 } }), did('b', 'bob', 'Ride', 1)],
      [{ person: 'ada', properties: { plan: 'Day' } }],
    ),
  )

  test('is looked at, taken back, and brought back, with its type, its property and the time it moved', async () => {
    const before = await state()
    const id = await bringIn([
      did('c', 'cleo', 'Call', 60 * 24, { properties: { wrong: 'x' } }),
      did('d', 'ada', 'Ride', 5, { properties: { minutes: 'text' } }),
      did('e', 'ada', 'Ride', 6, { properties: { minutes: 'text' } }),
    ])
    const after = await state()
    expect(after.now).toBe(AT + 60 * 24 * 60_000)
    expect(await dowser.takeBack.look({ of: 'import', id })).toMatchObject({
      ...{ events: 3, people: 2, replaced: 0, apart: 0, firstMs: AT + 300_000 },
      byEvent: [
        { event: 'Ride', events: 2 },
        { event: 'Call', events: 1 },
      ],
    })
    expect(await state()).toEqual(after)
    const { id: taken } = await took({ of: 'import', id })
    expect(await state()).toEqual(before)
    await dowser.takeBack.bring(taken)
    expect(await state()).toEqual(after)
  })

  test('of later events of the same ids gives their places to what stood there', async () => {
    const before = await state()
    const plan: ImportPlan = {
      ...{ format: 'csv', delimiter: ',', gzip: false, encoding: 'utf-8', zone: 'UTC', rows: 'events', replace: true },
      header: ['id', 'person', 'event', 'time', 'minutes'],
      columns: [
        { role: 'id' },
        { role: 'person' },
        { role: 'event' },
        { role: 'time', format: 'iso' },
        { role: 'property', name: 'minutes', type: 'number' },
      ],
    }
    const text = 'id,person,event,time,minutes\na,cleo,Call,2026-10-06,9\nz,cleo,Ride,2026-10-06,1\n'
    const id = await bringIn([], plan, text)
    const after = await state()
    expect(after.stored).toHaveLength(3)
    expect(await dowser.takeBack.look({ of: 'import', id })).toMatchObject({ events: 2, replaced: 1 })
    const { id: taken } = await took({ of: 'import', id })
    expect(await state()).toEqual(before)
    await dowser.takeBack.bring(taken)
    expect(await state()).toEqual(after)
  })

  test('that replaced an event of two ids leaves them together, where the earlier one had seen them too', async () => {
    await bringIn([did('q', 'cleo', 'Ride', 3, { anonymous: 'x' })])
    const before = await state()
    const plan: ImportPlan = {
      ...{ format: 'csv', delimiter: ',', gzip: false, encoding: 'utf-8', zone: 'UTC', rows: 'events', replace: true },
      header: ['id', 'person', 'anonymous', 'event', 'time'],
      columns: [
        { role: 'id' },
        { role: 'person' },
        { role: 'anonymous' },
        { role: 'event' },
        { role: 'time', format: 'iso' },
      ],
    }
    const id = await bringIn([], plan, 'id,person,anonymous,event,time\nq,cleo,x,Call,2026-10-07\n')
    await took({ of: 'import', id })
    expect(await state()).toEqual(before)
    expect(before.told.map(([ids]) => ids)).toContain('anonymous:x,known:cleo')
  })

  test('that merged people leaves them as they were, and merges them again when it is back', async () => {
    await bringIn([did('f', 'cleo', 'Ride', 3, { person: undefined, anonymous: 'x' }), did('g', 'cleo', 'Ride', 4)])
    const before = await state()
    const id = await bringIn([did('h', 'cleo', 'Ride', 5, { anonymous: 'x' })])
    const after = await state()
    expect(after.told.map(([ids]) => ids)).toContain('anonymous:x,known:cleo')
    expect((await dowser.takeBack.look({ of: 'import', id })).apart).toBe(1)
    const { id: taken } = await took({ of: 'import', id })
    expect(await state()).toEqual(before)
    expect(before.told.map(([ids]) => ids)).toContain('anonymous:x')
    await dowser.takeBack.bring(taken)
    expect(await state()).toEqual(after)
  })

  test('whose ids are seen together elsewhere as well leaves the people merged', async () => {
    const id = await bringIn([did('h', 'cleo', 'Ride', 5, { anonymous: 'x' })])
    await bringIn([did('i', 'cleo', 'Ride', 6, { anonymous: 'x' })])
    await took({ of: 'import', id })
    expect((await state()).told.map(([ids]) => ids)).toContain('anonymous:x,known:cleo')
  })

  test('comes in anew after it was corrected; what has come again stays when the first is brought back', async () => {
    const id = await bringIn([did('c', 'cleo', 'Call', 7), did('d', 'cleo', 'Call', 8)])
    const { id: taken } = await took({ of: 'import', id })
    await bringIn([did('c', 'dora', 'Call', 9)])
    expect(await dowser.takeBack.bring(taken)).toEqual({ events: 1, again: 1 })
    const stored = (await state()).stored as { event_id: string; time_ms: number }[]
    expect(stored.find(({ event_id }) => event_id === 'c')!.time_ms).toBe(AT + 9 * 60_000)
    await expect(dowser.takeBack.bring(taken)).rejects.toThrow()
  })
})

test('any mixture of events and profiles, any of it taken back, is what the rest is; and again after a restart', async () => {
  const random = new Random(7)
  for (let round = 0; round < 4; round++) {
    const id = (kind: string) => `${kind}${random.whole(1, 6)}`
    const some = (name: string, count: number) =>
      Array.from({ length: count }, (_, n) =>
        did(`${name}${n}`, id('p'), random.pick(['Ride', 'Call']), random.whole(0, 5000), {
          ...(random.chance(0.5) ? { anonymous: id('a') } : {}),
          properties: random.chance(0.5) ? { [random.pick(['x', 'y'])]: random.pick([1, 'one', true]) } : {},
        }),
      )
    const parts = [some('u', 12), some('v', 12), some('w', 12)]
    const without = random.whole(0, 2)
    await open(parts.flatMap((part, index) => (index === without ? [] : part)))
    const expected = await state()
    await shut()
    folder.remove()

    await open([did('first', 'nobody', 'Ride', 0)])
    await took({ of: 'events', ids: ['first'] })
    const ids = []
    for (const part of parts) ids.push(await bringIn(part))
    const all = await state()
    const { id: taken, events: gone } = await took({ of: 'import', id: ids[without]! })
    expect(gone).toBe(12)
    expect(await state()).toEqual(expected)
    await shut()
    await reopen()
    expect(await state()).toEqual(expected)
    await dowser.takeBack.bring(taken)
    expect(await state()).toEqual(all)
    if (round < 3) {
      await shut()
      folder.remove()
    }
  }
})

describe('programs', () => {
  let write: string
  let mend: string
  beforeEach(async () => {
    await open([did('a', 'ada', 'Ride', 0)])
    write = dowser.keys.create('w', 'write', 1)
    mend = dowser.keys.create('m', 'mend', 1)
  })
  const keyId = () => dowser.keys.list().find(({ scope }) => scope === 'write')!.id
  const sent = (...events: object[]) => call(write, '/events', events as unknown as object)

  test('take back what a key sent in a span of time, events and profiles, and nothing else of it', async () => {
    await sent(did('b', 'bob', 'Ride', 1))
    await new Promise((resolve) => setTimeout(resolve, 5))
    const from = Date.now()
    await sent(did('c', 'cleo', 'Ride', 2))
    await call(write, '/people', { person: 'ada', properties: { plan: 'Wrong' } })
    const until = Date.now()
    const choice = { of: 'key', id: keyId(), from, until: new Date(until).toISOString() }
    expect((await call(mend, '/taken-back/look', choice)).body).toMatchObject({ events: 1, profileValues: 1 })
    const { body } = await call(mend, '/taken-back', choice)
    expect(body).toMatchObject({ events: 1, profileValues: 1, first: '2026-10-05T00:02:00.000Z' })
    const now = await state()
    expect(now.stored.map((row) => (row as { event_id: string }).event_id)).toEqual(['a', 'b'])
    expect(now.told.flat(2)).not.toContain('plan="Wrong"')
    const [listed] = (await call(mend, '/taken-back')).body as unknown as Record<string, unknown>[]
    expect(listed).toMatchObject({ events: 1, broughtBack: null })
    expect((await call(mend, `/taken-back/${String(body.id)}/bring`, {})).body).toEqual({ events: 1, again: 0 })
    expect((await state()).told.flat(2)).toContain('plan="Wrong"')
  })

  test('take back an event type, all events of a person, and single ones', async () => {
    await sent(did('b', 'ada', 'Call', 1), did('c', 'bob', 'Call', 2), did('d', 'bob', 'Ride', 3))
    await dowser.told(null)
    expect((await took({ of: 'event', name: 'Call' })).events).toBe(2)
    expect((await state()).events.map(([name]) => name)).toEqual(['Ride'])
    expect((await took({ of: 'person', space: 'known', id: 'bob' })).events).toBe(1)
    expect((await took({ of: 'events', ids: ['a', 'none'] })).events).toBe(1)
    expect((await state()).stored).toEqual([])
  })

  test('need a key that may, and are told what they did not say', async () => {
    expect((await call(write, '/taken-back', { of: 'event', name: 'Ride' })).status).toBe(403)
    expect((await call(mend, '/taken-back', { of: 'all' })).status).toBe(422)
    expect((await call(mend, '/taken-back', { of: 'event', name: 'Nothing' })).status).toBe(404)
    expect((await call(mend, '/taken-back/none/bring', {})).status).toBe(404)
  })

  test('a test event is seen arriving, and neither counted nor taken for the newest', async () => {
    const before = await state()
    const reply = await sent({ ...did('t', 'tess', 'Tried', 60 * 24 * 20), test: true })
    expect(reply).toMatchObject({ status: 200, body: { accepted: 0, tests: 1, rejected: [] } })
    await dowser.told(null)
    expect(await state()).toEqual(before)
    expect(dowser.live({ person: 'tess' }, 10)).toMatchObject([{ event: 'Tried', person: 'tess', test: true }])
    expect(dowser.live({ event: 'Ride' }, 10).map(({ test: isTest }) => isTest)).toEqual([false])
  })
})

test('after 30 days it is gone for good', async () => {
  await open([did('a', 'ada', 'Ride', 0)])
  const { id } = await took({ of: 'events', ids: ['a'] })
  const db = openDatabase(workspaceFile(folder.dir, AT))
  db.prepare('UPDATE taken_back SET taken_ms = taken_ms - ?').run(31 * 86_400_000)
  db.close()
  await shut()
  await reopen()
  expect(dowser.takeBack.list()).toEqual([])
  await expect(dowser.takeBack.bring(id)).rejects.toThrow()
})
