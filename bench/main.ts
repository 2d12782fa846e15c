import { DuckDBInstance, type DuckDBConnection } from '@duckdb/node-api'
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { availableParallelism, cpus } from 'node:os'
import path from 'node:path'
import { performance } from 'node:perf_hooks'
import { parseArgs } from 'node:util'
import Database from 'better-sqlite3'
import type { FunnelResult } from '../core/analyses/funnel/finish.js'
import type { Question } from '../core/analyses/registry.js'
import { DEFAULTS } from '../demo/generate.js'
import { makeDemo } from '../demo/make.js'
import { openDowser, type Dowser } from '../server/index.js'
import { projectRoot } from '../server/root.js'
import { makeLogger } from '../server/logger.js'
import { readSettings } from '../server/settings.js'
import { comparisons, FIVE_STEPS } from './comparisons.js'
import { ingestRates } from './ingest.js'
import { segmentCosts } from './segments.js'

/**
 * npm run bench -- --people N [--scale X]: generates, loads, and times trend and funnel against the same question in SQL
 * of DuckDB, on the same events, with as many threads, in one run; and checks that the answers are equal. --keep takes
 * the data of the run before; --ingest measures the taking in of events alone, --quick questions alone, --only some.
 */
const { values: args } = parseArgs({
  options: {
    people: { type: 'string', default: '14000' },
    scale: { type: 'string', default: '1' },
    threads: { type: 'string', default: String(availableParallelism()) },
    keep: { type: 'boolean', default: false },
    ingest: { type: 'boolean', default: false },
    quick: { type: 'boolean', default: false },
    only: { type: 'string', default: '' },
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
if (args.ingest) {
  await ingestRates(dataDir, threads, say)
  process.exit()
}
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
const dowser = openDowser({ ...readSettings({ DOWSER_THREADS: String(threads) }), dataDir }, makeLogger('warn'))
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
for (const { name, question, sql, equal } of comparisons.filter((each) =>
  args.only.split(',').some((name) => each.name.includes(name)),
)) {
  const [mine, theirs] = [await ask(dowser, question), (await duck.runAndReadAll(sql)).getRowObjectsJson()]
  const same = equal(mine, theirs as Record<string, string | number | null>[])
  const ours = await time(() => uncached(dowser, question))
  const duckMs = await time(() => duck.runAndReadAll(sql))
  rows.push({ name, dowserMs: round(ours), duckdbMs: round(duckMs), times: round(duckMs / ours), equal: same })
  say(
    `${name}: Dowser ${ours.toFixed(1)} ms, DuckDB ${duckMs.toFixed(1)} ms, ${(duckMs / ours).toFixed(1)} × as fast, answers ${same ? 'equal' : 'DIFFERENT'}`,
  )
}
if ('Segment'.includes(args.only) || args.only.startsWith('Segment'))
  rows.push(...(await segmentCosts(dowser, duck, time, say)))
if ('Funnel'.includes(args.only) || args.only.startsWith('Funnel')) await apartCost()
results.questions = rows
if (!args.quick) results.made = await madeCosts()
await dowser.close()
if (!args.quick) results.ingest = await ingestRates(dataDir, threads, say)

if (args.quick) process.exit(rows.some((row) => row.equal === false) ? 1 : 0)
const target = path.join(projectRoot, 'bench/results.json')
const all = existsSync(target) ? (JSON.parse(readFileSync(target, 'utf8')) as Record<string, unknown>[]) : []
const others = all.filter((entry) => entry.people !== options.people)
writeFileSync(target, `${JSON.stringify([...others, results], null, 2)}\n`)
say(`Written to ${path.relative(projectRoot, target)}`)
if (rows.some((row) => row.equal === false)) process.exit(1)

/**
 * The same trend broken down by a plain property, by arithmetic, and by channel rules of fifty rows: once their columns
 * are made, and the first time, when they are. And by what is known of people, that has a past and that has none.
 */
async function madeCosts(): Promise<Record<string, number>> {
  const by = (name: string, of: 'event' | 'person' = 'event'): Question => ({
    kind: 'trend',
    series: [{ event: { names: ['Ride completed'] }, measure: 'people' }],
    every: 'week',
    range: { last: 26, unit: 'week' },
    breakdowns: [{ by: { of, name }, keep: 10 }],
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
  // What has a past beside what has none.
  const steady = await time(() => uncached(dowser, by('rider_kind', 'person')))
  const changing = await time(() => uncached(dowser, by('plan', 'person')))
  costs.thenTimes = round(changing / steady, 2)
  say(
    `Breakdown by a profile property with a past: ${changing.toFixed(1)} ms, ${(changing / steady).toFixed(2)} × that of one without, ${steady.toFixed(1)} ms`,
  )
  return costs
}

/** What sets those who got through apart, over all events and their values, beside the time of the funnel itself. */
async function apartCost(): Promise<void> {
  const plain: Question = { ...FIVE_STEPS, breakdowns: undefined }
  const own = await time(() => uncached(dowser, plain))
  const apart: Question = { ...plain, show: { form: 'apart' } }
  const looked = await time(() => uncached(dowser, apart))
  const { look } = (await ask(dowser, apart)) as FunnelResult
  const told = look?.form === 'apart' ? look.features.length + look.leftOut.length + look.few : 0
  say(
    `Funnel: what sets them apart, ${told} events and values: ${looked.toFixed(1)} ms, ${(looked / own).toFixed(1)} × the funnel’s ${own.toFixed(1)} ms`,
  )
  rows.push({ name: 'what sets them apart ÷ the funnel itself', features: told, times: round(looked / own, 2) })
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
  const csv = path.join(dataDir, 'events-4.csv')
  if (!existsSync(csv)) {
    const db = new Database(file, { readonly: true })
    const { openSync, writeSync, closeSync } = await import('node:fs')
    const handle = openSync(csv, 'w')
    let block = 'person,type,time,seq,bike,plan,kind,minutes\n'
    for (const row of db
      .prepare(
        `SELECT i.person, t.name, e.time_ms, e.seq, e.properties->>'bike_type',
           (SELECT value->>'$' FROM profile_history h WHERE h.id IN (SELECT id FROM person_ids WHERE person = i.person)
              AND h.property = (SELECT id FROM properties WHERE scope = 'person' AND name = 'plan')
              AND h.written_ms <= e.time_ms ORDER BY h.written_ms DESC LIMIT 1),
           (SELECT value->>'$' FROM profile_values v WHERE v.person = i.person
              AND v.property = (SELECT id FROM properties WHERE scope = 'person' AND name = 'rider_kind')),
           CASE WHEN json_type(e.properties, '$.minutes') IN ('integer', 'real') THEN e.properties->>'minutes' END
         FROM events e JOIN person_ids i ON i.id = IFNULL(e.known, e.anonymous) JOIN event_types t ON t.id = e.type`,
      )
      .raw()
      .iterate() as Iterable<(number | string | null)[]>) {
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
  for (const name of ['bike', 'plan', 'kind'])
    await connection.run(
      `CREATE TYPE ${name}_name AS ENUM (SELECT DISTINCT ${name} FROM read_csv('${csv}') WHERE ${name} IS NOT NULL)`,
    )
  await connection.run(
    `CREATE TABLE events AS SELECT person::INTEGER AS person, type::event_type AS type, time::BIGINT AS time, seq::BIGINT AS seq,
       bike::bike_name AS bike, plan::plan_name AS plan, kind::kind_name AS kind, minutes::DOUBLE AS minutes
     FROM read_csv('${csv}') ORDER BY person, time, seq`,
  )
  say(`DuckDB loaded in ${((performance.now() - start) / 1000).toFixed(1)} s`)
}
