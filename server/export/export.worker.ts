import { parentPort, workerData } from 'node:worker_threads'
import type { CatalogDetail } from '../engine/catalog.js'
import { lowerPriority } from '../pool/lowerPriority.js'
import { repliesOn } from '../pool/serve.js'
import { openDatabase } from '../store/database.js'
import { csvPages, jsonPages, writeParquet, type ExportFormat } from './formats.js'
import { exportLines } from './lines.js'
import { catalogTable, eventTable, peopleTable, type Exportable } from './tables.js'

/** What is taken out, as what, and of which time. */
export interface ExportOrder {
  what: Exportable
  format: ExportFormat
  fromMs?: number
  untilMs?: number
  /** of the catalog: what the engine has counted */
  detail?: CatalogDetail
}

/**
 * Writes one table, in a thread of its own, behind everything else that wants the cores. Texts are fetched a piece at a
 * time, so no more is made than is taken; a Parquet file is written whole, because its end tells where all is.
 */
export type ExportRequest =
  { kind: 'begin'; order: ExportOrder } | { kind: 'next' } | { kind: 'write'; filename: string } | { kind: 'end' }

/** So much text is handed over at once, about. */
const PIECE = 1 << 18

lowerPriority(15)
const { file } = workerData as { file: string }
const db = openDatabase(file, { readonly: true })
const port = parentPort!
const replies = repliesOn(port)
let order: ExportOrder
let pages: Iterator<string> | null = null

function tableOf({ what, detail, ...range }: ExportOrder) {
  return what === 'events' ? eventTable(db, range) : what === 'people' ? peopleTable(db) : catalogTable(detail!)
}

function begin(next: ExportOrder): null {
  order = next
  if (order.format === 'parquet') return null
  const { what, format } = order
  const lines = what === 'events' && format === 'jsonl'
  pages = lines ? exportLines(db, order) : format === 'csv' ? csvPages(tableOf(order)) : jsonPages(tableOf(order))
  return null
}

/** @returns the next piece; null after the last */
function nextPiece(): string | null {
  let piece = ''
  while (piece.length < PIECE) {
    const { done, value } = pages!.next()
    if (done) break
    piece += value
  }
  return piece === '' ? null : piece
}

async function answer(request: ExportRequest): Promise<string | null> {
  switch (request.kind) {
    case 'begin':
      return begin(request.order)
    case 'next':
      return nextPiece()
    case 'write':
      await writeParquet(request.filename, tableOf(order))
      return null
    case 'end':
      // Where it was left half read, the database holds on to it until it is told.
      pages?.return?.()
      pages = null
      return null
  }
}

port.on('message', ({ call, request }: { call: number; request: ExportRequest }) => {
  answer(request).then(
    (value) => replies.answer(call, value),
    (error: unknown) => replies.fail(call, error),
  )
})
