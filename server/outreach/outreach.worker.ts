import { parentPort, workerData } from 'node:worker_threads'
import { repliesOn, type Ping } from '../pool/serve.js'
import type { ThreadLog } from '../pool/supervised.js'
import { openDatabase } from '../store/database.js'
import { destinationStore } from '../store/destinations.js'
import { settingsStore } from '../store/settings.js'
import { syncStore } from '../store/syncs.js'
import { decide, peopleReader, type Decided, type Look } from './decide.js'
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
const box = outbox(db, () => settings().optOut)
const seals = sealer(secretKey, dataDir)
const targets = new Map<string, Target>()
const underWay = new Map<string, Set<number>>()
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
      const call = box.open(destination, row, nowMs)
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
  const next = box.nextDueMs()
  timer = setTimeout(pump, next === null ? IDLE_MS : Math.min(IDLE_MS, Math.max(50, next - nowMs)))
  timer.unref()
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

async function answer(request: OutreachRequest): Promise<unknown> {
  switch (request.kind) {
    case 'decide': {
      const { sync, people, nowMs, look } = request
      const { id, definition } = syncs.get(sync)
      const decided: Decided | null = decide(db, { id, definition, ...look }, people, settings().optOut, nowMs)
      pump()
      return decided
    }
    case 'count opted out': {
      const { isOptedOut } = peopleReader(db, settings().optOut)
      return request.people.reduce((sum, person) => sum + (isOptedOut(person) ? 1 : 0), 0)
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
