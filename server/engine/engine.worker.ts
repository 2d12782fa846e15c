import { own } from '../../core/names.js'
import { countedPart } from '../../core/analyses/countedPart.js'
import { createHash } from 'node:crypto'
import { parentPort, workerData } from 'node:worker_threads'
import type { PeopleRef } from '../../core/analyses/people.js'
import type { Question } from '../../core/analyses/registry.js'
import { setBit, sharedBits } from '../../core/log/bits.js'
import { blockBytes } from '../../core/log/log.js'
import type { ValueKind } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import { resolveSegments } from '../../core/segments/resolve.js'
import type { Fault } from '../../core/questions/faults.js'
import { MadeCache, type MadeBase } from '../../core/made/columns.js'
import type { Calendar } from '../../core/time/range.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { openDatabase } from '../store/database.js'
import { seenKinds } from '../store/catalog.js'
import { segmentStore } from '../store/segments.js'
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
import { insight, type InsightRequest } from './insight.js'
import { seenOf, sortPeople } from './peopleOrder.js'
import { answerSegment, type SegmentRequest } from './segments.js'
import { LogKeeper, type Snapshot } from './keeper.js'
import { answerQuestion, momentOf, readPeople, type Answer, type SegmentShelf } from './query.js'
import { CancelledError, foldInThread, QueryControl, ScanPool } from './scanPool.js'

/** The thread that keeps one workspace's column store and answers questions from it, with the threads of its pool. */
export type EngineRequest =
  | { kind: 'run'; question: Question }
  | { kind: 'people'; ref: PeopleRef; offset: number; limit: number; sort?: PeopleSort }
  | { kind: 'summaries'; people: readonly number[] }
  | { kind: 'moment'; ref: PeopleRef; person: number }
  | { kind: 'neighbours'; ref: PeopleRef; person: number; sort?: PeopleSort }
  | { kind: 'catalog' }
  | { kind: 'catalog detail' }
  | { kind: 'progress'; question: Question }
  | { kind: 'cancel'; target: number }
  | { kind: 'status' }
  | { kind: 'refresh' }
  | { kind: 'close' }
  | InsightRequest
  | SegmentRequest

export type RunReply = Answer & {
  /** state of the data the answer is from */
  version: number
  /** the moment the question was asked as of, epoch ms */
  now: number
}

/** How a list of people is sorted: by number of events, when they were last seen, or a profile property. */
export interface PeopleSort {
  by: 'events' | 'last seen' | { profile: string }
  up?: true | undefined
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
const segmentAnswers = new LruCache<{ value: unknown }>(200)
const running = new Map<number, { query: QueryControl; key: string }>()
const made = new MadeCache()
const saved = segmentStore(db)
const frozenLists = new LruCache<Uint32Array>(50)
const segments: SegmentShelf = {
  get: saved.saved,
  nameOf: (id) => own(saved.names(), id),
  frozen: (id) => frozenBits(id),
  known: new LruCache<Uint32Array>(60),
}
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

/** The members of a frozen list as who they are by now. */
function frozenBits(id: string): Uint32Array {
  const { version, people } = keeper.current
  const key = `${id} ${version}`
  const known = frozenLists.get(key)
  if (known) return known
  const bits = sharedBits(people)
  for (const member of saved.memberIds(id)) setBit(bits, keeper.personOf(member))
  frozenLists.set(key, bits)
  return bits
}

/** The kinds of value that a property was seen with; null where that is not known: it is made here, or a source. */
function kindsOf(property: PropertyRef): ReadonlySet<ValueKind> | null {
  if (property.of === 'source' || keeper.schema.madeCode(property.of, property.name) !== undefined) return null
  return seenKinds(db, property.of, property.name)
}

/** Answers of the same state of the data hold as long as now does: for ten seconds by the clock. */
function keyOf(what: object, snapshot: Snapshot, now: number): string {
  // What segments it names are now is part of what is asked.
  const { used } = resolveSegments(what, segments.get, segments.nameOf)
  const meant = JSON.stringify([...used.values()])
  const { zone, firstDayOfWeek, now: by } = settings()
  const period = by === 'last event' ? now : Math.floor(now / 10_000)
  return `${snapshot.version} ${period} ${zone} ${firstDayOfWeek} ${questionKey({ ...what, meant })}`
}

/** How the result is drawn changes no number. */
function questionKey(what: object): string {
  return createHash('sha1')
    .update(JSON.stringify(countedPart(what)))
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
    return await work({ snapshot, schema: keeper.schema, calendar, now, pool, query, made, segments })
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

type PeopleRequest = Extract<EngineRequest, { kind: 'people' }>

/** A list of people by number, kept while its pages are looked through. */
async function listOf(
  call: number,
  ref: PeopleRef,
  snapshot: Snapshot,
  now: number,
): Promise<{ key: string; list: Uint32Array } | { faults: Fault[] }> {
  const key = keyOf(ref, snapshot, now)
  const known = peopleLists.get(key)
  if (known) return { key, list: known }
  const list = await withBase(call, key, (base) => readPeople(ref, base), snapshot, now)
  if ('faults' in list) return list
  peopleLists.set(key, list)
  return { key, list }
}

async function people(call: number, { ref, offset, limit, sort }: PeopleRequest): Promise<PeopleReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const found = await listOf(call, ref, snapshot, now)
  if ('faults' in found) return found
  const { key, list } = found
  const sorted = sort && limit > 0 ? sortedPeople(key, list, sort, snapshot, now) : list
  const page = Array.from(sorted.subarray(offset, offset + limit), (person) => summaryOf(snapshot, person, now))
  return { count: list.length, page }
}

/** Who stands before and after a person in a list; null where they are not in it. */
export interface Neighbours {
  before: number | null
  after: number | null
  /** from 1 */
  place: number
  count: number
}

async function neighbours(
  call: number,
  { ref, person, sort }: Extract<EngineRequest, { kind: 'neighbours' }>,
): Promise<Neighbours | null> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const found = await listOf(call, ref, snapshot, now)
  if ('faults' in found) return null
  const { key, list } = found
  const sorted = sort ? sortedPeople(key, list, sort, snapshot, now) : list
  const index = sorted.indexOf(person)
  if (index < 0) return null
  return { before: sorted[index - 1] ?? null, after: sorted[index + 1] ?? null, place: index + 1, count: sorted.length }
}

/** A list in another order, kept while its pages are looked through. */
function sortedPeople(key: string, list: Uint32Array, sort: PeopleSort, snapshot: Snapshot, now: number): Uint32Array {
  const name = `${key} ${JSON.stringify(sort)}`
  let sorted = peopleLists.get(name)
  if (!sorted) {
    sorted = sortPeople(list, sort, { logs: snapshot.logs, schema: keeper.schema, now })
    peopleLists.set(name, sorted)
  }
  return sorted
}

async function segment(call: number, request: SegmentRequest): Promise<unknown> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const key = keyOf(request, snapshot, now)
  const cached = segmentAnswers.get(key)
  if (cached) return cached.value
  const value = await withBase(call, key, (base) => answerSegment(request, base, kindsOf), snapshot, now)
  if (request.kind !== 'freeze') segmentAnswers.set(key, { value })
  return value
}

function summaryOf({ logs }: Snapshot, person: number, now: number): PersonSummary {
  return { person, ...seenOf(logs, person, now) }
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
      return people(call, request)
    case 'moment': {
      const { ref, person } = request
      const now = moment(keeper.current)
      return withBase(call, '', (base) => momentOf(ref, person, base), keeper.current, now)
    }
    case 'neighbours':
      return neighbours(call, request)
    case 'summaries':
      return request.people.map((person) => summaryOf(keeper.current, person, moment(keeper.current)))
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
    case 'segment count':
    case 'segment size':
    case 'segment why':
    case 'composition':
    case 'freeze':
      return segment(call, request)
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
