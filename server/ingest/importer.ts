import { rmSync } from 'node:fs'
import type { Db } from '../store/database.js'
import { importStore, type ImportJob, type Reject } from '../store/imports.js'
import type { BodyItem } from './body.js'
import type { Doorway } from './doorway.js'
import { inColumns } from './inColumns.js'
import type { Origin } from './origins.js'
import { fileRecords, FileError } from './records.js'

const BATCH = 2000

/**
 * Runs an import from where it got to. Each batch and the note of how far it got are one transaction, so that a killed
 * process loses nothing that was told of, and goes on without counting anything twice.
 * @param onProgress after each batch; false = stop here
 * @param owned whether the file is the import's own copy, to be removed at the end
 */
export async function runImport(
  db: Db,
  door: Doorway,
  id: string,
  options: { now: () => number; owned: boolean; onProgress: (job: ImportJob) => boolean },
): Promise<ImportJob> {
  const imports = importStore(db)
  const job = imports.get(id)
  if (job.path === null) return job
  let bytesRead = job.bytesRead
  let records = 0
  let started = performance.now()
  let items: BodyItem[] = []
  let rejects: Reject[] = []
  /** what each line of the batch says */
  const texts = new Map<number, string>()
  const receivedMs = options.now()
  const origin: Origin = { kind: 'import', ref: id }
  const isOfPeople = job.plan.format !== 'jsonl' && job.plan.rows === 'people'

  const write = (): boolean => {
    const advance = (accepted: number, duplicates: number, known: number[] = []) => {
      const spentMs = performance.now() - started
      const told = onePerLine(rejects).map(({ line, reason, content }) => ({
        ...{ line, reason: inColumns(job.plan, reason) },
        // Of a row that makes several events it is the row that is kept.
        content: texts.get(line) ?? content,
      }))
      const again = [...new Set(known)].map((line) => ({ line, content: texts.get(line) ?? '' }))
      imports.advance(id, { ...{ records, bytesRead, accepted, duplicates, spentMs }, rejects: told, known: again })
    }
    if (isOfPeople) {
      const { people, rejected } = door.sortPeople(items, receivedMs)
      rejects.push(...rejected)
      door.writePeople(people, { also: (written) => advance(written, 0), origin, receivedMs })
    } else {
      const sorted = door.sort(items, receivedMs)
      for (const { line, reason, content } of sorted.rejected) rejects.push({ line, reason, content })
      const { replace } = { replace: false, ...job.plan }
      door.write(sorted, receivedMs, false, {
        replace,
        origin,
        also: ({ accepted, duplicates, knownAt }) =>
          advance(
            accepted,
            duplicates,
            knownAt.map((at) => sorted.lines[at]!),
          ),
      })
    }
    started = performance.now()
    items = []
    rejects = []
    texts.clear()
    return options.onProgress(imports.get(id))
  }

  try {
    for await (const record of fileRecords(job.path, job.plan, (bytes) => (bytesRead = bytes))) {
      records++
      if (records <= job.records) continue
      if ('reason' in record) rejects.push(record)
      else {
        texts.set(record.line, record.content)
        for (const value of record.values) items.push({ line: record.line, value, content: contentOf(record, value) })
      }
      if (items.length + rejects.length >= BATCH) {
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
    if (items.length + rejects.length > 0) write()
    const problem =
      error instanceof FileError
        ? error.message
        : `The import stopped at record ${records}: ${(error as Error).message}`
    imports.finish(id, 'failed', problem)
  }
  if (options.owned) rmSync(job.path, { force: true })
  return imports.get(id)
}

/** What an event without an id gets one from: its row, and with several events of a row the event as well. */
export function contentOf(record: { content: string; values: unknown[] }, value: unknown): () => string {
  return record.values.length === 1 ? () => record.content : () => JSON.stringify(value)
}

/** A row that makes several events may be refused several times: it is one line all the same. */
export function onePerLine(rejects: readonly Reject[]): Reject[] {
  const byLine = new Map<number, Reject>()
  for (const reject of rejects) {
    const had = byLine.get(reject.line)
    byLine.set(reject.line, had ? { ...had, reason: `${had.reason}; ${reject.reason}` } : reject)
  }
  return [...byLine.values()]
}
