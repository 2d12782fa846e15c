import { CallError } from '../pool/calls.js'
import { BUSY } from '../pool/serve.js'
import type { Db } from './database.js'

const LOOK_EVERY_MS = 20
/** So long a save waits for another writer before whoever saves is told. */
const PATIENCE_MS = 10_000

/**
 * Waits, without holding the thread, until nobody else is writing to the file: another program may for many seconds. The
 * write that follows at once then waits for a batch of the ingest thread at most.
 * @throws CallError 503 where that takes too long; nothing has been written then
 */
export function writingTurn(db: Db): () => Promise<void> {
  return async () => {
    const end = performance.now() + PATIENCE_MS
    for (;;) {
      if (isFree(db)) return
      if (performance.now() > end) throw new CallError(BUSY, { status: 503, retryAfterS: 2 })
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS))
    }
  }
}

function isFree(db: Db): boolean {
  const before = db.pragma('busy_timeout', { simple: true }) as number
  db.pragma('busy_timeout = 0')
  try {
    db.exec('BEGIN IMMEDIATE')
    db.exec('ROLLBACK')
    return true
  } catch (error) {
    if ((error as { code?: string }).code?.startsWith('SQLITE_BUSY')) return false
    throw error
  } finally {
    db.pragma(`busy_timeout = ${before}`)
  }
}
