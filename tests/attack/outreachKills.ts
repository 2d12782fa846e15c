import Database from 'better-sqlite3'
import { existsSync, readdirSync } from 'node:fs'
import path from 'node:path'
import { startServer, type TestServer } from '../browser/server.js'
import { Random } from '../../demo/random.js'
import { MESSAGE_EVENTS } from '../../core/outreach/events.js'
import { openDatabase } from '../../server/store/database.js'
import { workspaceFile } from '../../server/store/home.js'
import { figuresOf, pause } from './client.js'

/** Hours of the workspace's clock each second. */
const FAST = 14_400

export interface OutreachKillReport {
  kills: number
  /** entries that came in, and of them sent, meanwhile */
  entered: number
  sent: number
  /** messages that the stand-ins took meanwhile */
  received: number
  /** events of sending that were taken in meanwhile */
  told: number
  /** tries of what had been taken already, recognised by their key */
  repeats: number
  /** taken twice under different keys */
  twice: number
  /** changes of what is kept in step that still wait at the end */
  left: number
  backMs: ReturnType<typeof figuresOf>
}

/**
 * Ends the process at random moments while the clock runs, people come into two messages and segments are kept in step;
 * then lets what waits be sent, and compares what was decided with what the services were told.
 */
export async function killOutreach(
  dir: string,
  { kills, seed }: { kills: number; seed: number },
): Promise<OutreachKillReport> {
  const random = new Random(seed)
  const back: number[] = []
  const before = tally(dir)
  for (let kill = 0; kill <= kills; kill++) {
    const started = performance.now()
    const server = await startServer({ dir })
    if (kill > 0) back.push(performance.now() - started)
    if (kill === 0) for (const message of MESSAGES) await send(server, '/outreach/messages/new', message)
    await send(server, '/outreach', { intent: 'run', speed: String(kill === kills ? 0 : FAST) })
    if (kill === kills) {
      await quiet(dir)
      await server.stop({ keep: true })
      break
    }
    await pause(random.whole(50, 1500))
    await server.kill()
  }
  const after = tally(dir)
  const grown = (name: keyof typeof after) => after[name] - before[name]
  return {
    ...{ kills, entered: grown('entered'), sent: grown('sent'), received: grown('received'), told: grown('told') },
    ...{ repeats: grown('repeats'), twice: grown('twice'), left: after.left, backMs: figuresOf(back) },
  }
}

const MESSAGES = [
  { name: 'Come out', segment: 'regulars', wait: 0 },
  { name: 'Another day', segment: 'campus-riders', wait: 6, again: 3 },
].map((message) => ({
  intent: 'start',
  message: JSON.stringify({
    ...message,
    ...{ trigger: { kind: 'comes in' }, destination: 'push-notices', holdOut: 20 },
    variants: ['A', 'B'].map((name) => ({ name, title: name, text: 'Out on the bike {first name, or "rider"}' })),
    ...{ goal: { event: { names: ['Ride completed'] } }, within: { count: 1, unit: 'day' } },
  }),
}))

async function send(server: TestServer, place: string, form: Record<string, string>): Promise<void> {
  const reply = await fetch(server.base + place, {
    ...{ method: 'POST', body: new URLSearchParams(form), headers: { origin: server.base }, redirect: 'manual' },
  })
  if (reply.status >= 400) throw new Error(`${place} answered ${reply.status}: ${(await reply.text()).slice(0, 200)}`)
}

/** Until nothing is on its way any more. */
async function quiet(dir: string): Promise<void> {
  const limit = Date.now() + 120_000
  while (Date.now() < limit) {
    const { left, ready, waiting } = tally(dir)
    if (left === 0 && ready === 0 && waiting === 0) return
    await pause(500)
  }
}

function tally(dir: string) {
  const db = openDatabase(workspaceFile(dir, Date.now()), { readonly: true })
  const one = (sql: string) => db.prepare<[], number>(sql).pluck().get() ?? 0
  const figures = {
    entered: one('SELECT COUNT(*) FROM message_entries'),
    sent: one("SELECT COUNT(*) FROM message_entries WHERE state = 'sent'"),
    ready: one("SELECT COUNT(*) FROM message_entries WHERE state = 'ready'"),
    waiting: one('SELECT COUNT(*) FROM outreach_events'),
    left: one('SELECT COUNT(*) FROM outbox'),
    told: one(
      `SELECT COUNT(*) FROM events WHERE type = (SELECT id FROM event_types WHERE name = '${MESSAGE_EVENTS.sent}')`,
    ),
  }
  db.close()
  const books = path.join(dir, 'standins')
  const kept = { received: 0, repeats: 0, twice: 0 }
  for (const file of (existsSync(books) ? readdirSync(books) : []).filter((name) => name.endsWith('.db'))) {
    const book = new Database(path.join(books, file), { readonly: true })
    const count = (name: string) =>
      book.prepare<[string], number>('SELECT n FROM counts WHERE name = ?').pluck().get(name) ?? 0
    kept.received += book.prepare<[], number>('SELECT COUNT(*) FROM messages').pluck().get() ?? 0
    kept.repeats += count('repeats')
    kept.twice += count('twice')
    book.close()
  }
  return { ...figures, ...kept }
}
