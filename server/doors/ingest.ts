import { rmSync } from 'node:fs'
import type { BodyForm } from '../ingest/body.js'
import type { ImportPlan } from '../ingest/importPlan.js'
import type { IngestReply } from '../ingest/ingest.worker.js'
import { removeOrphans } from '../ingest/orphans.js'
import type { Preview, TableStart } from '../ingest/preview.js'
import { rejectedCsv } from '../ingest/rejected.js'
import { CallError } from '../pool/calls.js'
import type { ImportJob, ImportLook } from '../store/imports.js'
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

  /** Ends an import of which nothing has been written. */
  async function end(id: string, state: 'stopped' | 'failed', problem: string): Promise<void> {
    const { path } = imports.get(id)
    await toWrite()
    imports.finish(id, state, problem)
    if (path?.startsWith(uploads)) rmSync(path, { force: true })
  }

  /** Looks through a file first; where all of it can be taken it goes on by itself. */
  function lookThenRun(id: string): void {
    if (importing.has(id)) return
    importing.add(id)
    void threads.ingest
      .ask<ImportLook | null>({ kind: 'look through', id })
      .then(
        async (look) => {
          importing.delete(id)
          if (look === null) return end(id, 'stopped', NOTHING_TAKEN)
          if (look.rejected > 0 || look.problem !== null) return
          await toWrite()
          imports.release(id)
          runImport(id)
        },
        async (error: Error) => {
          importing.delete(id)
          logger.error({ import: id, error: error.message }, 'a file could not be looked through')
          if (error instanceof CallError && error.died) deaths.set(id, (deaths.get(id) ?? 0) + 1)
          else await end(id, 'failed', `The file could not be looked through: ${error.message}`)
        },
      )
      .catch((error: Error) => logger.error({ import: id, error: error.message }))
  }

  return {
    uploads,
    /** The thread that writes has been started: what it was at goes on. */
    goOn(): void {
      importing.clear()
      for (const { id, path, held, looked } of imports.unfinished()) {
        if (!path?.startsWith(uploads) || (held && looked !== null)) continue
        if ((deaths.get(id) ?? 0) < MOST_DEATHS) (held ? lookThenRun : runImport)(id)
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
    /** @param look whether it is looked through first, and waits where lines of it are wrong */
    startImport(job: { file: string; path: string; bytes: number; plan: ImportPlan }, look = false): string {
      const id = imports.create(job, Date.now(), look)
      if (look) lookThenRun(id)
      else runImport(id)
      return id
    },
    /** What is wrong with a file has been seen: what is right of it is taken. */
    async goOnWithImport(id: string): Promise<void> {
      if (!isAsking(imports.get(id))) return
      await toWrite()
      imports.release(id)
      runImport(id)
    },
    /** The file is read otherwise, and looked through anew. */
    async readImportAs(id: string, plan: ImportPlan): Promise<void> {
      if (!isAsking(imports.get(id))) return
      await toWrite()
      imports.readAs(id, plan, Date.now())
      lookThenRun(id)
    },
    /** Nothing of a file that waits is taken. */
    async dropImport(id: string): Promise<void> {
      if (isAsking(imports.get(id))) await end(id, 'stopped', NOTHING_TAKEN)
    },
    knownLines: (id: string) =>
      rejectedCsv(
        imports.get(id).plan,
        imports.known(id).map((each) => ({ ...each, reason: 'its id is there already' })),
      ),
    rejectedLines: (id: string) => rejectedCsv(imports.get(id).plan, imports.rejects(id)),
    stopImport: (id: string) => threads.ingest.ask({ kind: 'stop import', id }),
  }
}

/** Whether it has been looked through, and waits for a word. */
const isAsking = ({ held, looked, state }: Pick<ImportJob, 'held' | 'looked' | 'state'>) =>
  held && looked !== null && state === 'waiting'

const NOTHING_TAKEN = 'Nothing of the file was taken.'
const GIVEN_UP =
  'Reading this file has stopped the server’s thread twice, so it is not tried again. The lines before that were taken. Split the file, or save it in another form, and import it anew: lines already taken are not counted twice.'
