import { parentPort, workerData } from 'node:worker_threads'
import { repliesOn, type Ping } from '../pool/serve.js'
import type { ThreadLog } from '../pool/supervised.js'
import { openDatabase } from '../store/database.js'
import { destinationStore } from '../store/destinations.js'
import { settingsStore } from '../store/settings.js'
import { syncStore } from '../store/syncs.js'
import { isChannel, type Delivery } from '../../core/outreach/destination.js'
import type { DidBetween } from '../../core/log/didBetween.js'
import { CALL_PEOPLE, decide, peopleReader, type Decided, type Look } from './decide.js'
import { enter, release, type Entered, type EntryLook } from './messages/enter.js'
import { ownEvents, type Waiting } from './messages/ownEvents.js'
import { knownProperties, propertyNamed } from './messages/propertyNamed.js'
import { writeReaction } from './messages/reactions.js'
import { messageBox, type MessageCall } from './messages/send.js'
import { sealer } from './secrets.js'
import { outbox, type Call } from './sending.js'
import type { StandInState } from './standIns/standIn.worker.js'
import { openTarget, type Target } from './targets.js'

/** The thread that decides who is sent where, and sends: it writes both down itself. */
export type OutreachRequest =
  | { kind: 'decide'; sync: string; people: Uint32Array; look: Look; nowMs: number }
  /** how many of them want to be sent nothing */
  | { kind: 'count opted out'; people: Uint32Array }
  /** something may wait */
  | { kind: 'wake' }
  /** who comes into a message */
  | { kind: 'enter'; look: EntryLook; nowMs: number }
  /** of a message, those whose time has come are sent it, but for those who did something first */
  | { kind: 'release'; id: string; did: DidBetween | null; what: string; nowMs: number }
  /** what simulated people have done by now is written down; @returns what is to be taken in */
  | { kind: 'collect'; nowMs: number }
  /** that has been taken in */
  | { kind: 'taken'; upTo: number }
  /** of people, who lacks which fields, who wants nothing, and some of them with what they have */
  | { kind: 'look at people'; people: Uint32Array; fields: string[]; most: number }
  /** a message to one person of one's own choice, of whom nothing is kept */
  | { kind: 'test copy'; destination: string; delivery: Delivery }
  | { kind: 'stand-in'; destination: string }
  | { kind: 'try'; destination: string }
  | { kind: 'forget'; destination: string }
  | { kind: 'close' }
  | Ping

export interface Tried {
  tookMs: number
  /** null = it took it */
  why: string | null
}

const { file, dataDir, secretKey } = workerData as { file: string; dataDir: string; secretKey: string }
const port = parentPort!
const replies = repliesOn(port)
const log: ThreadLog = (line) => port.postMessage({ kind: 'log', line })
const db = openDatabase(file)
const destinations = destinationStore(db)
const { get: settings } = settingsStore(db)
const syncs = syncStore(db)
const own = ownEvents(db)
const messages = messageBox(db, {
  optOut: () => settings().optOut,
  zone: () => settings().zone,
  propertyOf: (field) => propertyNamed(db, field),
})
const seals = sealer(secretKey, dataDir)
const targets = new Map<string, Target>()
const underWay = new Map<string, Set<number>>()
const entriesUnderWay = new Map<string, Set<number>>()
/** what the workspace's clock says, where it is not the machine's */
let clockMs: number | null = null
const box = outbox(
  db,
  () => settings().optOut,
  () => clockNow(),
)
const clockNow = () => (settings().now === 'clock' ? Date.now() : (clockMs ?? Date.now()))
let timer: NodeJS.Timeout | null = null
let closing = false

/** So many calls to one destination are under way at once. */
const AT_ONCE = 4
/** What was paused or has ended is looked at so often. */
const IDLE_MS = 2000

function targetOf(id: string): Target {
  let target = targets.get(id)
  if (!target) {
    const secret = destinations.secretOf(id)
    const place = { dataDir, log, hosts: () => settings().webhookHosts }
    target = openTarget(destinations.get(id), secret && seals.open(secret), place, () => destinations.get(id).setup)
    targets.set(id, target)
  }
  return target
}

async function make(call: Call): Promise<void> {
  const started = performance.now()
  try {
    const outcomes = await targetOf(call.destination).send(call)
    box.answered(call, outcomes, Date.now(), performance.now() - started)
  } catch (error) {
    if (!closing) box.failed(call, (error as Error).message, Date.now(), performance.now() - started)
  }
}

/** Makes the calls that are due, so many at once; goes on as they are answered. */
function pump(): void {
  if (closing) return
  if (timer) clearTimeout(timer)
  const nowMs = Date.now()
  for (const destination of box.places()) {
    let own = underWay.get(destination)
    if (!own) underWay.set(destination, (own = new Set()))
    for (const row of own.size < AT_ONCE ? box.due(destination, nowMs, own) : []) {
      if (own.size >= AT_ONCE) break
      const call = box.open(destination, row)
      if (!call) continue
      own.add(call.id)
      void make(call)
        .catch((error: Error) =>
          log({ thread: 'outreach', what: 'a call could not be written down', reason: error.message }),
        )
        .finally(() => {
          own.delete(call.id)
          pump()
        })
    }
  }
  pumpMessages(nowMs)
  const next = soonest(box.nextDueMs(), messages.nextMs())
  timer = setTimeout(pump, next === null ? IDLE_MS : Math.min(IDLE_MS, Math.max(50, next - nowMs)))
  timer.unref()
}

function soonest(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b)
}

function pumpMessages(machineMs: number): void {
  for (const destination of messages.places(machineMs)) {
    let ownEntries = entriesUnderWay.get(destination)
    if (!ownEntries) entriesUnderWay.set(destination, (ownEntries = new Set()))
    while (ownEntries.size < AT_ONCE * CALL_PEOPLE) {
      const call = messages.open(destination, ownEntries, clockNow(), machineMs)
      if (!call) break
      const seqs = [...call.entries.values()].map(({ seq }) => seq)
      for (const seq of seqs) ownEntries.add(seq)
      void makeMessages(call)
        .catch((error: Error) =>
          log({ thread: 'outreach', what: 'messages could not be written down', reason: error.message }),
        )
        .finally(() => {
          for (const seq of seqs) ownEntries.delete(seq)
          pump()
        })
    }
  }
}

async function makeMessages(call: MessageCall): Promise<void> {
  const started = performance.now()
  try {
    const outcomes = await targetOf(call.destination).send(call)
    messages.answered(call, outcomes, Date.now(), performance.now() - started)
  } catch (error) {
    if (!closing) messages.failed(call, (error as Error).message, Date.now(), performance.now() - started)
  }
}

/** So much of what people did is written down at once. */
const MOST_REACTIONS = 5000

/** What the simulated people behind the channels have done by now, written down as what is to be taken in. */
async function collect(nowMs: number): Promise<Waiting> {
  for (const { id, setup } of destinations.list()) {
    if (!isChannel(setup.kind)) continue
    const target = targetOf(id)
    const reacted = (await target.reactions?.(nowMs, MOST_REACTIONS)) ?? []
    if (reacted.length === 0) continue
    const { optOut } = settings()
    db.transaction(() => {
      for (const each of reacted) writeReaction(own, each, setup.kind, optOut)
    }).immediate()
    await target.told?.(reacted.map(({ key }) => key))
  }
  return own.waiting(MOST_REACTIONS)
}

/** Sends nothing of anybody: whether the destination is there and takes calls. */
async function tryOut(destination: string): Promise<Tried> {
  const started = performance.now()
  const call: Call = {
    ...{ id: 0, key: `test.${destination}.${Date.now()}`, destination, sync: 'test', run: 0, tries: 0 },
    ...{ deliveries: [], ids: new Map() },
  }
  let why: string | null = null
  try {
    await targetOf(destination).send(call)
  } catch (error) {
    why = (error as Error).message
  }
  const tookMs = performance.now() - started
  destinations.note(destination, { atMs: Date.now(), sync: null, people: 0, tookMs, why })
  return { tookMs, why }
}

/** People whom a message may go to, as a page looks at them before it does. */
export interface PeopleLook {
  optedOut: number
  /** by field, in the order asked for: what it is read from, null = no profile property is called so; and who has no value */
  fields: { property: string | null; missing: number }[]
  /** some who would be sent it, with the values of the fields */
  some: { id: string; values: (string | null)[] }[]
}

function lookAtPeople({ people, fields, most }: Extract<OutreachRequest, { kind: 'look at people' }>): PeopleLook {
  const read = peopleReader(db, settings().optOut)
  const known = knownProperties(db)
  const names = fields.map((field) => propertyNamed(db, field))
  const missing = fields.map(() => 0)
  const some: PeopleLook['some'] = []
  let optedOut = 0
  for (const person of people) {
    if (read.isOptedOut(person)) {
      optedOut++
      continue
    }
    const shows = some.length < most
    if (fields.length === 0 && !shows) continue
    const values = names.map((name) => read.text(person, name))
    values.forEach((value, i) => {
      if (value === null || value.trim() === '') missing[i]!++
    })
    const id = shows ? read.shown(person)?.value : undefined
    if (id !== undefined) some.push({ id, values })
  }
  return {
    ...{ optedOut, some },
    fields: names.map((name, i) => ({ property: known.has(name) ? name : null, missing: missing[i]! })),
  }
}

async function answer(request: OutreachRequest): Promise<unknown> {
  switch (request.kind) {
    case 'decide': {
      const { sync, people, nowMs, look } = request
      clockMs = nowMs
      const { id, definition } = syncs.get(sync)
      const decided: Decided | null = decide(db, { id, definition, ...look }, people, settings().optOut, nowMs)
      pump()
      return decided
    }
    case 'count opted out': {
      const { isOptedOut } = peopleReader(db, settings().optOut)
      return request.people.reduce((sum, person) => sum + (isOptedOut(person) ? 1 : 0), 0)
    }
    case 'enter': {
      clockMs = request.nowMs
      const entered: Entered = enter(db, request.look, settings().optOut, request.nowMs)
      return entered
    }
    case 'release': {
      clockMs = request.nowMs
      const released = release(db, request, request.nowMs)
      if (released > 0) pump()
      return released
    }
    case 'collect':
      clockMs = request.nowMs
      return collect(request.nowMs)
    case 'taken':
      own.taken(request.upTo)
      return null
    case 'look at people':
      return lookAtPeople(request)
    case 'test copy': {
      const { destination, delivery } = request
      const call = { id: 0, key: delivery.key, destination, sync: 'test', run: 0, tries: 0, deliveries: [delivery] }
      const [outcome] = await targetOf(destination).send({ ...call, ids: new Map() })
      return outcome
    }
    case 'wake':
      pump()
      return null
    case 'stand-in':
      return (await targetOf(request.destination).state()) satisfies StandInState | null
    case 'try':
      return tryOut(request.destination)
    case 'forget': {
      const target = targets.get(request.destination)
      targets.delete(request.destination)
      await target?.close()
      return null
    }
    case 'close':
      closing = true
      if (timer) clearTimeout(timer)
      await Promise.all([...targets.values()].map((target) => target.close()))
      return null
    case 'ping':
      return null
  }
}

port.on('message', ({ call, request }: { call: number; request: OutreachRequest }) => {
  answer(request).then(
    (value) => replies.answer(call, value),
    (error: unknown) => replies.fail(call, error),
  )
})
pump()
