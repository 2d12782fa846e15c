import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { DuckDBInstance, type DuckDBConnection } from '@duckdb/node-api'
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { availableParallelism, cpus } from 'node:os'
import path from 'node:path'
import { performance } from 'node:perf_hooks'
import { parseArgs } from 'node:util'
import Database from 'better-sqlite3'
import type { Question } from '../core/analyses/registry.js'
import { DEFAULTS, generate } from '../demo/generate.js'
import { makeDemo } from '../demo/make.js'
import { trackingPlan } from '../demo/plan.js'
import { openLoader } from '../server/loader.js'
import { openDowser, type Dowser } from '../server/index.js'
import { projectRoot } from '../server/root.js'
import { readSettings } from '../server/settings.js'
import { comparisons } from './comparisons.js'

/**
 * npm run bench -- --people N [--scale X]: generates, loads, and times trend and funnel against the same question in SQL
 * of DuckDB, on the same events, with as many threads, in one run; and checks that the answers are equal.
 */
const { values: args } = parseArgs({
  options: {
    people: { type: 'string', default: '14000' },
    scale: { type: 'string', default: '1' },
    threads: { type: 'string', default: String(availableParallelism()) },
    keep: { type: 'boolean', default: false },
  },
})
const options = { ...DEFAULTS, people: Number(args.people), scale: Number(args.scale) }
const threads = Number(args.threads)
const dataDir = path.join(projectRoot, '.cache/bench', `${options.people}-${options.scale}`)
const results: Record<string, unknown> = {
  date: new Date().toISOString().slice(0, 10),
  machine: `${cpus()[0].model}, ${threads} threads, Node ${process.version}`,
  people: options.people,
}
let asked = 0
const say = (line: string) => console.log(line)
const round = (x: number, digits = 1) => Number(x.toFixed(digits))

/** Median of several runs, ms; the first ones warm up. */
async function time(work: () => Promise<unknown>, runs = 9, warm = 3): Promise<number> {
  const times: number[] = []
  for (let i = 0; i < runs + warm; i++) {
    const start = performance.now()
    await work()
    if (i >= warm) times.push(performance.now() - start)
  }
  return times.sort((a, b) => a - b)[Math.floor(times.length / 2)]
}

if (!args.keep || !existsSync(path.join(dataDir, 'dowser.db'))) {
  rmSync(dataDir, { recursive: true, force: true })
  mkdirSync(dataDir, { recursive: true })
  const start = performance.now()
  makeDemo(dataDir, options, say)
  results.generateAndWriteSeconds = round((performance.now() - start) / 1000)
}
const file = path.join(dataDir, 'workspaces/main.db')
results.fileMB = Math.round(statSync(file).size / 1_048_576)

const opening = performance.now()
const before = process.memoryUsage().rss
const dowser = openDowser({ ...readSettings({ DOWSER_THREADS: String(threads) }), dataDir })
while (!(await dowser.status()).ready) await new Promise((resolve) => setTimeout(resolve, 50))
const status = await dowser.status()
results.events = status.events
results.startFromRowsSeconds = round((performance.now() - opening) / 1000)
results.bytesPerEvent = round(status.storeBytes / status.events)
results.rssMB = Math.round((process.memoryUsage().rss - before) / 1_048_576)
say(
  `${status.events.toLocaleString('en-GB')} events; start from rows ${String(results.startFromRowsSeconds)} s, ${String(results.bytesPerEvent)} bytes an event`,
)

const duck = await (await DuckDBInstance.create(':memory:', { threads: String(threads) })).connect()
await loadDuck(duck)

const rows: Record<string, unknown>[] = []
for (const { name, question, sql, equal } of comparisons) {
  const [mine, theirs] = [await ask(dowser, question), (await duck.runAndReadAll(sql)).getRowObjectsJson()]
  const same = equal(mine, theirs as Record<string, string | number | null>[])
  const ours = await time(() => uncached(dowser, question))
  const duckMs = await time(() => duck.runAndReadAll(sql))
  rows.push({ name, dowserMs: round(ours), duckdbMs: round(duckMs), times: round(duckMs / ours), equal: same })
  say(
    `${name}: Dowser ${ours.toFixed(1)} ms, DuckDB ${duckMs.toFixed(1)} ms, ${(duckMs / ours).toFixed(1)} × as fast, answers ${same ? 'equal' : 'DIFFERENT'}`,
  )
}
results.questions = rows
results.made = await madeCosts()
await dowser.close()
results.ingest = await ingestRate()

const target = path.join(projectRoot, 'bench/results.json')
const all = existsSync(target) ? (JSON.parse(readFileSync(target, 'utf8')) as Record<string, unknown>[]) : []
const others = all.filter((entry) => entry.people !== options.people)
writeFileSync(target, `${JSON.stringify([...others, results], null, 2)}\n`)
say(`Written to ${path.relative(projectRoot, target)}`)
if (rows.some((row) => row.equal === false)) process.exit(1)

/**
 * The same trend broken down by a plain property, by arithmetic, and by channel rules of fifty rows: once their columns
 * are made, and the first time, when they are.
 */
async function madeCosts(): Promise<Record<string, number>> {
  const by = (name: string): Question => ({
    kind: 'trend',
    series: [{ event: { names: ['Ride completed'] }, measure: 'people' }],
    every: 'week',
    range: { last: 26, unit: 'week' },
    breakdowns: [{ by: { of: 'event', name }, keep: 10 }],
    show: { form: 'lines', as: 'number' },
  })
  const districts = ['Quayside', 'Old Mint', 'Lantern Hill', 'Marsh End', 'College Green', 'Ropewalk', 'Northgate']
  const recipe = {
    kind: 'rules',
    rows: Array.from({ length: 50 }, (_, i) => ({
      where: {
        all: [
          { property: { of: 'event', name: 'from_district' }, op: 'is', values: [districts[i % 7]] },
          { property: { of: 'event', name: 'to_district' }, op: 'is', values: [districts[Math.floor(i / 7) % 7]] },
        ],
      },
      gives: { text: `Channel ${i}` },
    })),
    otherwise: { text: 'Direct' },
  }
  const derived: [string, object][] = [
    ['bench_rules', recipe],
    ['bench_arithmetic', { kind: 'arithmetic', formula: 'round(km / minutes * 60)' }],
  ]
  for (const [name, made] of derived)
    await dowser.told(
      dowser.mending.saveDerived({ name, of: 'event', description: '', recipe: made }, Date.now(), {
        of: 'event',
        name,
      }),
    )
  const plain = await time(() => uncached(dowser, by('from_district')))
  const costs: Record<string, number> = { plainMs: round(plain) }
  for (const [name] of derived) {
    const started = performance.now()
    await uncached(dowser, by(name))
    const first = performance.now() - started
    const later = await time(() => uncached(dowser, by(name)))
    costs[`${name.slice(6)}Ms`] = round(later)
    costs[`${name.slice(6)}FirstMs`] = round(first)
    costs[`${name.slice(6)}Times`] = round(later / plain, 2)
    say(
      `Breakdown by ${name.slice(6)}: ${later.toFixed(1)} ms, ${(later / plain).toFixed(2)} × the plain property’s ${plain.toFixed(1)} ms; ${first.toFixed(0)} ms the first time`,
    )
    dowser.mending.removeDerived('event', name)
  }
  return costs
}

async function ask(door: Dowser, question: Question) {
  const { result, faults } = await door.run(question)
  if (!result) throw new Error(JSON.stringify(faults))
  return result
}

/** The same question in a form the cache does not know: a field that no plan reads. */
async function uncached(door: Dowser, question: Question) {
  return ask(door, { ...question, asked: asked++ } as unknown as Question)
}

/** The same events in one table of DuckDB, sorted by person and time as our store is. */
async function loadDuck(connection: DuckDBConnection): Promise<void> {
  const start = performance.now()
  const csv = path.join(dataDir, 'events.csv')
  if (!existsSync(csv)) {
    const db = new Database(file, { readonly: true })
    const { openSync, writeSync, closeSync } = await import('node:fs')
    const handle = openSync(csv, 'w')
    let block = 'person,type,time,seq\n'
    for (const row of db
      .prepare(
        `SELECT i.person, t.name, e.time_ms, e.seq FROM events e JOIN person_ids i ON i.id = IFNULL(e.known, e.anonymous)
         JOIN event_types t ON t.id = e.type`,
      )
      .raw()
      .iterate() as Iterable<[number, string, number, number]>) {
      block += `${row.join(',')}\n`
      if (block.length > 1_000_000) {
        writeSync(handle, block)
        block = ''
      }
    }
    writeSync(handle, block)
    closeSync(handle)
    db.close()
  }
  await connection.run('SET preserve_insertion_order = true')
  await connection.run(`CREATE TYPE event_type AS ENUM (SELECT DISTINCT type FROM read_csv('${csv}'))`)
  await connection.run(
    `CREATE TABLE events AS SELECT person::INTEGER AS person, type::event_type AS type, time::BIGINT AS time, seq::BIGINT AS seq
     FROM read_csv('${csv}') ORDER BY person, time, seq`,
  )
  say(`DuckDB loaded in ${((performance.now() - start) / 1000).toFixed(1)} s`)
}

/**
 * Events a second over HTTP, in batches of 500 by one client, with the tracking plan checked and while a funnel is asked
 * in a loop, against bare inserts into the same tables; and how long it takes until studies count them.
 */
async function ingestRate(): Promise<Record<string, number>> {
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
  const post = async (place: string, key: string, body: string | Uint8Array<ArrayBuffer>) => {
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json' }
    const response = await fetch(`${base}/api/v1/${place}`, { method: 'POST', body, headers })
    if (!response.ok) throw new Error(await response.text())
    await response.arrayBuffer()
  }
  const send = (body: Uint8Array<ArrayBuffer>) => post('events', write, body)
  const health = async () =>
    (await fetch(`${base}/healthz`)
      .then((response) => response.json())
      .catch(() => ({ ready: false, events: 0 }))) as { ready: boolean; events: number }
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
  let going = true
  let asked = 0
  const loop = (async () => {
    // A field that no plan reads would be refused here: another width of the window makes it a new question.
    while (going)
      await post('query', read, JSON.stringify({ ...funnel, window: { count: 1 + (asked++ % 900), unit: 'hour' } }))
  })()
  const start = performance.now()
  // First one request after the other; then one client with four on their way, so that none waits for the network.
  const half = batches.splice(0, batches.length / 2)
  for (const body of half) await send(body)
  const oneByOne = total / 2 / ((performance.now() - start) / 1000)
  const startMany = performance.now()
  const lanes = Array.from({ length: 4 }, async () => {
    for (let body = batches.shift(); body; body = batches.shift()) await send(body)
  })
  await Promise.all(lanes)
  const ours = total / 2 / ((performance.now() - startMany) / 1000)
  going = false
  await loop
  const goal = warm * 500 + total
  const seen = performance.now()
  while ((await health()).events < goal && performance.now() - seen < 10_000)
    await new Promise((resolve) => setTimeout(resolve, 20))
  const visible = performance.now() - seen
  server.kill('SIGTERM')
  await once(server, 'exit')

  const copy = path.join(folder, 'bare.db')
  rmSync(copy, { force: true })
  const source = new Database(path.join(folder, 'workspaces/main.db'), { readonly: true })
  const schema = source
    .prepare<[], { sql: string }>(`SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%'`)
    .all()
  source.close()
  const bare = new Database(copy)
  bare.pragma('journal_mode = WAL')
  bare.pragma('synchronous = FULL')
  bare.pragma('foreign_keys = ON')
  bare.pragma('cache_size = -65536')
  for (const { sql } of schema) bare.exec(sql)
  bare.exec(`INSERT INTO people (id, changed) VALUES (1, 1); INSERT INTO person_ids VALUES (1, 'known', 'a', 1);
    INSERT INTO event_types (id, name) VALUES (1, 'a')`)
  const insert = bare.prepare('INSERT INTO events VALUES (NULL, ?, 1, NULL, 1, ?, NULL, ?, 1)')
  const startBare = performance.now()
  for (let b = 0; b < total / 500; b++)
    bare.transaction(() => {
      for (const event of events.slice(b * 500, b * 500 + 500))
        insert.run(event.id, event.time, JSON.stringify(event.properties))
    })()
  const rate = total / ((performance.now() - startBare) / 1000)
  bare.close()
  rmSync(folder, { recursive: true })
  say(
    `Ingest over HTTP, plan checked, ${asked} funnels asked meanwhile: ${Math.round(ours).toLocaleString('en-GB')} events a second (one by one ${Math.round(oneByOne).toLocaleString('en-GB')}), bare inserts ${Math.round(rate).toLocaleString('en-GB')}: ${(ours / rate).toFixed(2)}; counted ${Math.round(visible)} ms after the last`,
  )
  const [eventsPerSecond, barePerSecond] = [Math.round(ours), Math.round(rate)]
  return {
    eventsPerSecond,
    oneByOnePerSecond: Math.round(oneByOne),
    barePerSecond,
    share: round(ours / rate, 2),
    visibleMs: Math.round(visible),
  }
}
