import Database from 'better-sqlite3'
import { readdirSync, readFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { behaviourSchema, type DestinationSetup } from '../core/outreach/destination.js'
import { syncSchema } from '../core/outreach/sync.js'
import type { RuleGroup } from '../core/segments/rule.js'
import type { Dowser } from '../server/index.js'
import { sealer } from '../server/outreach/secrets.js'
import { fill, newFolder, openReady, until } from './workspace.js'

/** Segments that are kept in step with destinations, through the server's doors and threads. */
let folder: ReturnType<typeof newFolder>
let dowser: Dowser
let server: Server | null = null
beforeEach(() => (folder = newFolder()))
afterEach(async () => {
  server?.close()
  server = null
  await dowser?.close().catch(() => {})
  folder.remove()
})

const DAY = Date.UTC(2026, 9, 5)
const ride = (person: string, day = 0) => ({
  ...{ id: `${person}.${day}`, person, event: 'Ride', time: DAY + day * 86_400_000, properties: {} },
})
const RODE: RuleGroup = { hold: 'all', of: [{ kind: 'did', event: { names: ['Ride'] } }] }
const quick = behaviourSchema.parse({ latencyMs: 0 })
const mail = (more: object = {}): DestinationSetup => ({ kind: 'mail', behaviour: { ...quick, ...more } })
const riders = () => dowser.segments.create({ name: 'Riders', description: '', tags: [], rule: RODE }, 1)

function keep(segment: string, destination: string, more: object = {}): string {
  const schedule = { kind: 'hours', every: 1 }
  return dowser.syncs.create(
    syncSchema.parse({ name: 'Riders by mail', segment, destination, schedule, ...more }),
    Date.now(),
  )
}
/** Starts it, or looks anew, and waits until all is sent. */
async function inStep(id: string, how: 'start' | 'runNow' = 'start') {
  const before = dowser.syncs.runs(id, 100).length
  await dowser.syncs[how](id)
  await until(() => {
    const runs = dowser.syncs.runs(id, 100)
    return runs.length > before && runs.every(({ state }) => state !== 'sending')
  }, 'being in step')
  return dowser.syncs.runs(id, 1)[0]
}
async function arrive(events: object[], people: object[] = []): Promise<void> {
  const body = (rows: object[]) => new TextEncoder().encode(JSON.stringify(rows))
  const form = { lines: false, gzip: false } as never
  if (people.length > 0) await dowser.ingest('people', body(people), form)
  if (events.length > 0) await dowser.ingest('events', body(events), form)
  await until(async () => (await dowser.status()).events >= 0 && dowser.threads.behindMs === 0, 'being seen')
}

describe('kept in step', () => {
  test('who comes in is added, who goes out is taken out, whose properties change is brought up to date', async () => {
    fill(
      folder.dir,
      [ride('ann'), ride('bob'), ride('cid')],
      [
        { person: 'ann', properties: { plan: 'Monthly' } },
        { person: 'bob', properties: { plan: 'None', opted_out: true } },
      ],
    )
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail(), 1)
    const id = keep(riders(), place, { properties: ['plan'] })
    expect(await inStep(id)).toMatchObject({ toAdd: 2, added: 2, same: 0, keptOut: 1, state: 'done' })
    expect(await dowser.destinations.state(place)).toMatchObject({ people: 2, taken: 2, twice: 0 })
    expect(await inStep(id, 'runNow')).toMatchObject({ toAdd: 0, toRemove: 0, same: 2, keptOut: 1 })
    await arrive(
      [ride('dan', 1)],
      [
        { person: 'ann', properties: { plan: 'Annual' } },
        { person: 'cid', properties: { opted_out: true } },
      ],
    )
    expect(await inStep(id, 'runNow')).toMatchObject({ added: 1, updated: 1, removed: 1, same: 0, keptOut: 2 })
    const { newest, people } = (await dowser.destinations.state(place))!
    expect(people).toBe(2)
    expect(newest.find(({ change }) => change === 'update')).toMatchObject({
      person: 'ann',
      properties: { plan: 'Annual' },
    })
  })

  test('calls that fail, before or after they were taken, or that nobody answers are made again, and nobody is sent twice', async () => {
    fill(
      folder.dir,
      Array.from({ length: 40 }, (_, i) => ride(`p${i}`)),
    )
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail({ failing: 100 }), 1)
    const id = keep(riders(), place)
    await dowser.syncs.start(id)
    await until(() => dowser.syncs.runs(id, 1)[0]?.retried > 0, 'a failed call')
    expect(dowser.syncs.waiting(id)).toMatchObject({ people: 40, why: expect.stringContaining('503') as string })
    dowser.destinations.save(place, 'Mail', mail())
    await until(() => dowser.syncs.runs(id, 1)[0].state === 'done', 'being in step', 20_000)
    expect(dowser.syncs.runs(id, 1)[0]).toMatchObject({ added: 40, failed: 0 })
    expect(await dowser.destinations.state(place)).toMatchObject({ people: 40, taken: 40, twice: 0 })
  }, 40_000)

  test('two who become one, or who decline, after it was decided and before it is sent: one of them is sent, the other nobody', async () => {
    const visit = { id: 'c1.0', anonymous: 'c1', event: 'Ride', time: DAY, properties: {} }
    fill(folder.dir, [ride('ann'), ride('bob'), ride('cid'), visit])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail({ refused: 100 }), 1)
    const id = keep(riders(), place)
    await dowser.syncs.start(id)
    await until(() => dowser.syncs.runs(id, 1)[0]?.retried > 0, 'a first try that is refused')
    expect(dowser.syncs.runs(id, 1)[0]).toMatchObject({ toAdd: 4 })
    // Who went by c1 turns out to be Bob, and Cid wants nothing any more.
    await arrive([{ ...ride('bob', 1), anonymous: 'c1' }], [{ person: 'cid', properties: { opted_out: true } }])
    dowser.destinations.save(place, 'Mail', mail())
    await until(() => dowser.syncs.runs(id, 1)[0].state === 'done', 'being in step', 20_000)
    const { people, twice, newest } = (await dowser.destinations.state(place))!
    expect({ people, twice }).toEqual({ people: 2, twice: 0 })
    expect(newest.map(({ person }) => person).sort()).toEqual(['ann', 'bob'])
    expect(await inStep(id, 'runNow')).toMatchObject({ toAdd: 0, toRemove: 0, same: 2, keptOut: 1 })
  }, 40_000)

  test('killed at any moment, it goes on where it was: everybody is there, and nothing came twice', async () => {
    fill(
      folder.dir,
      Array.from({ length: 4000 }, (_, i) => ride(`p${i}`)),
    )
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail({ latencyMs: 500, failing: 10 }), 1)
    const id = keep(riders(), place)
    const left = () => dowser.syncs.runs(id, 1)[0]?.state !== 'done'
    let kills = 0
    await dowser.syncs.start(id).catch(() => {})
    const db = new Database(dowser.file)
    db.pragma('busy_timeout = 5000')
    for (let n = 0; n < 6 && left(); n++) {
      await new Promise((resolve) => setTimeout(resolve, 40 + ((n * 37) % 160)))
      dowser.threads.kill('outreach')
      kills++
      await dowser.threads.outreach.ask({ kind: 'wake' }).catch(() => {})
    }
    await until(
      () => {
        db.prepare('UPDATE outbox_calls SET due_ms = 0').run()
        return !left()
      },
      'being in step',
      60_000,
    )
    db.close()
    expect(kills).toBeGreaterThan(2)
    const { people, twice, taken } = (await dowser.destinations.state(place))!
    expect({ people, twice, taken }).toEqual({ people: 4000, twice: 0, taken: 4000 })
    expect(dowser.syncs.members(id)).toEqual({ in: 4000, kept: 0, parked: 0 })
  }, 90_000)

  test('only those who come in once it has begun', async () => {
    fill(folder.dir, [ride('ann'), ride('bob')])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail(), 1)
    const id = keep(riders(), place, { onlyNew: true })
    expect(await inStep(id)).toMatchObject({ toAdd: 0 })
    await arrive([ride('cid', 1)])
    expect(await inStep(id, 'runNow')).toMatchObject({ added: 1 })
    expect(await dowser.destinations.state(place)).toMatchObject({ people: 1, newest: [{ person: 'cid' }] })
  })

  test('a changed rule asks what becomes of those already there', async () => {
    fill(folder.dir, [ride('ann'), ride('bob')], [{ person: 'ann', properties: { plan: 'Annual' } }])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail(), 1)
    const segment = riders()
    const id = keep(segment, place)
    await inStep(id)
    const annual: RuleGroup = {
      hold: 'all',
      of: [{ kind: 'profile', where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] } }],
    }
    dowser.segments.save(segment, { name: 'Riders', description: '', tags: [], rule: annual }, Date.now())
    await dowser.syncs.runNow(id)
    await until(() => dowser.syncs.get(id).state === 'asking', 'the question')
    await dowser.syncs.settle(id, 'keep')
    await until(() => dowser.syncs.runs(id, 9).length === 2, 'the next look')
    expect(await dowser.destinations.state(place)).toMatchObject({ people: 2 })
    await dowser.segments.save(segment, { name: 'Riders', description: '', tags: [], rule: RODE }, Date.now() + 5)
    await dowser.syncs.runNow(id)
    await until(() => dowser.syncs.get(id).state === 'asking', 'the question')
    expect(dowser.syncs.members(id)).toMatchObject({ kept: 1, in: 1 })
  })

  test('people who are refused are tried again, and then set aside with the reason; they can be tried anew', async () => {
    fill(folder.dir, [ride('ann'), ride('bob')])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail({ refused: 100 }), 1)
    const id = keep(riders(), place)
    await dowser.syncs.start(id)
    const db = new Database(dowser.file)
    db.pragma('busy_timeout = 5000')
    // The waits between the tries are passed over.
    await until(
      () => {
        db.prepare('UPDATE outbox_calls SET due_ms = 0').run()
        return dowser.syncs.runs(id, 1)[0]?.state === 'failed'
      },
      'giving up',
      30_000,
    )
    db.close()
    expect(dowser.syncs.runs(id, 1)[0]).toMatchObject({ added: 0, failed: 2, retried: 4 })
    expect(dowser.syncs.parked(id, 9)).toEqual(
      ['ann', 'bob'].map((value) => ({ value, space: 'known', why: 'the address takes no mail' })),
    )
    dowser.destinations.save(place, 'Mail', mail())
    expect(await inStep(id, 'runNow')).toMatchObject({ toAdd: 0 })
    dowser.syncs.unpark(id)
    expect(await inStep(id, 'runNow')).toMatchObject({ added: 2 })
  }, 60_000)

  test('once ends by itself; files are written whole', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Files', { kind: 'folder', format: 'csv', behaviour: quick }, 1)
    const id = keep(riders(), place, { schedule: { kind: 'once' } })
    expect(await inStep(id)).toMatchObject({ added: 1 })
    expect(dowser.syncs.get(id).state).toBe('ended')
    const dir = path.join(folder.dir, 'outreach', place)
    expect(readdirSync(dir).map((file) => readFileSync(path.join(dir, file), 'utf8'))).toEqual([
      'person,change\nann,add\n',
    ])
  })

  test('a schedule that is changed while it runs holds at once', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail(), 1)
    const id = keep(riders(), place, { schedule: { kind: 'hours', every: 48 } })
    await inStep(id)
    const { definition, dueMs, startedMs } = dowser.syncs.get(id)
    expect(dueMs).toBe(startedMs! + 48 * 3_600_000)
    await dowser.syncs.save(id, { ...definition, schedule: { kind: 'hours', every: 1 } })
    expect(dowser.syncs.get(id).dueMs).toBe(startedMs! + 3_600_000)
  })

  test('a deleted segment stops it, with the reason', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    const { id: place } = dowser.destinations.create('Mail', mail(), 1)
    const segment = riders()
    const id = keep(segment, place)
    await inStep(id)
    dowser.segments.remove(segment, Date.now())
    await dowser.syncs.runNow(id)
    await until(() => dowser.syncs.get(id).state === 'paused', 'standing still')
    expect(dowser.syncs.get(id).why).toContain('segment was deleted')
  })
})

describe('webhooks', () => {
  test('the receiver that ships with it verifies the signature and shows what arrived', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    const { id: place, secret } = dowser.destinations.create('Hook', { kind: 'webhook', behaviour: quick }, 1)
    expect(secret).toMatch(/^whsec_/)
    // It is sealed where it is kept.
    const db = new Database(dowser.file, { readonly: true })
    const { secret: kept } = db.prepare<[], { secret: Buffer }>('SELECT secret FROM destinations').get()!
    db.close()
    expect(kept.includes(Buffer.from(secret!))).toBe(false)
    expect(sealer('', folder.dir).open(kept)).toBe(secret)
    expect(await dowser.destinations.tryOut(place)).toMatchObject({ why: null })
    const id = keep(riders(), place)
    expect(await inStep(id)).toMatchObject({ added: 1 })
    const { arrived, people } = (await dowser.destinations.state(place))!
    expect(people).toBe(1)
    expect(arrived.map(({ verified, people }) => [verified, people])).toEqual([
      [true, 1],
      [true, 0],
    ])
  })

  test('a host that is not listed, a redirect, a failure and an endless answer are told in words', async () => {
    fill(folder.dir, [ride('ann')])
    dowser = await openReady(folder.dir)
    let answer: 'moved' | 'broken' | 'endless' = 'moved'
    server = createServer((request, response) => {
      request.resume()
      if (answer === 'moved') response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end()
      else if (answer === 'broken') response.writeHead(500).end('no')
      else {
        response.writeHead(200)
        const more = () => response.write(Buffer.alloc(65_536), (error) => void (error ? null : setImmediate(more)))
        more()
        response.on('error', () => {})
      }
    }).listen(0, '127.0.0.1')
    await new Promise((resolve) => server!.once('listening', resolve))
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`
    const { id } = dowser.destinations.create('Own', { kind: 'webhook', address, behaviour: quick }, 1)
    expect((await dowser.destinations.tryOut(id)).why).toContain('not among the hosts')
    dowser.settings.set({ webhookHosts: ['127.0.0.1'] })
    expect((await dowser.destinations.tryOut(id)).why).toBe('it answered 302: calls are not sent on to another address')
    answer = 'broken'
    expect((await dowser.destinations.tryOut(id)).why).toBe('it answered 500')
    answer = 'endless'
    expect((await dowser.destinations.tryOut(id)).why).toBeNull()
    dowser.settings.set({ webhookHosts: ['localhost'] })
    const local = address.replace('127.0.0.1', 'localhost')
    dowser.destinations.save(id, 'Own', { kind: 'webhook', address: local, behaviour: quick })
    expect((await dowser.destinations.tryOut(id)).why).toContain('inside this network')
  })
})
