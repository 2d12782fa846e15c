import { cpSync } from 'node:fs'
import { startServer, type TestServer } from '../browser/server.js'
import { ask, client, figuresOf, pause, sendEvents, untilReady } from './client.js'
import { makeKeys, storedEvents } from './data.js'
import { Random } from '../../demo/random.js'
import { QUESTIONS } from './seeds.js'

export interface KillReport {
  kills: number
  acknowledged: number
  lost: number
  twice: number
  backMs: ReturnType<typeof figuresOf>
}

const batchOf = (from: number, size: number) =>
  Array.from({ length: size }, (_, i) => ({
    ...{ id: `kill-${from + i}`, person: `k${(from + i) % 500}`, event: 'Ride completed', source: 'attack' },
    ...{ time: Date.UTC(2026, 9, 1) + ((from + i) % 1_000_000) * 1000, properties: { minutes: i } },
  }))

/** Ends the process at random moments while events are sent, and counts what was acknowledged and is not there. */
export async function killProcess(dir: string, { kills, seed }: { kills: number; seed: number }): Promise<KillReport> {
  const random = new Random(seed)
  const keys = makeKeys(dir)
  const acknowledged = new Set<string>()
  const back: number[] = []
  let next = 0
  for (let kill = 0; kill <= kills; kill++) {
    const started = performance.now()
    const server = await startServer({ dir })
    if (kill > 0) back.push(performance.now() - started)
    if (kill === kills) {
      await server.stop()
      break
    }
    const http = client(server.base, 4)
    let going = true
    const sender = async () => {
      while (going) {
        const batch = batchOf(next, 100)
        next += 100
        const reply = await sendEvents(http, keys.write, JSON.stringify(batch), 10_000)
        if (reply.status === 200) for (const { id } of batch) acknowledged.add(id)
      }
    }
    const senders = Array.from({ length: 4 }, sender)
    await pause(150 + random.whole(0, 1199))
    going = false
    await server.kill()
    await Promise.all(senders)
    http.close()
  }
  const stored = storedEvents(dir, 'kill-')
  const there = new Set(stored)
  return {
    ...{ kills, acknowledged: acknowledged.size, twice: stored.length - there.size, backMs: figuresOf(back) },
    lost: [...acknowledged].filter((id) => !there.has(id)).length,
  }
}

export interface ThreadReport {
  /** by thread: how long until the server was ready again */
  back: Record<string, ReturnType<typeof figuresOf>>
  all: ReturnType<typeof figuresOf>
  /** of the requests beside: how they were answered */
  answers: Record<string, number>
  acknowledged: number
  lost: number
  twice: number
}

/** Ends each thread many times beside senders and askers. Every one must come back, and nothing may be lost. */
export async function killThreads(
  server: TestServer,
  keys: { write: string; read: string },
  { times, threads }: { times: number; threads: readonly string[] },
): Promise<ThreadReport> {
  const http = client(server.base, 12)
  const answers = new Map<string, number>()
  const acknowledged = new Set<string>()
  let going = true
  let next = 10_000_000
  const note = (what: string, status: number) => {
    const key = `${what} ${status}`
    answers.set(key, (answers.get(key) ?? 0) + 1)
  }
  const sender = async () => {
    while (going) {
      const batch = batchOf(next, 50)
      next += 50
      const reply = await sendEvents(http, keys.write, JSON.stringify(batch), 20_000)
      note('batch', reply.status)
      if (reply.status === 200) for (const { id } of batch) acknowledged.add(id)
      await pause(20)
    }
  }
  const askers = QUESTIONS.slice(0, 3).map(async (question) => {
    while (going) {
      const reply = await ask(http, keys.read, question, 20_000)
      note('question', reply.status)
      await pause(20)
    }
  })
  const work = Promise.all([sender(), sender(), ...askers])
  const back = new Map<string, number[]>()
  for (let round = 0; round < times; round++)
    for (const thread of threads) {
      await pause(60)
      await http.send(`/attack/kill/${encodeURIComponent(thread)}`, {
        method: 'POST',
        headers: { origin: server.base },
      })
      const took = await untilReady(http)
      const list = back.get(thread) ?? []
      list.push(took)
      back.set(thread, list)
    }
  going = false
  await work
  http.close()
  const stored = storedEvents(server.dataDir, 'kill-').filter((id) => Number(id.slice(5)) >= 10_000_000)
  const there = new Set(stored)
  return {
    back: Object.fromEntries([...back].map(([thread, list]) => [thread, figuresOf(list)])),
    all: figuresOf([...back.values()].flat()),
    ...{ answers: Object.fromEntries(answers), acknowledged: acknowledged.size, twice: stored.length - there.size },
    lost: [...acknowledged].filter((id) => !there.has(id)).length,
  }
}

/** A copy of a data folder, so that the same demo serves several attacks. */
export function copyOf(dir: string, to: string): string {
  cpSync(dir, to, { recursive: true })
  return to
}
