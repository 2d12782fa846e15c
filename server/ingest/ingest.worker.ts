import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '../store/database.js'
import { afterwards, type AfterRequest } from './afterwards.js'
import { BodyError, readBody, type BodyForm } from './body.js'
import { doorway } from './doorway.js'
import { runImport } from './importer.js'
import { eventWriter } from './writer.js'

/** The one thread that writes events and profiles, so that the thread that answers HTTP never waits for the disk. */
export type IngestRequest =
  | { kind: 'events' | 'people'; body: Uint8Array; form: BodyForm; receivedMs: number }
  | { kind: 'import'; id: string }
  | { kind: 'stop import'; id: string }
  | { kind: 'close' }
  | AfterRequest

export interface IngestReply {
  accepted: number
  duplicates: number
  /** events that do not fit the tracking plan, whose policy is to set them aside */
  setAside: number
  rejected: { line: number; reason: string }[]
}

const { file } = workerData as { file: string }
const db = openDatabase(file)
const writer = eventWriter(db)
const door = doorway(db, writer)
const later = afterwards(db, writer)
const port = parentPort!
const stopping = new Set<string>()

function takePeople({ body, form, receivedMs }: Extract<IngestRequest, { body: Uint8Array }>): IngestReply {
  const { people, rejected } = door.sortPeople(readBody(body, form), receivedMs)
  const accepted = door.writePeople(people)
  return { accepted, duplicates: 0, setAside: 0, rejected: rejected.map(({ line, reason }) => ({ line, reason })) }
}

async function answer(request: IngestRequest): Promise<unknown> {
  switch (request.kind) {
    case 'events': {
      const sorted = door.sort(readBody(request.body, request.form), request.receivedMs)
      const { accepted, duplicates, setAside } = door.write(sorted, request.receivedMs, true)
      const rejected = sorted.rejected.map(({ line, reason }) => ({ line, reason }))
      return { accepted, duplicates, setAside, rejected } satisfies IngestReply
    }
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
    case 'stop import':
      stopping.add(request.id)
      return null
    case 'close':
      db.close()
      return null
    default:
      return later(request)
  }
}

port.on('message', ({ call, request }: { call: number; request: IngestRequest }) => {
  answer(request).then(
    (value) => {
      port.postMessage({ kind: 'answer', call, value })
      if (request.kind === 'close') port.close()
    },
    (error: Error) => {
      const status = error instanceof BodyError ? error.status : error.name === 'NotFoundError' ? 404 : 500
      port.postMessage({ kind: 'failed', call, message: error.message, status })
    },
  )
})
