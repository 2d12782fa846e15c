import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { behaviourSchema } from '../core/outreach/destination.js'
import { openLoader } from '../server/loader.js'
import { openDatabase } from '../server/store/database.js'
import { destinationStore } from '../server/store/destinations.js'
import { workspaceFile } from '../server/store/home.js'
import { segmentStore } from '../server/store/segments.js'
import { startServer } from '../tests/browser/server.js'
import { client } from '../tests/attack/client.js'
import { makeKeys } from '../tests/attack/data.js'

/**
 * npm run bench:outreach: how long it takes to bring a hundred thousand people in step with a destination, and to send
 * each of them a message; and what a question takes meanwhile, against what it takes before.
 */
const PEOPLE = Number(process.env.PEOPLE ?? 100_000)
const EACH = 10
const dir = mkdtempSync(path.join(tmpdir(), 'dowser-bench-'))
const DAY = Date.UTC(2026, 9, 1)
const RECEIVED = DAY + 40 * 86_400_000

const loader = openLoader(dir, RECEIVED)
loader.settings.set({ name: 'Bench', zone: 'UTC', now: 'last event' })
for (let from = 0; from < PEOPLE; from += 2000) {
  const events = Array.from({ length: 2000 * EACH }, (_, i) => {
    const person = from + Math.floor(i / EACH)
    const number = person * EACH + (i % EACH)
    return {
      ...{ id: `e${number}`, person: `p${person}`, event: i % 3 === 0 ? 'Bought' : 'Visited', source: 'web' },
      ...{ time: DAY + (number % 2_400_000) * 1000, properties: { page: number % 7 } },
    }
  })
  loader.sendEvents(events, RECEIVED)
}
loader.close()
const db = openDatabase(workspaceFile(dir, DAY))
const segment = segmentStore(db).create(
  {
    ...{ name: 'All', description: '', tags: [] },
    rule: { hold: 'all', of: [{ kind: 'did', event: { names: ['Visited'] } }] },
  },
  DAY,
)
const behaviour = behaviourSchema.parse({ latencyMs: 20, failing: 0, silent: 0, refused: 0 })
const destination = destinationStore(db).create('Push', { kind: 'push', behaviour } as never, null, DAY)
db.close()
const keys = makeKeys(dir)
const server = await startServer({ dir }, { DOWSER_QUESTIONS_PER_MINUTE: '1000000' })
const http = client(server.base, 2)

let asked = 0
async function question(): Promise<number> {
  // Each is another one: what was answered before is kept.
  const where = { property: { of: 'event', name: 'page' }, op: '<', number: 1 + (asked++ % 1000) / 1000 + asked }
  const body = JSON.stringify({
    ...{ kind: 'funnel', window: { count: 7, unit: 'day' }, range: { last: 30, unit: 'day' } },
    steps: [{ event: { names: ['Visited'] }, where }, { event: { names: ['Bought'] } }],
  })
  const headers = { authorization: `Bearer ${keys.read}`, 'content-type': 'application/json' }
  const reply = await http.send('/api/v1/query', { method: 'POST', body, headers })
  if (reply.status !== 200) throw new Error(`${reply.status}: ${reply.text.slice(0, 200)}`)
  return reply.ms
}
const middle = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]

async function send(place: string, form: Record<string, string>): Promise<void> {
  const headers = { origin: server.base }
  const reply = await fetch(server.base + place, {
    ...{ method: 'POST', body: new URLSearchParams(form), headers, redirect: 'manual' },
  })
  if (reply.status >= 400) throw new Error(`${place} answered ${reply.status}`)
}

/** Asks again and again until the count is reached. */
async function timed(name: string, start: () => Promise<void>, sql: string): Promise<void> {
  const before: number[] = []
  for (let i = 0; i < 20; i++) before.push(await question())
  const during: number[] = []
  const began = performance.now()
  await start()
  const look = openDatabase(workspaceFile(dir, DAY), { readonly: true })
  const count = look.prepare<[], number>(sql).pluck()
  while ((count.get() ?? 0) < PEOPLE && performance.now() - began < 200_000) during.push(await question())
  const seconds = (performance.now() - began) / 1000
  const reached = count.get() ?? 0
  look.close()
  console.log(
    `${name}: ${reached.toLocaleString('en-GB')} people in ${seconds.toFixed(1)} s; a question ${middle(before).toFixed(0)} ms before, ` +
      `${(middle(during) ?? NaN).toFixed(0)} ms meanwhile (${((middle(during) ?? NaN) / middle(before)).toFixed(2)} times), of ${during.length}`,
  )
}

try {
  await timed(
    'kept in step',
    () => {
      const kept = { name: 'All', segment, destination, schedule: { kind: 'daily', at: '06:00' } }
      return send('/outreach/kept/new', { intent: 'start', kept: JSON.stringify(kept) }).then(async () => {
        const own = openDatabase(workspaceFile(dir, DAY), { readonly: true })
        const id = own.prepare<[], string>('SELECT id FROM syncs').pluck().get()!
        own.close()
        await send(`/outreach/kept/${id}`, { intent: 'run', id })
      })
    },
    "SELECT COUNT(*) FROM sync_members WHERE state = 'in'",
  )
  await timed(
    'a message',
    () =>
      send('/outreach/messages/new', {
        intent: 'start',
        message: JSON.stringify({
          ...{ name: 'News', segment, destination, trigger: { kind: 'once' }, holdOut: 0 },
          variants: [{ name: 'A', title: 'News', text: 'Hello {page, or "there"}' }],
          ...{ goal: { event: { names: ['Bought'] } }, within: { count: 1, unit: 'day' } },
        }),
      }),
    "SELECT COUNT(*) FROM message_entries WHERE state IN ('sent', 'dropped')",
  )
} finally {
  http.close()
  await server.stop({ keep: true })
  rmSync(dir, { recursive: true, force: true })
}
