import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { rmSync } from 'node:fs'
import { Agent, request } from 'node:http'
import path from 'node:path'
import { performance } from 'node:perf_hooks'
import { Worker } from 'node:worker_threads'
import Database from 'better-sqlite3'
import { DEFAULTS, generate } from '../demo/generate.js'
import { trackingPlan } from '../demo/plan.js'
import { openLoader } from '../server/loader.js'
import { projectRoot } from '../server/root.js'
import { comparisons } from './comparisons.js'

/** Runs the measurement several times, for one run says little on a machine shared with others; the median counts. */
export async function ingestRates(dataDir: string, threads: number, say: (line: string) => void) {
  const runs: Awaited<ReturnType<typeof ingestRate>>[] = []
  while (runs.length < 5) runs.push(await ingestRate(dataDir, threads, say))
  const median = runs.toSorted((a, b) => a.share - b.share)[2]
  say(`Ingest over HTTP, median of five: ${median.share} of bare inserts`)
  return { ...median, shares: runs.map(({ share }) => share) }
}

/**
 * Events a second over HTTP, in batches of 500 by one client with eight on their way, with the tracking plan checked and
 * while a funnel is asked in a loop, against bare inserts into the same tables; and how long it takes until studies
 * count them.
 */
async function ingestRate(dataDir: string, threads: number, say: (line: string) => void) {
  const folder = path.join(dataDir, 'ingest')
  rmSync(folder, { recursive: true, force: true })
  const loader = openLoader(folder, Date.now())
  loader.plan.save(trackingPlan(() => ''))
  loader.settings.set({ zone: 'Europe/Lisbon' })
  const write = loader.keys.create('bench', 'write', Date.now())
  const read = loader.keys.create('bench', 'read', Date.now())
  loader.close()
  const port = 4890
  const base = `http://127.0.0.1:${port}`
  // The built server, in a process of its own, as people run it.
  const server = spawn(process.execPath, ['server.js'], {
    cwd: projectRoot,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      ...{ NODE_ENV: 'production', DOWSER_DATA: folder, DOWSER_PORT: String(port), DOWSER_LOG: 'error' },
      DOWSER_THREADS: String(threads),
    },
  })
  // Plain HTTP with connections kept open: the client shares the two cores, so it should cost little.
  const agent = new Agent({ keepAlive: true })
  const post = (place: string, key: string, body: string | Uint8Array) =>
    new Promise<void>((resolve, reject) => {
      const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json' }
      const asked = request(`${base}/api/v1/${place}`, { method: 'POST', agent, headers }, (response) => {
        response.resume().on('end', () => {
          if (response.statusCode === 200) resolve()
          else reject(new Error(`${place} answered ${String(response.statusCode)}`))
        })
      })
      asked.on('error', reject).end(body)
    })
  const send = (body: Uint8Array) => post('events', write, body)
  const health = async () => {
    const [ready, metrics] = await Promise.all([
      fetch(`${base}/readyz`).then(({ ok }) => ok),
      fetch(`${base}/metrics`).then((response) => response.text()),
    ]).catch(() => [false, ''] as const)
    return { ready, events: Number(/^dowser_stored_events (\d+)/m.exec(metrics)?.[1] ?? 0) }
  }
  const warm = 20
  const total = 100_000
  const [{ events: made }] = generate({ ...DEFAULTS, people: 6000, seed: 99 })
  const events = made.filter(({ time }) => time < Date.now())
  const batches = Array.from(
    { length: warm + total / 500 },
    (_, b) => new Uint8Array(Buffer.from(JSON.stringify(events.slice(b * 500, b * 500 + 500)))),
  )
  while (!(await health()).ready) await new Promise((resolve) => setTimeout(resolve, 50))
  // The first batches wait for the thread to start, and for its code to be compiled.
  for (const body of batches.splice(0, warm)) await send(body)
  const funnel = comparisons.find(({ question }) => question.kind === 'funnel')!.question
  const loop = new Worker(new URL('./askLoop.mjs', import.meta.url), {
    workerData: { address: `${base}/api/v1/query`, key: read, question: funnel },
  })
  const start = performance.now()
  // First one request after the other; then eight on their way, as from many devices, so that none waits for the network.
  const half = batches.splice(0, batches.length / 2)
  for (const body of half) await send(body)
  const oneByOne = total / 2 / ((performance.now() - start) / 1000)
  const startMany = performance.now()
  const lanes = Array.from({ length: 8 }, async () => {
    for (let body = batches.shift(); body; body = batches.shift()) await send(body)
  })
  await Promise.all(lanes)
  const ours = total / 2 / ((performance.now() - startMany) / 1000)
  const goal = warm * 500 + total
  const seen = performance.now()
  while ((await health()).events < goal && performance.now() - seen < 10_000)
    await new Promise((resolve) => setTimeout(resolve, 20))
  const visible = performance.now() - seen
  // The bare inserts are made under the same load, and once more with nothing else going on.
  const file = path.join(folder, 'workspaces/main.db')
  const rate = bareRate(file, path.join(folder, 'bare.db'))
  loop.postMessage('stop')
  const [asked] = (await once(loop, 'message')) as [number]
  agent.destroy()
  server.kill('SIGTERM')
  await once(server, 'exit')
  const alone = bareRate(file, path.join(folder, 'bare-alone.db'))
  rmSync(folder, { recursive: true })
  say(
    `Ingest over HTTP, plan checked, ${asked} funnels asked meanwhile: ${Math.round(ours).toLocaleString('en-GB')} events a second (one by one ${Math.round(oneByOne).toLocaleString('en-GB')}), bare inserts beside the same funnels ${Math.round(rate).toLocaleString('en-GB')}: ${(ours / rate).toFixed(2)}, alone ${Math.round(alone).toLocaleString('en-GB')}: ${(ours / alone).toFixed(2)}; counted ${Math.round(visible)} ms after the last`,
  )
  const [eventsPerSecond, barePerSecond] = [Math.round(ours), Math.round(rate)]
  return {
    eventsPerSecond,
    oneByOnePerSecond: Math.round(oneByOne),
    barePerSecond,
    bareAlonePerSecond: Math.round(alone),
    share: Number((ours / rate).toFixed(2)),
    shareOfAlone: Number((ours / alone).toFixed(2)),
    visibleMs: Math.round(visible),
  }
}

/**
 * Events a second when the rows that a workspace's file ends up with are inserted into empty tables like its own, 500
 * events a transaction with the people and ids that are new in each, and nothing else is done.
 */
function bareRate(file: string, copy: string): number {
  const source = new Database(file, { readonly: true })
  const schema = source
    .prepare<[], { sql: string }>(`SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%'`)
    .all()
  const rowsOf = (table: string, order: string) =>
    source.prepare<[], Row>(`SELECT * FROM ${table} ORDER BY ${order}`).raw().all() as unknown as Row[]
  const [types, sources] = [rowsOf('event_types', 'id'), rowsOf('sources', 'id')]
  const [people, ids, links] = [
    rowsOf('people', 'id'),
    rowsOf('person_ids', 'id'),
    rowsOf('id_links', 'max(known, anonymous)'),
  ]
  const events = rowsOf('events', 'seq')
  source.close()

  const bare = new Database(copy)
  for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON', 'cache_size = -65536'])
    bare.pragma(pragma)
  for (const { sql } of schema) bare.exec(sql)
  const inserter = (table: string, [first]: readonly Row[]) =>
    bare.prepare(`INSERT INTO ${table} VALUES (${first.map(() => '?').join(', ')})`)
  for (const [table, rows] of [
    ['event_types', types],
    ['sources', sources],
  ] as const) {
    const insert = inserter(table, rows)
    for (const row of rows) insert.run(...row)
  }
  const tables = [
    { insert: inserter('people', people), rows: people, next: 0, needed: ([id]: Row) => Number(id) },
    { insert: inserter('person_ids', ids), rows: ids, next: 0, needed: ([id]: Row) => Number(id) },
    {
      ...{ insert: inserter('id_links', links), rows: links, next: 0 },
      needed: ([known, anonymous]: Row) => Math.max(Number(known), Number(anonymous)),
    },
  ]
  const insertEvent = inserter('events', events)
  const start = performance.now()
  for (let at = 0; at < events.length; at += 500)
    bare.transaction(() => {
      const batch = events.slice(at, at + 500)
      // Nobody is newer than their id, so this brings in whoever the batch names.
      const newest = Math.max(...batch.map((row) => Math.max(Number(row[0]), Number(row[3]))))
      for (const table of tables)
        for (; table.next < table.rows.length && table.needed(table.rows[table.next]) <= newest; table.next++)
          table.insert.run(...table.rows[table.next])
      for (const row of batch) insertEvent.run(...row)
    })()
  const rate = events.length / ((performance.now() - start) / 1000)
  bare.close()
  return rate
}

type Row = readonly (string | number | null)[]
