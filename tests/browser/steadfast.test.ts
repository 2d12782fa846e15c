import { rmSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { MOST_HELD_MS, type Held } from '../../server/engine/watch.js'
import { client } from '../attack/client.js'
import { makeKeys } from '../attack/data.js'
import { copyOf, killProcess, killThreads } from '../attack/kills.js'
import { attackDoors } from '../attack/requests.js'
import { QUESTIONS } from '../attack/seeds.js'
import { soak } from '../attack/soak.js'
import { newFolder, until } from '../workspace.js'
import { startServer, type TestServer } from './server.js'

/** The short form of `npm run attack`, against the built server. */
const folder = newFolder()
const OPEN = { DOWSER_ATTACK: '1', DOWSER_LOG: 'silent', DOWSER_EVENTS_PER_SECOND: '1000000' }
let demo: string
let server: TestServer
let keys: { write: string; read: string }
beforeAll(async () => {
  const made = await startServer({ demo: 3000 })
  await made.stop({ keep: true })
  demo = made.dataDir
  const dir = copyOf(demo, `${folder.dir}/attacked`)
  keys = makeKeys(dir)
  server = await startServer({ dir }, { ...OPEN, DOWSER_QUESTIONS_PER_MINUTE: '1000000' })
})
afterAll(async () => {
  await server.stop()
  folder.remove()
  rmSync(demo, { recursive: true, force: true })
})

describe('the engine’s thread', () => {
  /** Looks at everything, with events in between. @returns what held up everything else for longer than it may */
  async function walk(name: string): Promise<string[]> {
    const http = client(server.base, 2)
    await http.send('/attack/held?forget=1')
    const pages = [
      '/',
      '/studies',
      '/catalog',
      '/catalog/properties',
      '/catalog/quality',
      '/people',
      '/people/segments',
    ]
    const { text } = await http.send('/studies')
    const studies = [...new Set(text.match(/\/studies\/[\w-]+/g) ?? [])]
    for (const place of [...pages, ...studies]) expect([place, (await http.send(place)).status]).toEqual([place, 200])
    const post = (door: string, key: string, body: object) =>
      http.send(`/api/v1/${door}`, {
        ...{ method: 'POST', body: JSON.stringify(body) },
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      })
    for (const question of QUESTIONS) await post('query', keys.read, question)
    const event = (i: number) => ({ person: `h${i % 900}`, event: 'Map viewed', id: `${name}-${i}` })
    const sent = await post(
      'events',
      keys.write,
      Array.from({ length: 3000 }, (_, i) => event(i)),
    )
    expect(sent.status).toBe(200)
    const seen = async () =>
      (JSON.parse((await http.send('/readyz')).text) as { behindSeconds: number }).behindSeconds === 0
    await until(seen, 'the events being seen')
    const { all } = JSON.parse((await http.send('/attack/held')).text) as { all: Held[] }
    http.close()
    // Of its own computing: what it waits for a core is not its fault, and clearing memory is the platform's.
    return all.flatMap(({ what, cpuMs, clearingMs }) =>
      cpuMs - clearingMs > MOST_HELD_MS ? [what.split(', ').at(-1)!] : [],
    )
  }

  test('does nothing for long without giving others their turn, whatever is asked', async () => {
    const [first, second] = [await walk('first'), await walk('second')]
    // Work that is too long is so each time; what was but once was the machine.
    expect(first.filter((what) => second.includes(what))).toEqual([])
  })
})

describe('attacked', () => {
  test('no thread that is ended stays away, and nothing that was acknowledged is lost or there twice', async () => {
    const report = await killThreads(server, keys, {
      times: 3,
      threads: ['engine', 'ingest', 'files', 'scan 1', 'scan 2'],
    })
    expect(report).toMatchObject({ lost: 0, twice: 0, all: { count: 15 } })
    expect(report.acknowledged).toBeGreaterThan(0)
  })

  test('requests that are each a little wrong have an answer that says so, at every door', async () => {
    const report = await attackDoors({ ...server, keys }, { count: 2500, seed: 20_261_130 })
    expect(report.wrong).toEqual([])
    expect(report.sent).toBe(2500)
  })

  test('under full ingest every question is answered, and nothing is refused', async () => {
    const report = await soak({ ...server, keys }, { seconds: 15, people: 5000 })
    expect(report).toMatchObject({ refused: 0, unanswered: 0 })
    expect(report.questions.count).toBeGreaterThan(5)
  })

  test('the process killed at any moment loses nothing that was acknowledged, and counts nothing twice', async () => {
    const report = await killProcess(copyOf(demo, `${folder.dir}/killed`), { kills: 4, seed: 7 })
    expect(report).toMatchObject({ lost: 0, twice: 0 })
    expect(report.acknowledged).toBeGreaterThan(0)
    // Each kill waits for a start on the demo’s data: with both cores busy that is not done in a minute.
  }, 240_000)
})
