import { rmSync } from 'node:fs'
import type { Db } from '../store/database.js'
import { importStore, type ImportJob, type Reject } from '../store/imports.js'
import { readEvent, type IncomingEvent } from './event.js'
import { fileRecords, FileError } from './records.js'
import type { EventWriter } from './writer.js'

const BATCH = 2000

/**
 * Runs an import from where it got to. Each batch and the note of how far it got are one transaction, so that a killed
 * process loses nothing that was told of, and goes on without counting anything twice.
 * @param onProgress after each batch; false = stop here
 * @param owned whether the file is the import's own copy, to be removed at the end
 */
export async function runImport(
  db: Db,
  writer: EventWriter,
  id: string,
  options: { now: () => number; owned: boolean; onProgress: (job: ImportJob) => boolean },
): Promise<ImportJob> {
  const imports = importStore(db)
  const job = imports.get(id)
  if (job.path === null) return job
  let bytesRead = job.bytesRead
  let records = 0
  let started = performance.now()
  let events: IncomingEvent[] = []
  let rejects: Reject[] = []
  const receivedMs = options.now()

  const write = (): boolean => {
    writer.writeEvents(events, receivedMs, ({ accepted, duplicates }) => {
      const spentMs = performance.now() - started
      imports.advance(id, { records, bytesRead, accepted, duplicates, rejects, spentMs })
    })
    started = performance.now()
    events = []
    rejects = []
    return options.onProgress(imports.get(id))
  }

  try {
    for await (const record of fileRecords(job.path, job.plan, (bytes) => (bytesRead = bytes))) {
      records++
      if (records <= job.records) continue
      const event = 'reason' in record ? record : readEvent(record.value, () => record.content, receivedMs)
      if ('reason' in event) rejects.push({ line: record.line, reason: event.reason, content: record.content })
      else events.push(event)
      if (events.length + rejects.length >= BATCH) {
        if (!write()) {
          imports.finish(id, 'stopped', null)
          break
        }
        // Batches that come over HTTP get their turn in between.
        await new Promise((resolve) => setImmediate(resolve))
      }
    }
    if (imports.get(id).state !== 'stopped') {
      write()
      imports.finish(id, 'done', null)
    }
  } catch (error) {
    if (events.length + rejects.length > 0) write()
    const problem =
      error instanceof FileError
        ? error.message
        : `The import stopped at record ${records}: ${(error as Error).message}`
    imports.finish(id, 'failed', problem)
  }
  if (options.owned) rmSync(job.path, { force: true })
  return imports.get(id)
}
