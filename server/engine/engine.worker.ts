import type { PeopleSort } from './peopleSort.js'
import {
  peopleOfSessions,
  sessionAt,
  sessionsListed,
  sortSessions,
  type ListedSession,
} from '../../core/analyses/sessions/sessionList.js'
import {
  conversionAt,
  conversionList,
  type ConversionList,
  type ListedConversion,
} from '../../core/analyses/attribution/listed.js'
import type { AttributionMark } from '../../core/analyses/attribution/marks.js'
import type { AttributionPlan } from '../../core/analyses/attribution/plan.js'
import { leadOf } from '../../core/analyses/attribution/question.js'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import type { SessionSort } from '../../core/sessions/listSort.js'
import { own } from '../../core/names.js'
import { countedPart } from '../../core/analyses/countedPart.js'
import { createHash } from 'node:crypto'
import { parentPort, workerData, type MessagePort } from 'node:worker_threads'
import type { PeopleRef, StudyPeople } from '../../core/analyses/people.js'
import type { Question, QuestionOf } from '../../core/analyses/registry.js'
import { setBit, sharedBits } from '../../core/log/bits.js'
import { blockBytes } from '../../core/log/log.js'
import type { ValueKind } from '../../core/log/values.js'
import type { PropertyRef } from '../../core/questions/parts.js'
import type { Rule } from '../../core/segments/rule.js'
import { resolveSegments } from '../../core/segments/resolve.js'
import type { Fault } from '../../core/questions/faults.js'
import { MadeCache, type MadeBase } from '../../core/made/columns.js'
import { cutsOf } from '../../core/sessions/settings.js'
import type { Calendar } from '../../core/time/range.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { repliesOn, type Ping } from '../pool/serve.js'
import type { ThreadLog, ThreadState } from '../pool/supervised.js'
import { openDatabase } from '../store/database.js'
import { seenKinds } from '../store/catalog.js'
import { chancesOf } from './chances.js'
import { modelShelf } from './models.js'
import { readIds, readLate } from './peopleIds.js'
import type { CostsBy } from '../../core/costs/costs.js'
import { costStore } from '../store/costs.js'
import { mendingStore } from '../store/mending.js'
import { segmentStore } from '../store/segments.js'
import { settingsStore, type WorkspaceSettings } from '../store/settings.js'
import { ByteCache } from './cache.js'
import { takeOver } from './handOver.js'
import { lookups, type LookupRequest } from './lookups.js'
import { Keeping } from './keeping.js'
import { seenOf, sortPeople } from './peopleOrder.js'
import { answerSegment, type SegmentRequest } from './segments.js'
import { LogKeeper, type Snapshot } from './keeper.js'
import { answerAndListen, listedIn, momentOf, readPeople, type Answer, type SegmentShelf } from './query.js'
import { QueryControl, ScanPool } from './scanPool.js'
import { inTurns, Lane } from './turns.js'
import { usageReader } from './usage.js'
import { LoopWatch, type Held } from './watch.js'

/** The thread that keeps one workspace's column store and answers questions from it, with the threads of its pool. */
export type EngineRequest =
  | { kind: 'run'; question: Question }
  | { kind: 'people'; ref: PeopleRef; offset: number; limit: number; sort?: PeopleSort }
  | { kind: 'listed sessions'; ref: StudyPeople; offset: number; limit: number; sort: SessionSort }
  | { kind: 'listed conversions'; ref: StudyPeople; offset: number; limit: number }
  | { kind: 'summaries'; people: readonly number[] }
  | { kind: 'moment'; ref: PeopleRef; person: number }
  | { kind: 'chances'; person: number; questions: readonly QuestionOf<'likelihood'>[] }
  | { kind: 'neighbours'; ref: PeopleRef; person: number; sort?: PeopleSort }
  | { kind: 'catalog' }
  | { kind: 'catalog detail' }
  | { kind: 'progress'; question: Question }
  | { kind: 'cancel'; target: number }
  | { kind: 'status' }
  /** @param limitMs so long each of the threads has to answer */
  | { kind: 'health'; limitMs: number }
  | { kind: 'forget held' }
  /** the next answer is one of a model that is trained for it */
  | { kind: 'learn anew'; question: Question }
  /** ends a thread of the pool, or the one that folds, as if it had died: for trying out */
  | { kind: 'kill'; thread: string }
  | { kind: 'refresh' }
  | { kind: 'close' }
  | Ping
  | LookupRequest
  | SegmentRequest

export type RunReply = Answer & {
  /** state of the data the answer is from */
  version: number
  /** the moment the question was asked as of, epoch ms */
  now: number
  /** how long it was worked on, ms */
  spentMs: number
}

export interface PersonSummary {
  person: number
  events: number
  lastMs: number
}

export type PeopleReply = { count: number; page: PersonSummary[] } | { faults: Fault[] }

/** A page of the sessions that are meant, how many there are, and of how many people. */
export type SessionsReply = { count: number; people: number; page: ListedSession[] } | { faults: Fault[] }

/** A page of conversions, and of all of them: how many, of how many people, what they are worth, and what of it is credited. */
export type ConversionsReply =
  | { count: number; people: number; worth: number; credit: number | null; page: ListedConversion[] }
  | { faults: Fault[] }

export interface EngineStatus {
  ready: boolean
  /** while loading: events read so far */
  loaded: number
  /** and so many there are about to read */
  toLoad: number
  version: number
  events: number
  people: number
  types: number
  newestMs: number | null
  /** the moment that questions are asked as of */
  now: number
  storeBytes: number
}

/** How the engine's thread and its own are. */
export interface EngineHealth {
  threads: ThreadState[]
  /** times in which the thread could do nothing else */
  held: { longest: Held; all: Held[] }
  /** questions being worked on */
  running: number
  folding: boolean
  cacheBytes: number
}

lowerPriority(2)
const { file, threads, firstVersion, attackable, before } = workerData as {
  file: string
  threads: number
  /** states are numbered from here on */
  firstVersion: number
  attackable: boolean
  /** what the thread before it wrote down, if there was one */
  before: MessagePort | null
}
const port = parentPort!
const replies = repliesOn(port)
const watch = new LoopWatch()
const note = (what: string) => watch.note(what)
const log: ThreadLog = (line) => port.postMessage({ kind: 'log', line })
const db = openDatabase(file, { readonly: true })
// What reads the file a step at a time has a connection of its own: one state of the file for all its steps.
const keeper = new LogKeeper(openDatabase(file, { readonly: true }), {
  firstVersion,
  before: before && takeOver(before),
})
const pool = new ScanPool(threads, log)
const answers = new ByteCache<RunReply>(64)
const segmentAnswers = new ByteCache<{ value: unknown }>(64)
const running = new Map<number, { query: QueryControl; key: string }>()
const made = new MadeCache()
const making = new Lane()
const saved = segmentStore(db)
const frozenLists = new ByteCache<Uint32Array>(64)
/** in their order, with how many people they are of: two million of them */
const sessionLists = new ByteCache<{ list: Float64Array; people: number }>(160)
const conversionLists = new ByteCache<ConversionList>(96)
const segments: SegmentShelf = {
  get: saved.saved,
  nameOf: (id) => own(saved.names(), id),
  frozen: (id) => frozenBits(id),
  lists: new ByteCache<Uint32Array>(64),
  bits: new ByteCache<Uint32Array>(64),
}
const look = lookups(
  db,
  made,
  making,
  (logs, columns) => {
    // Made for a state that is no longer the newest, they are of no use to others.
    if (logs === keeper.current.logs) pool.extend(keeper.current, columns)
  },
  note,
)
const usage = usageReader(db, keeper, note, () => moment(keeper.current))

const { get: settings } = settingsStore(db)
const { get: mending } = mendingStore(db)
const { rowsUnder } = costStore(db)
const costs = (by: CostsBy) => rowsUnder(by, mending().mergedProperties)
const models = modelShelf(db)
const personOf = (id: number) => keeper.personOf(id)

/** What was read for a state of the data last: other questions of the same state share it. */
function readOnce<T>(read: (snapshot: Snapshot, detail: number) => Promise<T>) {
  let last: { key: string; value: Promise<T> } | null = null
  return (snapshot: Snapshot, detail = 0): Promise<T> => {
    const key = `${snapshot.version} ${detail}`
    if (last?.key !== key) {
      const value = read(snapshot, detail)
      last = { key, value }
      value.catch(() => (last = null))
    }
    return last.value
  }
}
const idsOf = readOnce(({ people }) => inTurns(readIds(db, people, personOf), () => note('reading ids')))
const lateOf = readOnce(({ people, schema }, after) =>
  inTurns(readLate(db, { people, schema, after }, personOf), () => note('reading when profiles came')),
)

function moment(snapshot: Snapshot): number {
  const { now, ranTo } = settings()
  return now === 'last event' ? Math.max(snapshot.newestMs ?? 0, ranTo) : Date.now()
}

/** Whom the workspace leaves out of every study. */
function leftOut(): Rule | null {
  const segment = settings().leftOut
  return segment === '' || !segments.get(segment) ? null : { kind: 'segment', segment }
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
  if (property.of === 'source' || keeper.current.schema.madeCode(property.of, property.name) !== undefined) return null
  return seenKinds(db, property.of, property.name)
}

/**
 * Answers of the same state of the data hold as long as now does: for ten seconds by the clock.
 * @param exact whether the moment is one that was asked for, rather than now
 */
function keyOf(what: object, snapshot: Snapshot, now: number, exact = false): string {
  // What segments it names are now is part of what is asked.
  const { used } = resolveSegments([what, leftOut()], segments.get, segments.nameOf)
  const meant = JSON.stringify([[...used.values()], leftOut()])
  const { now: by } = settings()
  const { zone, firstDayOfWeek, sessions } = calendarOf(settings())
  const period = exact || by === 'last event' ? now : `${Math.floor(now / 10_000)} now`
  return `${snapshot.version} ${models.forgotten()} ${period} ${zone} ${firstDayOfWeek} ${JSON.stringify(sessions)} ${questionKey({ ...what, meant })}`
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
  work: (base: Parameters<typeof answerAndListen>[1]) => Promise<T>,
  snapshot: Snapshot,
  now: number,
): Promise<T> {
  const calendar = calendarOf(settings())
  const query = new QueryControl()
  running.set(call, { query, key })
  pool.retain(snapshot)
  try {
    return await work({
      ...{
        snapshot,
        calendar,
        now,
        pool,
        query,
        made,
        making,
        note,
        segments,
        leftOut: leftOut(),
        costs,
        models,
        idsOf,
        lateOf,
      },
      keyOf: (what, at) => keyOf(what, snapshot, at, at !== now),
    })
  } finally {
    pool.release(snapshot)
    running.delete(call)
  }
}

async function run(call: number, question: Question): Promise<RunReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const key = keyOf(question, snapshot, now)
  note('looking up an answer')
  const cached = answers.get(key)
  if (cached) return cached
  const started = performance.now()
  const answer = await withBase(call, questionKey(question), (base) => answerAndListen(question, base), snapshot, now)
  const reply: RunReply = { ...answer, version: snapshot.version, now, spentMs: performance.now() - started }
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
  const known = segments.lists.get(key)
  if (known) return { key, list: known }
  const list = await withBase(call, key, (base) => readPeople(ref, base), snapshot, now)
  return 'faults' in list ? list : { key, list }
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

async function listedSessions(
  call: number,
  { ref, offset, limit, sort }: Extract<EngineRequest, { kind: 'listed sessions' }>,
): Promise<SessionsReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const key = keyOf({ sessions: ref, sort }, snapshot, now)
  let kept = sessionLists.get(key)
  if (!kept) {
    const found = await withBase(call, key, (base) => listedIn(ref, base), snapshot, now)
    if ('faults' in found) return found
    const list = await inTurns(sortSessions(found.list, sort), () => note('sorting sessions'))
    sessionLists.set(key, (kept = { list, people: peopleOfSessions(found.list) }))
  }
  const { list, people } = kept
  const count = sessionsListed(list)
  const length = Math.max(0, Math.min(limit, count - offset))
  const page = Array.from({ length }, (_, i) => sessionAt(list, offset + i, snapshot.schema))
  return { count, people, page }
}

async function listedConversions(
  call: number,
  { ref, offset, limit }: Extract<EngineRequest, { kind: 'listed conversions' }>,
): Promise<ConversionsReply> {
  const snapshot = keeper.current
  const now = moment(snapshot)
  const lead = ref.study.kind === 'attribution' ? leadOf(asQuestion(ref.study) as QuestionOf<'attribution'>) : null
  const key = keyOf({ conversions: ref, lead }, snapshot, now)
  let kept = conversionLists.get(key)
  if (!kept) {
    const found = await withBase(call, key, (base) => listedIn(ref, base), snapshot, now)
    if ('faults' in found) return found
    const steps = conversionList(found.list, found.plan as AttributionPlan, ref.marks as AttributionMark[])
    kept = await inTurns(steps, () => note('listing conversions'))
    conversionLists.set(key, kept)
  }
  const { starts, people, worth, credit } = kept
  const length = Math.max(0, Math.min(limit, starts.length - offset))
  const page = Array.from({ length }, (_, i) => conversionAt(kept, offset + i))
  return { count: starts.length, people, worth, credit, page }
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
  let sorted = segments.lists.get(name)
  if (!sorted) {
    sorted = sortPeople(list, sort, { logs: snapshot.logs, schema: snapshot.schema.asMade(), now })
    segments.lists.set(name, sorted)
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
  return {
    ...{ ready: keeping.ready, loaded: keeping.loaded, toLoad: keeping.toLoad, version, events, people: seenPeople },
    ...{ newestMs, types: keeper.current.schema.types.length, now: moment(keeper.current) },
    storeBytes: logs.reduce((bytes, log) => bytes + blockBytes(log), 0),
  }
}

/** What whoever watches the server wants to know of this thread and its own. */
async function health(limitMs: number): Promise<EngineHealth> {
  const silent = await pool.silent(limitMs)
  const held = { longest: watch.longest, all: [...watch.held] }
  const caches = [answers, segmentAnswers, frozenLists, sessionLists, conversionLists, segments.lists, segments.bits]
  return {
    threads: pool.states.map((state) => ({ ...state, up: state.up && !silent.includes(state.thread) })),
    ...{ held, running: running.size, folding: keeping.folding },
    cacheBytes: caches.reduce((bytes, cache) => bytes + cache.bytes, 0),
  }
}

function calendarOf({ zone, firstDayOfWeek, sessionMinutes, sessionCuts }: WorkspaceSettings): Calendar {
  return { zone, firstDayOfWeek, sessions: cutsOf(sessionMinutes, sessionCuts) }
}

function madeBase(): MadeBase {
  const { logs, schema, people, newestMs } = keeper.current
  return { schema, logs, people, newestMs, calendar: calendarOf(settings()), now: moment(keeper.current) }
}

async function answer(call: number, request: EngineRequest): Promise<unknown> {
  switch (request.kind) {
    case 'run':
      return run(call, request.question)
    case 'people':
      return people(call, request)
    case 'listed sessions':
      return listedSessions(call, request)
    case 'listed conversions':
      return listedConversions(call, request)
    case 'moment': {
      const { ref, person } = request
      const now = moment(keeper.current)
      return withBase(call, '', (base) => momentOf(ref, person, base), keeper.current, now)
    }
    case 'chances': {
      const { person, questions } = request
      const now = moment(keeper.current)
      return withBase(call, '', (base) => chancesOf(person, questions, base), keeper.current, now)
    }
    case 'neighbours':
      return neighbours(call, request)
    case 'summaries':
      return request.people.map((person) => summaryOf(keeper.current, person, moment(keeper.current)))
    case 'catalog':
      return usage.catalog()
    case 'catalog detail':
      return usage.detail()
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
    case 'health':
      return health(request.limitMs)
    case 'forget held':
      watch.reset()
      return null
    case 'ping':
      return null
    case 'kill':
      if (!attackable) throw new RangeError('threads are ended on request only where the server is being tried out')
      if (request.thread === 'fold') return keeping.killFold()
      pool.kill(request.thread)
      return null
    case 'learn anew':
      models.forget(request.question)
      return null
    case 'refresh':
      return keeping.refresh()
    case 'close':
      keeping.stop()
      watch.stop()
      await pool.close()
      db.close()
      return null
    case 'segment count':
    case 'segment size':
    case 'segment why':
    case 'composition':
    case 'freeze':
    case 'same people':
      return segment(call, request)
    default:
      return look(request, madeBase())
  }
}

/** What is asked before the events have been read waits for them; this is told of at any time. */
const AT_ANY_TIME: readonly EngineRequest['kind'][] = [
  'status',
  'health',
  'forget held',
  'ping',
  'kill',
  'cancel',
  'progress',
  'close',
]

port.on('message', ({ call, request }: { call: number; request: EngineRequest }) => {
  const begun = AT_ANY_TIME.includes(request.kind)
    ? answer(call, request)
    : keeping.loading.then(() => answer(call, request))
  begun.then(
    (value) => {
      note(`reply to ${request.kind}`)
      replies.answer(call, value)
      if (request.kind === 'close') port.close()
    },
    (error: unknown) => replies.fail(call, error),
  )
})

const keeping = new Keeping(db, keeper, {
  note,
  log,
  tell: (notice) => port.postMessage(notice),
  keep: (kept) => port.postMessage({ kind: 'kept', port: kept }, [kept]),
})
watch.start()
