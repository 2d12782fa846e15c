import express from 'express'
import { spawn } from 'node:child_process'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { TrendResult } from '../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../core/analyses/trend/question.js'
import { behaviourSchema } from '../core/outreach/destination.js'
import { messageSchema } from '../core/outreach/message.js'
import { syncSchema } from '../core/outreach/sync.js'
import { apiRouter } from '../server/api/router.js'
import type { Dowser } from '../server/index.js'
import { projectRoot } from '../server/root.js'
import { readSettings } from '../server/settings.js'
import { openDatabase } from '../server/store/database.js'
import { fill, newFolder, openReady, until } from './workspace.js'

const folder = newFolder()
let dowser: Dowser
let server: Server
let base: string
let write: string
let read: string

const DAY = Date.UTC(2026, 9, 5)
const ride = (n: number, person: string, more: object = {}) => ({
  id: `r${n}`,
  person,
  event: 'Ride',
  time: DAY + n * 3_600_000,
  properties: { km: n },
  ...more,
})
const riders: TrendQuestion = {
  kind: 'trend',
  series: [{ event: { names: ['Ride'] }, measure: 'people' }],
  every: 'day',
  range: { from: '2026-10-05', to: '2026-10-11' },
  show: { form: 'lines', as: 'number' },
}

beforeAll(async () => {
  fill(
    folder.dir,
    [ride(1, 'ada'), ride(2, 'grace'), ride(30, 'ada')],
    [{ person: 'ada', properties: { plan: 'Annual' } }],
  )
  dowser = await openReady(folder.dir)
  write = dowser.keys.create('test', 'write', 1)
  read = dowser.keys.create('test', 'read', 1)
  const app = express()
  app.use('/api/v1', apiRouter(dowser, { ...readSettings({ DOWSER_BODY_MB: '1' }), dataDir: folder.dir }))
  server = createServer(app).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`
})
afterAll(async () => {
  server.close()
  await dowser.close()
  folder.remove()
})

type Body = NonNullable<RequestInit['body']>
async function send(place: string, body: Body, headers: Record<string, string> = {}, key: string | null = write) {
  const response = await fetch(base + place, {
    method: 'POST',
    body,
    headers: { ...(key ? { authorization: `Bearer ${key}` } : {}), ...headers },
  })
  return {
    status: response.status,
    body: (await response.json()) as Record<string, never> & { error?: { message: string; faults?: object[] } },
  }
}
const ask = (question: unknown) => send('/query', JSON.stringify(question), {}, read)
const JSONL = { 'content-type': 'application/x-ndjson' }

describe('sending', () => {
  test('one event, an array, JSON Lines, and gzip are taken; again, they are known', async () => {
    const events = [ride(100, 'ines'), ride(101, 'ines'), ride(102, 'joan'), ride(103, 'kaja')]
    expect((await send('/events', JSON.stringify(events[0]))).body).toMatchObject({
      accepted: 1,
      duplicates: 0,
      rejected: [],
    })
    expect((await send('/events', JSON.stringify(events.slice(0, 2)))).body).toMatchObject({
      accepted: 1,
      duplicates: 1,
    })
    const lines = events.map((event) => JSON.stringify(event)).join('\n')
    expect((await send('/events', lines, JSONL)).body).toMatchObject({ accepted: 2, duplicates: 2 })
    expect((await send('/events', gzipSync(lines), { ...JSONL, 'content-encoding': 'gzip' })).body).toMatchObject({
      accepted: 0,
      duplicates: 4,
    })
  })

  test('good lines are kept when others of the batch are not, and each bad one is told with its line', async () => {
    const { status, body } = await send(
      '/events',
      `${JSON.stringify(ride(110, 'ines'))}\n{"person":\n${JSON.stringify({ event: 'x' })}`,
      JSONL,
    )
    expect(status).toBe(200)
    expect(body).toMatchObject({
      accepted: 1,
      rejected: [
        { line: 2, reason: expect.stringMatching(/not JSON/) as string },
        { line: 3, reason: expect.stringMatching(/neither/) as string },
      ],
    })
  })

  test('what is taken is seen in answers soon after, profiles and merged ids as well', async () => {
    await send('/people', JSON.stringify({ person: 'nora', properties: { plan: 'Annual' } }))
    await send(
      '/events',
      JSON.stringify([
        { ...ride(120, 'x'), person: undefined, anonymous: 'cookie', event: 'Visit' },
        { id: 'merge', person: 'nora', anonymous: 'cookie', event: 'Ride', time: DAY },
      ]),
    )
    const visits = {
      ...riders,
      series: [
        {
          event: { names: ['Visit'] },
          where: { property: { of: 'person', name: 'plan' }, op: 'is', values: ['Annual'] },
          measure: 'people',
        },
      ],
      range: { from: '2026-10-05' },
    }
    await until(async () => {
      const { status, body } = await ask(visits)
      return status === 200 && (body as unknown as { result: TrendResult }).result.lines[0]!.all.total === 1
    })
  })

  test.each<[string, string, Body, Record<string, string>, number, RegExp]>([
    ['no key', '', '{}', {}, 401, /key is needed/],
    ['a wrong key', 'dw_write_wrong', '{}', {}, 401, /not known/],
    ['a key that may only read', 'read', '{}', {}, 403, /only read/],
    ['text that is no JSON', 'write', '{"a":', {}, 400, /not JSON/],
    ['an empty body', 'write', '', {}, 400, /empty/],
    [
      'a gzip that ends early',
      'write',
      gzipSync('{"person":"a","event":"e"}'.repeat(99)).subarray(0, 40),
      { 'content-encoding': 'gzip' },
      400,
      /ends early/,
    ],
    ['a body over the limit', 'write', `"${'x'.repeat(1_100_000)}"`, {}, 413, /over 1 MB/],
    ['nothing that can be taken', 'write', '{"event":"x"}', {}, 422, /./],
  ])('%s is refused in words', async (_name, key, body, headers, status, words) => {
    const keys: Record<string, string | null> = { '': null, read, write }
    const answer = await send('/events', body, headers, key in keys ? keys[key] : key)
    expect(answer.status).toBe(status)
    expect(JSON.stringify(answer.body)).toMatch(words)
  })

  test('a revoked key no longer opens', async () => {
    const key = dowser.keys.create('old', 'write', 1)
    dowser.keys.revoke(dowser.keys.list().find(({ name }) => name === 'old')!.id, 2)
    expect((await send('/events', '{}', {}, key)).status).toBe(401)
  })
})

describe('asking', () => {
  test('any definition gives the numbers, with the moment they are as of', async () => {
    const { body } = await ask({
      ...riders,
      range: { from: '2026-10-05', to: '2026-10-05' },
      series: [
        {
          event: { names: ['Ride'] },
          where: { property: { of: 'event', name: 'km' }, op: '≤', number: 2 },
          measure: 'events',
        },
      ],
    })
    expect(body).toMatchObject({ asOf: expect.any(String) as string, result: { lines: [{ all: { total: 2 } }] } })
  })

  test.each<[string, object, RegExp]>([
    [
      'an unknown event',
      { ...riders, series: [{ event: { names: ['Rides'] }, measure: 'people' }] },
      /Did you mean “Ride”/,
    ],
    [
      'an unknown property',
      { ...riders, breakdowns: [{ by: { of: 'event', name: 'kn' }, keep: 5 }] },
      /Did you mean “km”/,
    ],
    ['an empty definition', {}, /kind must be one of/],
    ['a setting that is not known', { ...riders, colour: 'red' }, /colour/],
  ])('%s is told with its place', async (_name, question, words) => {
    const { status, body } = await ask(question)
    expect(status).toBe(422)
    expect(body.error!.message).toMatch(words)
    expect(body.error!.faults).toHaveLength(1)
  })

  test('a question that is smoothed is answered smoothed, its figure of the whole time not', async () => {
    const rides = { ...riders, series: [{ event: { names: ['Ride'] }, measure: 'events' }], smooth: 2 }
    const ask = async (question: object) => {
      const { body } = await send('/query', JSON.stringify(question), {}, read)
      return (body as unknown as { result: TrendResult }).result.lines[0].all
    }
    const { smooth: _smooth, ...plain } = rides
    const [own, raw] = [await ask(rides), await ask(plain)]
    const [a, b, c] = raw.values as number[]
    expect(own.values.slice(0, 3)).toEqual([a, (a + b) / 2, (b + c) / 2])
    expect(own.values).not.toEqual(raw.values)
    expect(own.total).toBe(raw.total)
  })
  test('people chosen through studies one inside the other are refused when too deep', async () => {
    let question: TrendQuestion = riders
    for (let i = 0; i < 7; i++) question = { ...riders, among: { study: question, marks: [{ kind: 'point' }] } }
    expect((await ask(question)).body.error!.message).toMatch(/more than 6 studies/)
  })

  test('among: the same study among people read from another', async () => {
    const both: TrendQuestion = {
      ...riders,
      among: { study: { ...riders, range: { from: '2026-10-06', to: '2026-10-06' } }, marks: [{ kind: 'point' }] },
    }
    const { body } = await ask({ ...both, range: { from: '2026-10-05', to: '2026-10-05' } })
    // Only Ada rode on the 6th (hour 30); on the 5th she rode once.
    expect((body as unknown as { result: TrendResult }).result.lines[0]!.all.total).toBe(1)
  })

  test('a query that is withdrawn is answered with that, and the next one works', async () => {
    const controller = new AbortController()
    controller.abort()
    await expect(dowser.run({ ...riders, every: 'hour' }, controller.signal)).rejects.toThrow(/withdrawn/)
    expect((await dowser.run(riders)).result).not.toBeNull()
  })

  test('the document of the API names every address', async () => {
    const document = (await (await fetch(`${base}/openapi.json`)).json()) as { paths: object }
    expect(Object.keys(document.paths)).toEqual([
      '/events',
      '/people',
      '/query',
      '/query/cost',
      '/studies',
      '/studies/{id}',
      '/segments',
      '/segments/count',
      '/segments/{id}',
      '/segments/{id}/people',
      '/outreach/kept',
      '/outreach/kept/{id}',
      '/outreach/messages',
      '/outreach/messages/{id}',
      '/outreach/destinations',
      '/outreach/destinations/{id}/receipts',
      '/taken-back',
      '/taken-back/look',
      '/taken-back/{id}/bring',
      '/events/export',
      '/people/export',
      '/catalog/export',
    ])
  })
})

test('programs read what is kept in step, how each look went, and what arrived; secrets are never told', async () => {
  const get = async (place: string) => {
    const response = await fetch(base + place, { headers: { authorization: `Bearer ${read}` } })
    return { status: response.status, body: (await response.json()) as Record<string, unknown> }
  }
  const nowMs = Date.now()
  const hook = { kind: 'webhook', behaviour: behaviourSchema.parse({ latencyMs: 0 }) } as const
  const { id: place } = dowser.destinations.create('Hook', hook, nowMs)
  const rule = { hold: 'all' as const, of: [] }
  const segment = dowser.segments.create({ name: 'All of them', description: '', tags: [], rule }, nowMs)
  const schedule = { kind: 'once' }
  const definition = syncSchema.parse({ name: 'All', segment, destination: place, schedule })
  const id = dowser.syncs.create(definition, nowMs)
  expect((await get(`/outreach/kept/${id}`)).body).toMatchObject({ state: 'draft', started: null, runs: [] })
  await dowser.syncs.start(id)
  await until(() => dowser.syncs.get(id).state === 'ended', 'being sent')
  const { body } = await get(`/outreach/kept/${id}`)
  const [run] = body.runs as { added: number; state: string }[]
  expect(run).toMatchObject({ state: 'done', failed: 0 })
  expect(body.people).toEqual({ there: run.added, setAside: 0 })
  const receipts = await get(`/outreach/destinations/${place}/receipts`)
  expect(receipts.body).toMatchObject({ people: run.added, twice: 0, calls: [{ verified: true, people: run.added }] })
  const all = JSON.stringify([(await get('/outreach/destinations')).body, (await get('/outreach/kept')).body])
  expect(all).toContain('Hook')
  expect(all).not.toContain('whsec')
  expect((await get('/outreach/kept/nothing')).status).toBe(404)
})

test('programs read messages: what they are, who came in, and what they bring', async () => {
  const get = async (place: string) => {
    const response = await fetch(base + place, { headers: { authorization: `Bearer ${read}` } })
    return { status: response.status, body: (await response.json()) as Record<string, unknown> }
  }
  const nowMs = Date.now()
  const setup = { kind: 'push', behaviour: behaviourSchema.parse({ latencyMs: 0 }) } as const
  const { id: destination } = dowser.destinations.create('Notices', setup, nowMs)
  const rule = { hold: 'all' as const, of: [] }
  const segment = dowser.segments.create({ name: 'Whoever there is', description: '', tags: [], rule }, nowMs)
  const id = dowser.messages.create(
    messageSchema.parse({
      ...{ name: 'Hello', segment, destination, trigger: { kind: 'once' }, holdOut: 0 },
      variants: [{ name: 'A', text: 'Hello' }],
      ...{ goal: { event: { activity: true } }, within: { count: 1, unit: 'hour' } },
    }),
    nowMs,
  )
  expect((await get(`/outreach/messages/${id}`)).body).toMatchObject({ state: 'draft', effect: null, entries: [] })
  await dowser.messages.start(id)
  await until(() => dowser.messages.get(id).state === 'ended', 'being sent')
  const { sent } = dowser.messages.counts(id)
  expect(sent).toBeGreaterThan(0)
  const { body } = await get(`/outreach/messages/${id}`)
  expect(body).toMatchObject({ state: 'ended', people: { sent, waiting: 0 }, effect: { kind: 'effect' } })
  expect(body.entries).toContainEqual(expect.objectContaining({ variant: 'A', state: 'sent', entry: 1 }))
  expect((await get('/outreach/messages')).body).toHaveLength(1)
  expect((await get('/outreach/messages/nothing')).status).toBe(404)
})

test('what is exported can be sent in again, and is known', async () => {
  const response = await fetch(`${base}/events/export`, { headers: { authorization: `Bearer ${read}` } })
  const lines = (await response.text()).trim().split('\n')
  expect(JSON.parse(lines[0])).toMatchObject({ id: 'r1', person: 'ada', event: 'Ride', properties: { km: 1 } })
  const { body } = await send('/events', lines.join('\n'), JSONL)
  expect(body).toMatchObject({ accepted: 0, duplicates: lines.length, rejected: [] })
})

test('an import from the command line that is killed loses nothing it told of, and goes on', async () => {
  const place = newFolder()
  const file = path.join(place.dir, 'events.jsonl')
  const total = 60_000
  writeFileSync(
    file,
    Array.from({ length: total }, (_, i) => JSON.stringify(ride(i % 500, `p${i % 900}`, { id: `k${i}` }))).join('\n'),
  )
  const cli = (...args: string[]) =>
    spawn(process.execPath, ['--import', 'tsx', 'server/import.cli.ts', ...args], {
      cwd: projectRoot,
      env: { ...process.env, DOWSER_DATA: place.dir, INIT_CWD: projectRoot },
    })
  const first = cli(file)
  const db = () => openDatabase(path.join(place.dir, 'workspaces/main.db'), { readonly: true })
  const state = () => {
    try {
      const open = db()
      const row = open.prepare('SELECT id, records, accepted FROM imports').get() as
        { id: string; records: number; accepted: number } | undefined
      const { n } = open.prepare('SELECT COUNT(*) AS n FROM events').get() as { n: number }
      open.close()
      return row ? { ...row, n } : null
    } catch {
      return null // the file is not there yet
    }
  }
  await until(() => Promise.resolve((state()?.records ?? 0) > 0), 'the first batch')
  first.kill('SIGKILL')
  await new Promise((resolve) => first.once('exit', resolve))
  const killed = state()!
  expect(killed.n).toBe(killed.accepted)
  expect(killed.n).toBeLessThan(total)
  const second = cli('--resume', killed.id)
  expect(await new Promise((resolve) => second.once('exit', resolve))).toBe(0)
  expect(state()).toMatchObject({ n: total, accepted: total, records: total })
  place.remove()
})
