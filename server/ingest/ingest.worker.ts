import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '../store/database.js'
import { BodyError, readBody, type BodyForm } from './body.js'
import { readEvent, readPerson, type IncomingEvent, type IncomingPerson, type Refusal } from './event.js'
import { runImport } from './importer.js'
import { eventWriter } from './writer.js'

/** The one thread that writes events and profiles, so that the thread that answers HTTP never waits for the disk. */
export type IngestRequest =
  | { kind: 'events' | 'people'; body: Uint8Array; form: BodyForm; receivedMs: number }
  | { kind: 'import'; id: string }
  | { kind: 'stop import'; id: string }
  | { kind: 'close' }

export interface IngestReply {
  accepted: number
  duplicates: number
  rejected: { line: number; reason: string }[]
}

const { file } = workerData as { file: string }
const db = openDatabase(file)
const writer = eventWriter(db)
const port = parentPort!
const stopping = new Set<string>()

function readItems<T extends IncomingEvent | IncomingPerson>(
  request: Extract<IngestRequest, { body: Uint8Array }>,
  read: (value: unknown, content: () => string) => T | Refusal,
): { good: T[]; rejected: IngestReply['rejected'] } {
  const good: T[] = []
  const rejected: IngestReply['rejected'] = []
  for (const item of readBody(request.body, request.form)) {
    const result = 'reason' in item ? item : read(item.value, item.content)
    if ('reason' in result) rejected.push({ line: item.line, reason: result.reason })
    else good.push(result)
  }
  return { good, rejected }
}

async function answer(request: IngestRequest): Promise<unknown> {
  switch (request.kind) {
    case 'events': {
      const { good, rejected } = readItems(request, (value, content) => readEvent(value, content, request.receivedMs))
      return { ...writer.writeEvents(good, request.receivedMs), rejected } satisfies IngestReply
    }
    case 'people': {
      const { good, rejected } = readItems(request, (value) => readPerson(value, request.receivedMs))
      return { accepted: writer.writePeople(good), duplicates: 0, rejected } satisfies IngestReply
    }
    case 'import':
      return runImport(db, writer, request.id, {
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
  }
}

port.on('message', ({ call, request }: { call: number; request: IngestRequest }) => {
  answer(request).then(
    (value) => {
      port.postMessage({ kind: 'answer', call, value })
      if (request.kind === 'close') port.close()
    },
    (error: Error) => {
      const status = error instanceof BodyError ? error.status : 500
      port.postMessage({ kind: 'failed', call, message: error.message, status })
    },
  )
})
