import { parentPort, workerData } from 'node:worker_threads'
import { openDatabase } from '../store/database.js'
import { writeParquet } from './formats.js'
import { catalogTable, eventTable, peopleTable, type Exportable } from './tables.js'
import type { CatalogDetail } from '../engine/catalog.js'

/** Writes one Parquet file, in a thread of its own: that is too much work to be done between requests. */
export interface ParquetRequest {
  what: Exportable
  filename: string
  fromMs?: number
  untilMs?: number
  /** of the catalog: what the engine has counted */
  detail?: CatalogDetail
}

const { file } = workerData as { file: string }
const port = parentPort!

async function write({ what, detail, filename, ...range }: ParquetRequest): Promise<void> {
  const db = openDatabase(file, { readonly: true })
  try {
    const table =
      what === 'events' ? eventTable(db, range) : what === 'people' ? peopleTable(db) : catalogTable(detail!)
    await writeParquet(filename, table)
  } finally {
    db.close()
  }
}

port.on('message', ({ call, request }: { call: number; request: ParquetRequest }) => {
  write(request)
    .then(
      () => port.postMessage({ kind: 'answer', call, value: null }),
      (error: Error) => port.postMessage({ kind: 'failed', call, message: error.message }),
    )
    .finally(() => port.close())
})
