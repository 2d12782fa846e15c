import Database from 'better-sqlite3'
import express from 'express'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { gzipSync } from 'node:zlib'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import { answerTo } from '../server/answers.js'
import { apiRouter } from '../server/api/router.js'
import { checkWorkspace } from '../server/check.js'
import type { Dowser } from '../server/index.js'
import { openLoader } from '../server/loader.js'
import { readSettings } from '../server/settings.js'
import { openDatabase } from '../server/store/database.js'
import { INHERITED } from './attack/mutate.js'
import { newFolder, openReady, RECEIVED, until } from './workspace.js'

const DAY = Date.UTC(2026, 9, 5)
let folder: ReturnType<typeof newFolder>
let dowser: Dowser
let server: Server
let base: string
let keys: { write: string; read: string }
beforeEach(() => (folder = newFolder()))
afterEach(async () => {
  server?.close()
  // A test may have closed it already, or failed to open it.
  await dowser?.close().catch(() => {})
  folder.remove()
})

const loader = () => openLoader(folder.dir, RECEIVED)
const ride = (n: number, more: object = {}) => ({
  ...{ id: `r${n}`, person: `p${n % 40}`, event: 'Ride', time: DAY + n * 1000, properties: { km: n } },
  ...more,
})
function fill(events: object[]): void {
  const door = loader()
  door.settings.set({ name: 'Test', zone: 'UTC', now: 'last event' })
  door.sendEvents(events, RECEIVED)
  door.close()
}

async function open(env: Record<string, string> = {}): Promise<void> {
  dowser = await openReady(folder.dir, env)
  keys = { write: dowser.keys.create('w', 'write', 1), read: dowser.keys.create('r', 'read', 1) }
  const app = express()
  app.use('/api/v1', apiRouter(dowser, { ...readSettings(env), dataDir: folder.dir }))
  server = createServer(app).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`
}

async function post(place: string, body: unknown, key: keyof typeof keys, headers: Record<string, string> = {}) {
  const text = typeof body === 'string' ? body : JSON.stringify(body)
  const response = await fetch(base + place, {
    ...{ method: 'POST', body: text, headers: { authorization: `Bearer ${keys[key]}`, ...headers } },
  })
  const { status } = response
  return { status, headers: response.headers, body: (await response.json()) as Record<string, never> }
}
const send = (events: object[]) => post('/events', events, 'write')
const trend = (event: string, more: object = {}) => ({
  ...{ kind: 'trend', series: [{ event: { names: [event] }, measure: 'events' }], every: 'day' },
  ...{ range: { from: '2026-10-05', to: '2026-10-06' }, show: { form: 'lines', as: 'number' }, ...more },
})

test('names that every object answers to are counted like any other, wherever they stand', async () => {
  fill([ride(1), ride(2)])
  const door = loader()
  door.plan.save([{ name: 'Ride', description: '', owner: '', properties: [] }])
  door.close()
  await open()
  for (const name of INHERITED) {
    const quoted = JSON.stringify(name)
    const event = `{"person":${quoted},"event":${quoted},"source":${quoted},"time":${DAY},"properties":{${quoted}:${quoted}}}`
    expect((await post('/events', event, 'write')).body).toMatchObject({ accepted: 1 })
    expect((await post('/people', `{"person":${quoted},"properties":{${quoted}:"x"}}`, 'write')).status).toBe(200)
  }
  await dowser.told(null)
  const { events } = await dowser.catalogDetail()
  const problems = await dowser.problems()
  const csv: string[] = []
  for await (const piece of await dowser.exportTable('events', 'csv', {})) csv.push(String(piece))
  expect(csv.join('')).not.toContain('[native code]')
  for (const name of INHERITED) {
    const asked = trend(name, { breakdowns: [{ by: { of: 'event', name }, keep: 5 }] })
    const { status, body } = await post('/query', asked, 'read')
    expect([name, status, (body.result as unknown as TrendResult).keys]).toEqual([name, 200, [{ value: name }]])
    expect(events.find((each) => each.name === name)).toMatchObject({ events: 1, policy: null })
    expect(problems.find((each) => each.event === name)).toMatchObject({ rule: 'unknown event', events: 1 })
    const rule = {
      hold: 'all',
      of: [{ kind: 'profile', where: { property: { of: 'person', name }, op: 'is', values: ['x'] } }],
    }
    expect((await post('/segments/count', rule, 'read')).body).toMatchObject({ members: 1 })
    expect((await post('/query', { kind: name }, 'read')).status).toBe(422)
    expect((await post('/segments/count', { hold: name, of: [{ kind: name }] }, 'read')).status).toBe(422)
    for (const place of [`studies/${name}`, `segments/${name}`])
      expect((await fetch(`${base}/${place}`, { headers: { authorization: `Bearer ${keys.read}` } })).status).toBe(404)
  }
})

describe('what came in and stopped it', () => {
  test('dates at both ends of the calendar are groups like others', async () => {
    const day = (n: number, until: string) => ride(n, { properties: { until } })
    fill([day(1, '9999-12-31'), day(2, '0001-01-01'), day(3, '2026-10-08'), day(4, '2026-10-08T22:00:00Z')])
    await open()
    const { body } = await post(
      '/query',
      trend('Ride', { breakdowns: [{ by: { of: 'event', name: 'until' }, keep: 5 }] }),
      'read',
    )
    expect((body.result as unknown as TrendResult).keys).toEqual([
      { value: '2026-10-08' },
      { value: '0001-01-01' },
      { value: '9999-12-31' },
    ])
  })

  test('sixty thousand events at once are read, and it is ready all the while', async () => {
    fill([ride(1)])
    await open()
    const events = Array.from({ length: 60_000 }, (_, i) => ride(i + 10))
    expect((await send(events)).body).toMatchObject({ accepted: 60_000 })
    await until(async () => {
      const { ready, events: seen } = await dowser.status()
      return ready && seen === 60_001
    }, 'all being seen')
    expect((await dowser.readiness()).ready).toBe(true)
  })

  test('times that are no times, and lie beyond all calendars, spoil themselves only', async () => {
    await open()
    const batch = [
      ride(1),
      ride(2, { time: { toString: 1 } }),
      ride(3, { time: 1e300 }),
      ride(4, { time: -1e300 }),
      ride(5, { time: [] }),
      ride(6, { time: 8_640_000_000_000_000 }),
    ]
    const { status, body } = await send(batch)
    expect([status, body.accepted]).toEqual([200, 1])
    expect((body.rejected as { line: number }[]).map(({ line }) => line)).toEqual([2, 3, 4, 5, 6])
    const ahead = { rule: 'clock ahead' as const, event: 'Ride', property: null }
    expect(await dowser.letIn(ahead, true)).toMatchObject({ accepted: 1 })
  })

  test('a rule nested three thousand deep is told to be, and an id that nobody has is not found', async () => {
    await open()
    const deep = `${'{"hold":"all","of":['.repeat(3000)}${']}'.repeat(3000)}`
    for (const place of ['/query', '/segments/count'])
      expect(await post(place, deep, 'read')).toMatchObject({
        status: 400,
        body: { error: { message: expect.stringContaining('nested') as string } },
      })
    for (const undo of [dowser.unmerge(987), dowser.remerge(987)])
      expect(answerTo(await undo.catch((error: unknown) => error))).toMatchObject({ status: 404 })
  })

  test('a gzip file that unpacks to a thousand times its size is looked at as far as need be, beside everything else', async () => {
    await open()
    const bomb = gzipSync(Buffer.from('person,event\nada,Ride\n'.repeat(8_000_000)))
    const order: string[] = []
    const preview = dowser.preview(bomb).then((found) => {
      order.push('looked at')
      return found
    })
    await dowser.status().then(() => order.push('answered'))
    expect(await preview).toMatchObject({ plan: { format: 'csv', gzip: true, header: ['person', 'event'] } })
    expect(order).toEqual(['answered', 'looked at'])
  })
})

describe('threads', () => {
  test.each(['engine', 'scan 1', 'ingest'])('%s is back after it died, with all that was accepted', async (thread) => {
    fill(Array.from({ length: 300 }, (_, i) => ride(i)))
    await open({ DOWSER_ATTACK: '1' })
    expect((await send([ride(1000)])).status).toBe(200)
    dowser.threads.kill(thread)
    await until(
      async () => {
        const { threads } = await dowser.readiness()
        return threads.some(({ thread: name, restarts }) => name === thread && restarts === 1)
      },
      'the restart',
      60_000,
    )
    await until(async () => (await dowser.readiness()).ready, 'being ready', 60_000)
    expect((await send([ride(1001), ride(1000)])).body).toMatchObject({ accepted: 1, duplicates: 1 })
    await dowser.told(null)
    const { body } = await post('/query', trend('Ride'), 'read')
    expect((body.result as unknown as TrendResult).lines[0].all.total).toBe(302)
  })

  test('a question on its way when the engine dies is told when to ask again', async () => {
    fill(Array.from({ length: 3000 }, (_, i) => ride(i)))
    await open()
    const asked = post('/query', trend('Ride', { every: 'hour' }), 'read')
    await until(async () => Promise.resolve(dowser.desk.running > 0), 'being asked')
    dowser.threads.kill('engine')
    const { status, headers } = await asked
    expect([status, headers.get('retry-after')]).toEqual([503, '2'])
    expect((await post('/query', trend('Ride', { every: 'hour' }), 'read')).status).toBe(200)
  })
})

describe('what is known by its id', () => {
  test('an event set aside is not taken in when it is sent again, and one taken in is not set aside', async () => {
    const door = loader()
    door.plan.save([{ name: 'Ride', description: '', owner: '', properties: [] }])
    door.plan.setPolicy('set aside')
    door.close()
    await open()
    const odd = ride(1, { event: 'Odd' })
    expect((await send([odd])).body).toMatchObject({ setAside: 1, accepted: 0 })
    dowser.plan.setPolicy('accept')
    expect((await send([odd])).body).toMatchObject({ setAside: 0, accepted: 0, duplicates: 1 })
    expect(dowser.aside.count()).toBe(1)
    const choice = { rule: 'unknown event' as const, event: 'Odd', property: null }
    expect(await dowser.letIn(choice, false, { event: 'Odd', policy: 'flag' })).toMatchObject({ accepted: 1 })
    expect([dowser.aside.count(), dowser.plan.get().others]).toEqual([0, { Odd: 'flag' }])
    dowser.plan.setEventPolicy('Odd', 'set aside')
    expect((await send([odd])).body).toMatchObject({ setAside: 0, duplicates: 1 })
    expect([...checkWorkspace(dowser.file)].flatMap(({ found }) => found)).toEqual([])
  })
})

describe('room and other writers', () => {
  test('a disk that is nearly full takes nothing in, says so, and is not ready', async () => {
    await open({ DOWSER_FREE_MB: '10000000' })
    const { status, headers, body } = await send([ride(1)])
    expect([status, headers.get('retry-after')]).toEqual([507, '60'])
    expect(body).toMatchObject({ error: { message: expect.stringContaining('disk is full') as string } })
    expect(await dowser.readiness()).toMatchObject({ ready: false, room: { enough: false } })
    expect((await post('/query', trend('Ride'), 'read')).status).toBe(422)
  })

  test('files that a killed process left are gone after a start; those still to be read stay', async () => {
    await open()
    const [left, wanted] = ['left', 'wanted'].map((name) => path.join(dowser.uploads, name))
    for (const file of [left, wanted]) writeFileSync(file, 'x')
    const plan = { format: 'jsonl' as const, gzip: false, encoding: 'utf-8' as const }
    const id = dowser.imports.create({ file: 'f', path: '/elsewhere/f', bytes: 1, plan }, 1)
    const db = openDatabase(dowser.file)
    db.prepare('UPDATE imports SET path = ? WHERE id = ?').run(wanted, id)
    await dowser.close()
    // An import of the command line waits for its owner: here its file stands in the server's folder.
    db.prepare(`UPDATE imports SET state = 'waiting' WHERE id = ?`).run(id)
    db.close()
    dowser = await openReady(folder.dir)
    expect(existsSync(left)).toBe(false)
    await until(() => Promise.resolve(dowser.imports.get(id).state === 'done'), 'the import')
  })

  test('nobody waits for another program that writes; whoever saves is told only if that takes very long', async () => {
    await open()
    const other = new Database(dowser.file)
    other.exec('BEGIN IMMEDIATE')
    let free = false
    const saved = dowser.toWrite().then(() => (free = true))
    // Pages are answered meanwhile.
    expect(dowser.studies.list()).toEqual([])
    await dowser.status()
    expect(free).toBe(false)
    other.exec('COMMIT')
    other.close()
    await saved
    expect(dowser.studies.create({ name: 'x', description: '', question: trend('Ride') as never }, 1)).toBeTruthy()
  })

  test('a file that is none of ours is named, with what to do', async () => {
    fill([ride(1)])
    const file = path.join(folder.dir, 'workspaces/main.db')
    writeFileSync(file, 'this is no database, and never was one '.repeat(200))
    await expect(openReady(folder.dir)).rejects.toThrow(/main\.db is damaged .*npm run check/s)
    expect([...checkWorkspace(file)].flatMap(({ found }) => found).join(' ')).toMatch(/damaged/)
  })
})

test('a file that is damaged in its middle is named too, with what SQLite says of it', async () => {
  fill(Array.from({ length: 5000 }, (_, i) => ride(i)))
  const file = path.join(folder.dir, 'workspaces/main.db')
  const whole = readFileSync(file)
  // All pages but those at the beginning, which say what tables there are.
  whole.fill(0xff, Math.floor(whole.length / 2))
  writeFileSync(file, whole)
  await expect(openReady(folder.dir)).rejects.toThrow(
    /main\.db is damaged \((it failed with SQLITE_CORRUPT|.*malformed)/,
  )
})

describe('keys', () => {
  test('have rates, told in the standard headers; who goes over is told when to go on', async () => {
    await open({ DOWSER_EVENTS_PER_SECOND: '5', DOWSER_QUESTIONS_PER_MINUTE: '2' })
    const first = await send(Array.from({ length: 60 }, (_, i) => ride(i)))
    expect([first.status, first.headers.get('ratelimit-policy')]).toEqual([200, '"events";q=50;w=10'])
    expect(first.headers.get('ratelimit')).toMatch(/^"events";r=0;t=\d+$/)
    const second = await send([ride(100)])
    expect(second.status).toBe(429)
    expect(Number(second.headers.get('retry-after'))).toBeGreaterThan(0)
    const asked = [await ask(), await ask(), await ask()]
    expect(asked).toEqual([200, 200, 429])
  })
  const ask = async () =>
    (await post('/query', trend('Ride', { series: [{ event: { activity: true }, measure: 'events' }] }), 'read')).status

  test('senders are held back while what they sent is not seen', async () => {
    await open()
    Object.defineProperty(dowser.threads, 'behindMs', { get: () => 31_000 })
    const { status, headers, body } = await send([ride(1)])
    expect([status, headers.get('retry-after')]).toEqual([429, '5'])
    expect(body).toMatchObject({ error: { message: expect.stringContaining('Nothing of this was taken') as string } })
  })

  test('are read whatever the case of “bearer”; other sites may send, and nothing else', async () => {
    await open()
    const lower = { authorization: `bearer ${keys.read}` }
    expect((await fetch(`${base}/studies`, { headers: lower })).status).toBe(200)
    const origin = async (place: string) =>
      (await fetch(base + place, { headers: lower })).headers.get('access-control-allow-origin')
    expect([await origin('/events'), await origin('/events/export'), await origin('/people/export')]).toEqual([
      '*',
      null,
      null,
    ])
  })
})
