import { mkdirSync } from 'node:fs'
import path from 'node:path'
import type { PeopleRef } from '../core/analyses/people.js'
import type { Question } from '../core/analyses/registry.js'
import type { Fault } from '../core/questions/faults.js'
import type { PropertyRef } from '../core/questions/parts.js'
import type { Catalog } from './engine/catalog.js'
import type { EngineRequest, EngineStatus, PeopleReply, RunReply } from './engine/engine.worker.js'
import type { BodyForm } from './ingest/body.js'
import type { ImportPlan } from './ingest/importPlan.js'
import type { IngestReply, IngestRequest } from './ingest/ingest.worker.js'
import { rejectedCsv } from './ingest/rejected.js'
import { Calls, CallError } from './pool/calls.js'
import { startWorker } from './pool/startWorker.js'
import type { Settings } from './settings.js'
import { keyStore, linkStore } from './store/access.js'
import { dashboardStore } from './store/dashboards.js'
import { openDatabase } from './store/database.js'
import { exportLines } from './store/export.js'
import { workspaceFile } from './store/home.js'
import { importStore } from './store/imports.js'
import { peopleStore, type PersonProfile } from './store/people.js'
import { settingsStore } from './store/settings.js'
import { studyStore } from './store/studies.js'

export interface PersonRow extends PersonProfile {
  events: number
  lastMs: number
}

/** While batches keep coming, their events are taken into the column store this often. */
const BETWEEN_REFRESHES_MS = 1000

/** The one door to the server for pages and API: definitions in SQLite, and questions to the engine's thread. */
export function openDowser(settings: Settings) {
  const file = workspaceFile(settings.dataDir, Date.now())
  const uploads = path.join(settings.dataDir, 'imports')
  mkdirSync(uploads, { recursive: true })
  const db = openDatabase(file)
  const stores = {
    settings: settingsStore(db),
    studies: studyStore(db),
    dashboards: dashboardStore(db),
    links: linkStore(db),
    keys: keyStore(db),
    imports: importStore(db),
  }
  const people = peopleStore(db)
  let loading: EngineStatus | null = null
  let version = -1

  const ingest = new Calls<IngestRequest>(startWorker('ingest', { file }), (notice) => {
    if (notice.kind === 'written') refreshSoon()
  })
  const engine = new Calls<EngineRequest>(startWorker('engine', { file, threads: settings.threads }), (notice) => {
    if (notice.kind === 'changed') version = (notice as { version?: number }).version ?? version
    if (notice.kind === 'loading') loading = loadingStatus((notice as { rows?: number }).rows ?? 0)
    if (notice.kind === 'ready') loading = null
  })
  loading = loadingStatus(0)
  // Imports of pages that a stop or a crash interrupted go on by themselves; one from the command line, whose file is
  // its owner's, waits for its --resume.
  for (const job of stores.imports.unfinished().filter(({ path: place }) => place?.startsWith(uploads)))
    void ingest.ask({ kind: 'import', id: job.id }).catch(() => {})

  /** Each refresh rebuilds the tail, so a stream of batches shares one; a single batch is seen almost at once. */
  let refreshing: NodeJS.Timeout | null = null
  let refreshedMs = 0
  function refreshSoon(): void {
    refreshing ??= setTimeout(
      () => {
        refreshing = null
        void engine.ask({ kind: 'refresh' }).then(
          () => (refreshedMs = performance.now()),
          () => {},
        )
      },
      Math.max(100, refreshedMs + BETWEEN_REFRESHES_MS - performance.now()),
    )
  }

  /** Asks the engine; when the asker goes away, the query is stopped. */
  async function ask<T>(request: EngineRequest, signal?: AbortSignal): Promise<T> {
    const { call, answer } = engine.askWithId<T>(request)
    const cancel = () => void engine.ask({ kind: 'cancel', target: call }).catch(() => {})
    if (signal?.aborted) cancel()
    signal?.addEventListener('abort', cancel, { once: true })
    try {
      return await answer
    } finally {
      signal?.removeEventListener('abort', cancel)
    }
  }

  const describe = ({ person, events, lastMs }: { person: number; events: number; lastMs: number }): PersonRow => ({
    ...people.describe(person),
    events,
    lastMs,
  })

  return {
    ...stores,
    file,
    uploads,

    /** Answers a study's question with the very numbers that the API gives. */
    run: (question: Question, signal?: AbortSignal) => ask<RunReply>({ kind: 'run', question }, signal),

    /** A page of the people counted in a study's marks. */
    async people(
      ref: PeopleRef,
      page: { offset: number; limit: number },
      signal?: AbortSignal,
    ): Promise<{ count: number; people: PersonRow[] } | { faults: Fault[] }> {
      const reply = await ask<PeopleReply>({ kind: 'people', ref, ...page }, signal)
      return 'faults' in reply ? reply : { count: reply.count, people: reply.page.map(describe) }
    },
    profileNames: people.propertyNames,

    catalog: () => ask<Catalog>({ kind: 'catalog' }),
    values: (property: PropertyRef, search: string, limit: number) =>
      ask<{ value: string | number | boolean; count: number }[]>({ kind: 'values', property, search, limit }),
    progress: (question: Question) => ask<{ done: number; people: number } | null>({ kind: 'progress', question }),
    status: (): Promise<EngineStatus> => (loading ? Promise.resolve(loading) : ask<EngineStatus>({ kind: 'status' })),
    /** state of the data; a larger number than before means that answers may differ */
    version: () => version,

    /** Writes a body of events or people; returns once they are on disk. */
    async ingest(kind: 'events' | 'people', body: Uint8Array, form: BodyForm): Promise<IngestReply> {
      const reply = await ingest.ask<IngestReply>({ kind, body, form, receivedMs: Date.now() })
      refreshSoon()
      return reply
    },
    startImport(job: { file: string; path: string; bytes: number; plan: ImportPlan }): string {
      const id = stores.imports.create(job, Date.now())
      void ingest.ask({ kind: 'import', id }).then(
        () => engine.ask({ kind: 'refresh' }),
        () => {},
      )
      return id
    },
    rejectedLines: (id: string) => rejectedCsv(stores.imports.rejects(id)),
    stopImport: (id: string) => ingest.ask({ kind: 'stop import', id }),

    exportEvents: (options: { fromMs?: number; untilMs?: number }) => exportLines(db, options),

    /** Ends the threads after what they have accepted is on disk. */
    async close(): Promise<void> {
      if (refreshing) clearTimeout(refreshing)
      await Promise.allSettled([ingest.ask({ kind: 'close' }), engine.ask({ kind: 'close' })])
      await Promise.all([ingest.worker.terminate(), engine.worker.terminate()])
      db.close()
    },
  }
}
export type Dowser = ReturnType<typeof openDowser>
export { CallError }

function loadingStatus(rows: number): EngineStatus {
  return {
    ready: false,
    loaded: rows,
    version: -1,
    events: 0,
    people: 0,
    types: 0,
    newestMs: null,
    now: Date.now(),
    storeBytes: 0,
  }
}
