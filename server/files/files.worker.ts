import { parentPort, workerData } from 'node:worker_threads'
import { listMaker, type ListColumns } from '../ingest/lists.js'
import { previewFile, previewTable, type Preview, type TableStart } from '../ingest/preview.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { repliesOn, type Ping } from '../pool/serve.js'
import { openDatabase } from '../store/database.js'

/** The thread that looks at the beginnings of files: what comes from outside may take long to read. */
export type FilesRequest =
  | { kind: 'preview'; bytes: Uint8Array; zone: string }
  | { kind: 'preview table'; table: TableStart; zone: string }
  | { kind: 'look at list'; start: Uint8Array }
  | Ping

lowerPriority(5)
const { file } = workerData as { file: string }
const lists = listMaker(openDatabase(file, { readonly: true }))
const port = parentPort!
const replies = repliesOn(port)

function answer(request: FilesRequest): Promise<Preview | ListColumns | { problem: string } | null> | Preview | null {
  switch (request.kind) {
    case 'preview':
      return previewFile(request.bytes, request.zone)
    case 'preview table':
      return previewTable(request.table, request.zone)
    case 'look at list':
      return lists.look(request.start)
    case 'ping':
      return null
  }
}

port.on('message', ({ call, request }: { call: number; request: FilesRequest }) => {
  Promise.resolve()
    .then(() => answer(request))
    .then(
      (value) => replies.answer(call, value),
      (error: unknown) => replies.fail(call, error),
    )
})
