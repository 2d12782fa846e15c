import type { BodyForm } from '../ingest/body.js'
import type { ImportPlan } from '../ingest/importPlan.js'
import type { IngestReply } from '../ingest/ingest.worker.js'
import { removeOrphans } from '../ingest/orphans.js'
import type { Preview, TableStart } from '../ingest/preview.js'
import { rejectedCsv } from '../ingest/rejected.js'
import { CallError } from '../pool/calls.js'
import type { Inside } from './inside.js'

/** A file that has brought the thread down so often is not tried again. */
const MOST_DEATHS = 2

/**
 * The way in for events, people and files. Imports of pages that a stop or a crash interrupted go on by themselves; one
 * from the command line, whose file is its owner's, waits for its --resume.
 * @param uploads the folder that files wait in
 */
export function ingestDoor({ stores, threads, logger, toWrite }: Inside, uploads: string) {
  const { imports, settings } = stores
  const waiting = imports.unfinished().flatMap(({ path }) => path ?? [])
  const orphans = removeOrphans(uploads, new Set(waiting))
  if (orphans > 0) logger.warn({ files: orphans }, 'files that a stop had left behind are removed')
  const importing = new Set<string>()
  /** by import: how many threads have died over it */
  const deaths = new Map<string, number>()

  function runImport(id: string): void {
    if (importing.has(id)) return
    importing.add(id)
    void threads.ingest
      .ask({ kind: 'import', id })
      .then(
        () => threads.accepted(),
        (error: Error) => {
          logger.error({ import: id, error: error.message }, 'an import stopped')
          if (error instanceof CallError && error.died) deaths.set(id, (deaths.get(id) ?? 0) + 1)
        },
      )
      .finally(() => importing.delete(id))
  }

  return {
    uploads,
    /** The thread that writes has been started: what it was at goes on. */
    goOn(): void {
      importing.clear()
      for (const { id, path } of imports.unfinished()) {
        if (!path?.startsWith(uploads)) continue
        if ((deaths.get(id) ?? 0) < MOST_DEATHS) runImport(id)
        else
          void toWrite()
            .then(() => imports.finish(id, 'failed', GIVEN_UP))
            .catch(() => {})
      }
    },

    /**
     * Writes a body of events or people, whose memory is taken over; returns once they are on disk.
     * @param key the one it came by: what it sent can be taken back
     */
    async ingest(
      kind: 'events' | 'people',
      body: Uint8Array,
      form: BodyForm,
      key: string | null = null,
    ): Promise<IngestReply> {
      // Memory that holds nothing else changes hands; a piece of a pool is copied.
      const { buffer } = body
      const owned =
        buffer instanceof ArrayBuffer && body.byteOffset === 0 && buffer.byteLength - body.byteLength < 65_536
      const transfer = owned && body.byteLength > 8192 ? [buffer] : []
      const reply = await threads.ingest.ask<IngestReply>({ kind, body, form, receivedMs: Date.now(), key }, transfer)
      threads.accepted()
      return reply
    },

    /** What a file seems to be, by its first bytes; files of a known shape are read as the last one was. */
    async preview(bytes: Uint8Array): Promise<Preview> {
      const { zone } = settings.get()
      return imports.remembered(await threads.files.ask<Preview>({ kind: 'preview', bytes, zone }))
    },
    async previewTable(table: TableStart): Promise<Preview> {
      const { zone } = settings.get()
      return imports.remembered(await threads.files.ask<Preview>({ kind: 'preview table', table, zone }))
    },
    startImport(job: { file: string; path: string; bytes: number; plan: ImportPlan }): string {
      const id = imports.create(job, Date.now())
      runImport(id)
      return id
    },
    rejectedLines: (id: string) => rejectedCsv(imports.rejects(id)),
    stopImport: (id: string) => threads.ingest.ask({ kind: 'stop import', id }),
  }
}

const GIVEN_UP =
  'Reading this file has stopped the server’s thread twice, so it is not tried again. The lines before that were taken. Split the file, or save it in another form, and import it anew: lines already taken are not counted twice.'
