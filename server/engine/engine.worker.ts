import { createHash } from 'node:crypto'
import { parentPort, workerData } from 'node:worker_threads'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Question } from '../../core/analyses/registry.js'
import { blockBytes } from '../../core/log/log.js'
import type { Fault } from '../../core/questions/faults.js'
import { MadeCache, type MadeBase } from '../../core/made/columns.js'
import type { Calendar } from '../../core/time/range.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { openDatabase } from '../store/database.js'
import { settingsStore, type WorkspaceSettings } from '../store/settings.js'
import { LruCache } from './cache.js'
import {
  countUsage,
  readCatalog,
  readCatalogDetail,
  type Catalog,
  type CatalogDetail,
  type Counted,
} from './catalog.js'
import { findPerson, insight, type InsightRequest } from './insight.js'
import { LogKeeper, type Snapshot } from './keeper.js'
import { answerQuestion, readPeople, type Answer } from './query.js'
import { CancelledError, foldInThread, QueryControl, ScanPool } from './scanPool.js'

/** The thread that keeps one workspace's column store and answers questions from it, with the threads of its pool. */
export type EngineRequest =
  | { kind: 'run'; question: Question }
  | { kind: 'people'; ref: PeopleRef; offset: number; limit: number }
  | { kind: 'catalog' }
  | { kind: 'catalog detail' }
  | { kind: 'progress'; question: Question }
  | { kind: 'cancel'; target: number }
  | { kind: 'status' }
  | { kind: 'refresh' }
  | { kind: 'close' }
  | InsightRequest

export type RunReply = Answer & {
  /** state of the data the answer is from */
  version: number
  /** the moment the question was asked as of, epoch ms */
  now: number
}

export interface PersonSummary {
  person: number
  events: number
  lastMs: number
}

export type PeopleReply = { count: number; page: PersonSummary[] } | { faults: Fault[] }

export interface EngineStatus {
  ready: boolean
  /** while loading: events read so far */
  loaded: number
  version: number
  events: number
  people: number
  types: number
  newestMs: number | null
  /** the moment that questions are asked as of */
  now: number
  storeBytes: number
}

lowerPriority(5)
const { file, threads } = workerData as { file: string; threads: number }
const port = parentPort!
const db = openDatabase(file, { readonly: true })
const keeper = new LogKeeper(db)
const pool = new ScanPool(threads)
const answers = new LruCache<RunReply>(300)
const peopleLists = new LruCache<Uint32Array>(20)
const running = new Map<number, { query: QueryControl; key: string }>()
const made = new MadeCache()
const look = insight(db, made, (columns) => pool.extend(keeper.current, columns))
let catalog: { of: Usable; value: Catalog } | null = null
let detail: { of: Usable; value: CatalogDetail } | null = null
let counted: (Usable & { value: Counted }) | null = null
let loaded = 0
let ready = false

const { get: settings } = settingsStore(db)

function moment(snapshot: Snapshot): number {
  return settings().now === 'last event' ? (snapshot.newestMs ?? 0) : Date.now()
}

/** Answers of the same state of the data hold as long as now does: for ten seconds by the clock. */
function keyOf(what: object, snapshot: Snapshot, now: number): string {
  const { zone, firstDayOfWeek, now: by } = settings()
  const period = by === 'last event' ? now : Math.floor(now / 10_000)
  return `${snapshot.version} ${period} ${zone} ${firstDayOfWeek} ${questionKey(what)}`
}

/** How the result is drawn changes no number. */
function questionKey(what: object): string {
  return createHash('sha1')
    .update(JSON.stringify({ ...what, show: undefined }))
    .digest('base64')
}

async function withBase<T>(
  call: number,
  key: string,
  work: (base: Parameters<typeof answerQuestion>[1]) => Promise<T>,
  snapshot: Snapshot,
  now: number,
): Promise<T> {
  const calendar = calendarOf(settings())
  const query = new QueryControl()
  running.set(call, { query, key })
  pool.retain(snapshot)
  try {
    return await work({ snapshot, schema: keeper.schema, calendar, now, pool, query, made })
  } finally {
    pool.release(snapshot)
    running.delete(call)
  }
}

async function run(call: number, question: Question): Promise<RunReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const key = keyOf(question, snapshot, now)
  const cached = answers.get(key)
  if (cached) return cached
  const answer = await withBase(call, questionKey(question), (base) => answerQuestion(question, base), snapshot, now)
  const reply: RunReply = { ...answer, version: snapshot.version, now }
  answers.set(key, reply)
  return reply
}

async function people(call: number, ref: PeopleRef, offset: number, limit: number): Promise<PeopleReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const key = keyOf(ref, snapshot, now)
  let list = peopleLists.get(key)
  if (!list) {
    const found = await withBase(call, key, (base) => readPeople(ref, base), snapshot, now)
    if ('faults' in found) return found
    list = found
    peopleLists.set(key, list)
  }
  const page = Array.from(list.subarray(offset, offset + limit), (person) => summaryOf(snapshot, person, now))
  return { count: list.length, page }
}

function summaryOf({ logs }: Snapshot, person: number, now: number): PersonSummary {
  const found = findPerson(logs, person)
  if (!found) return { person, events: 0, lastMs: 0 }
  const { log, from } = found
  let { to } = found
  while (to > from && log.time[to - 1]! > now) to--
  return { person, events: to - from, lastMs: log.time[Math.max(from, to - 1)]! }
}

function status(): EngineStatus {
  const { version, events, seenPeople, newestMs, logs } = keeper.current
  const storeBytes = logs.reduce((bytes, log) => bytes + blockBytes(log), 0)
  const types = keeper.schema.types.length
  return {
    ready,
    loaded,
    version,
    events,
    people: seenPeople,
    types,
    newestMs,
    now: moment(keeper.current),
    storeBytes,
  }
}

function refresh(): boolean {
  const changed = keeper.refresh((rows) => {
    loaded = rows
    port.postMessage({ kind: 'loading', rows })
  })
  if (changed) port.postMessage({ kind: 'changed', version: keeper.current.version })
  const request = keeper.startFold()
  if (request)
    foldInThread(request).then(
      (block) => {
        keeper.folded(block)
        port.postMessage({ kind: 'changed', version: keeper.current.version })
      },
      () => keeper.foldFailed(),
    )
  return changed
}

/** The state of the data that something was counted for, and how long it may be used beside newer ones. */
interface Usable {
  version: number
  definitions: number
  untilMs: number
}

/** While events stream in, counting everything anew for each state would leave no time for questions. */
const FRESH_MS = 3000
const FRESH_TIMES_COST = 20

function isUsable(of: Usable | undefined): boolean {
  if (!of || of.definitions !== keeper.definitions) return false
  return of.version === keeper.current.version || performance.now() < of.untilMs
}

function countedNow(): Usable & { value: Counted } {
  if (counted && isUsable(counted)) return counted
  const { version, logs } = keeper.current
  const started = performance.now()
  const value = countUsage(logs, keeper.schema.types.length, moment(keeper.current))
  const cost = performance.now() - started
  const untilMs = performance.now() + Math.max(FRESH_MS, FRESH_TIMES_COST * cost)
  counted = { version, definitions: keeper.definitions, untilMs, value }
  return counted
}

function catalogNow(): Catalog {
  if (catalog && isUsable(catalog.of)) return catalog.value
  const of = countedNow()
  const value = { version: of.version, ...readCatalog(db, keeper.schema, keeper.current.logs, of.value) }
  catalog = { of, value }
  return catalog.value
}

function detailNow(): CatalogDetail {
  if (detail && isUsable(detail.of)) return detail.value
  const of = countedNow()
  const { logs, seenPeople } = keeper.current
  detail = { of, value: readCatalogDetail(db, keeper.schema, logs, of.value, seenPeople) }
  return detail.value
}

function calendarOf({ zone, firstDayOfWeek, sessionMinutes }: WorkspaceSettings): Calendar {
  return { zone, firstDayOfWeek, sessionMs: sessionMinutes * 60_000 }
}

function madeBase(): MadeBase {
  const { logs, people } = keeper.current
  return { schema: keeper.schema, logs, people, calendar: calendarOf(settings()), now: moment(keeper.current) }
}

async function answer(call: number, request: EngineRequest): Promise<unknown> {
  switch (request.kind) {
    case 'run':
      return run(call, request.question)
    case 'people':
      return people(call, request.ref, request.offset, request.limit)
    case 'catalog':
      return catalogNow()
    case 'catalog detail':
      return detailNow()
    case 'progress': {
      const key = questionKey(request.question)
      const found = [...running.values()].find((job) => job.key === key)
      return found ? { done: found.query.done, people: found.query.people } : null
    }
    case 'cancel':
      running.get(request.target)?.query.cancel()
      return null
    case 'status':
      return status()
    case 'refresh':
      return refresh()
    case 'close':
      clearInterval(poll)
      await pool.close()
      db.close()
      return null
    default:
      return look(request, madeBase())
  }
}

// Other processes may write as well, an import from the command line for one: SQLite tells that the file has changed.
// What this process writes is told of sooner, by a request.
const POLL_MS = 1500
let fileVersion = 0
const poll = setInterval(() => {
  const now = db.pragma('data_version', { simple: true }) as number
  if (now === fileVersion) return
  fileVersion = now
  refresh()
}, POLL_MS)

refresh()
ready = true
port.postMessage({ kind: 'ready' })

port.on('message', ({ call, request }: { call: number; request: EngineRequest }) => {
  answer(call, request).then(
    (value) => {
      port.postMessage({ kind: 'answer', call, value })
      if (request.kind === 'close') port.close()
    },
    (error: Error) => {
      const status = error instanceof CancelledError ? 499 : 500
      port.postMessage({ kind: 'failed', call, message: error.message, status })
    },
  )
})
