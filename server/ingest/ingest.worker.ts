import { parentPort, receiveMessageOnPort, workerData } from 'node:worker_threads'
import { repliesOn, type Ping } from '../pool/serve.js'
import { openDatabase } from '../store/database.js'
import { afterwards, type AfterRequest } from './afterwards.js'
import { readBody, type BodyForm } from './body.js'
import { roomOn } from './room.js'
import { doorway, type Sorted } from './doorway.js'
import { runImport } from './importer.js'
import { lookThrough } from './importLook.js'
import { listMaker, type ListRequest } from './lists.js'
import type { Origin } from './origins.js'
import { takingBack, type TakeRequest } from './takeBack.js'
import { eventWriter } from './writer.js'

/** The one thread that writes events and profiles, so that the thread that answers HTTP never waits for the disk. */
interface Sent {
  body: Uint8Array
  form: BodyForm
  receivedMs: number
  /** the key they came by */
  key: string | null
}
type EventsRequest = { kind: 'events' } & Sent
type OtherRequest =
  | ({ kind: 'people' } & Sent)
  | { kind: 'import'; id: string }
  /** the same without writing: what would be taken, and what not */
  | { kind: 'look through'; id: string }
  | { kind: 'stop import'; id: string }
  | { kind: 'close' }
  | AfterRequest
  | TakeRequest
  | ListRequest
  | Ping
export type IngestRequest = EventsRequest | OtherRequest

export interface IngestReply {
  accepted: number
  duplicates: number
  /** events that do not fit the tracking plan, whose policy is to set them aside */
  setAside: number
  /** events sent as a test, counted nowhere */
  tests: number
  rejected: { line: number; reason: string }[]
}

const { file, settings } = workerData as { file: string; settings: { dataDir: string; freeBytes: number } }
const db = openDatabase(file)
const writer = eventWriter(db)
const door = doorway(db, writer)
const later = afterwards(db, writer)
const lists = listMaker(db)
const room = roomOn(settings.dataDir, settings.freeBytes)
const port = parentPort!
const replies = repliesOn(port)
// Whoever watches over the threads hears that it is at work.
const back = takingBack(db, writer, () => port.postMessage({ kind: 'busy' }))
back.forgetOld(Date.now())
const stopping = new Set<string>()

const originOf = (key: string | null): Origin | undefined => (key === null ? undefined : { kind: 'key', ref: key })

function takePeople({ body, form, receivedMs, key }: Sent): IngestReply {
  room.needed()
  const { people, rejected } = door.sortPeople(readBody(body, form), receivedMs)
  const accepted = door.writePeople(people, { origin: originOf(key), receivedMs })
  return {
    accepted,
    duplicates: 0,
    setAside: 0,
    tests: 0,
    rejected: rejected.map(({ line, reason }) => ({ line, reason })),
  }
}

interface Call<Request> {
  call: number
  request: Request
}

async function answer(request: OtherRequest): Promise<unknown> {
  switch (request.kind) {
    case 'people':
      return takePeople(request)
    case 'import':
      return runImport(db, door, request.id, {
        now: Date.now,
        owned: true,
        onProgress: () => {
          port.postMessage({ kind: 'written' })
          return !stopping.delete(request.id)
        },
      })
    case 'look through':
      return lookThrough(db, door, request.id, { now: Date.now, onProgress: () => !stopping.delete(request.id) })
    case 'stop import':
      stopping.add(request.id)
      return null
    case 'close':
      db.close()
      return null
    case 'ping':
      return { there: true }
    case 'freeze':
    case 'read list':
      return lists.take(request)
    case 'look at taking back':
    case 'take back':
    case 'bring back':
      return back.request(request)
    default:
      return later(request)
  }
}

/**
 * Writes the batches that wait in one transaction, for putting it on the disk costs as much as writing some hundred
 * rows. Each is answered for itself, and only once all are on the disk; a batch that cannot be read spoils only itself.
 */
function takeEvents(calls: readonly Call<EventsRequest>[]): void {
  if (calls.length === 0) return
  const read: Read[] = []
  for (const { call, request } of calls)
    try {
      room.needed()
      const { receivedMs, key } = request
      read.push({ call, sorted: door.sort(readBody(request.body, request.form), receivedMs), receivedMs, key })
    } catch (error) {
      replies.fail(call, error)
    }
  try {
    writeTogether(read)
  } catch (error) {
    // One batch must not take the others with it: each by itself tells which it was.
    if (read.length === 1) return replies.fail(read[0]!.call, error)
    for (const each of read)
      try {
        writeTogether([each])
      } catch (fault) {
        replies.fail(each.call, fault)
      }
  }
}

interface Read {
  call: number
  sorted: Sorted
  receivedMs: number
  key: string | null
}

function writeTogether(batches: readonly Read[]): void {
  const written = writer.together(() =>
    batches.map(({ sorted, receivedMs, key }) => door.write(sorted, receivedMs, true, { origin: originOf(key) })),
  )
  batches.forEach(({ call, sorted }, index) => {
    const { accepted, duplicates, setAside, tests } = written[index]!
    const rejected = sorted.rejected.map(({ line, reason }) => ({ line, reason }))
    replies.answer(call, { accepted, duplicates, setAside, tests, rejected } satisfies IngestReply)
  })
}

function takeOther({ call, request }: Call<OtherRequest>): void {
  answer(request).then(
    (value) => {
      replies.answer(call, value)
      if (request.kind === 'close') port.close()
    },
    (error: unknown) => replies.fail(call, error),
  )
}

const isEvents = (each: Call<IngestRequest>): each is Call<EventsRequest> => each.request.kind === 'events'

/** So much in one transaction at most: a long one would keep the first sender waiting for the last. */
const MOST_TOGETHER_BYTES = 8 * 1_048_576

port.on('message', (first: Call<IngestRequest>) => {
  let events: Call<EventsRequest>[] = []
  let bytes = 0
  const flush = () => {
    takeEvents(events)
    events = []
    bytes = 0
  }
  // What has come meanwhile is taken as well, in the order it came.
  for (let each: Call<IngestRequest> | undefined = first; each; each = nextWaiting())
    if (!isEvents(each)) {
      flush()
      takeOther(each as Call<OtherRequest>)
    } else {
      events.push(each)
      bytes += each.request.body.byteLength
      if (bytes >= MOST_TOGETHER_BYTES) flush()
    }
  flush()
})

function nextWaiting(): Call<IngestRequest> | undefined {
  return (receiveMessageOnPort(port) as { message: Call<IngestRequest> } | undefined)?.message
}
