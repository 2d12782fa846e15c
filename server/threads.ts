import type { MessagePort, Worker } from 'node:worker_threads'
import type { EngineHealth, EngineRequest, EngineStatus } from './engine/engine.worker.js'
import type { OutreachRequest } from './outreach/outreach.worker.js'
import type { FilesRequest } from './files/files.worker.js'
import type { IngestRequest } from './ingest/ingest.worker.js'
import { Pace } from './ingest/pace.js'
import type { Logger } from './logger.js'
import { startWorker } from './pool/startWorker.js'
import type { Ping } from './pool/serve.js'
import { DamagedError, isDamage } from './store/damage.js'
import { Supervised, type ThreadLog, type ThreadState } from './pool/supervised.js'
import type { Settings } from './settings.js'

/** While batches keep coming, so long passes between two refreshes: less where a refresh takes long itself. */
const BETWEEN_REFRESHES_MS = 1400
const LEAST_BETWEEN_MS = 300
/** What a refresh of this length takes of the machine, questions notice. */
const NOTICED_MS = 300

/** How the threads are, and how far behind what is seen is. */
export interface Health {
  ready: boolean
  threads: ThreadState[]
  loading: { read: number; of: number } | null
  /** how old the oldest accepted event is that no question sees yet, ms */
  behindMs: number
  engine: EngineHealth | null
}

interface Care {
  file: string
  settings: Settings
  logger: Logger
  /** told when the thread that writes has been started, also again */
  onIngestStart: () => void
}

/** The threads of a workspace, started again when they die, and how current what they know is. */
export function openThreads({ file, settings, logger, onIngestStart }: Care) {
  const log: ThreadLog = (line) =>
    line.what === 'stopped' ? logger.error(line, `thread ${line.thread} stopped`) : logger.warn(line)
  let loading: EngineStatus | null = loadingStatus(0, 0)
  let version = -1
  let events = 0
  let closing = false
  /** why the events cannot be read, where the file is to blame */
  let damage: DamagedError | null = null

  /** What the engine's thread last wrote down of its state; nobody reads it before the next one is started. */
  let kept: MessagePort | null = null

  function startEngine(): Worker {
    // Where one died over it, all is read anew.
    const before = goingOn ? null : kept
    goingOn = before !== null
    kept = null
    const { threads, attackable } = settings
    const data = { file, threads, attackable, before, firstVersion: version + 1 }
    return startWorker('engine', data, before ? [before] : [])
  }
  /** whether the thread that runs began with what the one before wrote down, and has not got ready yet */
  let goingOn = false

  const engine: Supervised<EngineRequest> = new Supervised<EngineRequest>({
    ...{ name: 'engine', log },
    // States go on being numbered: to whoever has an older one, the first after a restart is new.
    start: startEngine,
    onStart: () => (loading = loadingStatus(0, 0)),
    onDeath: (reason) => {
      loading = loadingStatus(0, 0)
      if (isDamage(reason)) damage = new DamagedError(file, reason.message)
    },
    onNotice: (notice) => {
      const { kind, version: newest, rows = 0, of = 0, line, port } = notice as EngineNotice
      if (kind === 'kept' && port) {
        kept?.close()
        kept = port
      }
      if (kind === 'changed') version = newest ?? version
      if (kind === 'loading') loading = loadingStatus(rows, of)
      if (kind === 'ready') {
        loading = null
        damage = null
        goingOn = false
        refreshSoon()
      }
      if (kind === 'log' && line) log(line)
    },
  })
  const ingest = new Supervised<IngestRequest>({
    ...{ name: 'ingest', log, start: () => startWorker('ingest', { file, settings: ingestSettings(settings) }) },
    onStart: () => setImmediate(onIngestStart),
    onNotice: (notice) => {
      if (notice.kind === 'written') accepted()
    },
  })

  const files = new Supervised<FilesRequest>({
    ...{ name: 'files', log, start: () => startWorker('files', { file }), lazy: true },
  })

  const outreach = new Supervised<OutreachRequest>({
    ...{ name: 'outreach', log, lazy: true },
    start: () => startWorker('outreach', { file, dataDir: settings.dataDir, secretKey: settings.secretKey }),
    onNotice: ({ kind, line }: EngineNotice) => {
      if (kind === 'log' && line) log(line)
    },
  })

  // When the oldest event was accepted that no refresh has begun to take in, and of those that one is taking in now.
  let unseenMs: number | null = null
  let arrivingMs: number | null = null
  let refreshing: NodeJS.Timeout | null = null
  let refreshedMs = 0
  let refreshTookMs = 0
  const pace = new Pace()

  /** Something was written that questions do not see yet. */
  function accepted(): void {
    unseenMs ??= performance.now()
    refreshSoon()
  }

  /** Each refresh rebuilds the tail, so a stream of batches shares one; a single batch is seen almost at once. */
  function refreshSoon(): void {
    if (closing) return
    refreshing ??= setTimeout(
      () => {
        const begunMs = performance.now()
        arrivingMs = unseenMs
        unseenMs = null
        void engine
          .ask({ kind: 'refresh' })
          .then(
            () => {
              if (arrivingMs !== null) pace.seen(performance.now() - arrivingMs)
              arrivingMs = null
            },
            () => {
              unseenMs = arrivingMs ?? unseenMs
              arrivingMs = null
            },
          )
          .finally(() => {
            refreshedMs = performance.now()
            refreshTookMs = refreshedMs - begunMs
            refreshing = null
            if (unseenMs !== null) refreshSoon()
          })
      },
      Math.max(100, refreshedMs + Math.max(LEAST_BETWEEN_MS, BETWEEN_REFRESHES_MS - refreshTookMs) - performance.now()),
    )
  }

  // A thread that hangs neither answers nor dies: it is ended, and started again.
  const hung = settings.hungMs
  const everyMs = hung / 4
  let lookedMs = performance.now()
  const watchman = setInterval(() => {
    // Where this thread itself was held up, what the others said meanwhile has not been heard yet.
    const now = performance.now()
    const late = now - lookedMs > 1.5 * everyMs
    lookedMs = now
    for (const thread of [engine, ingest, files, outreach] as Supervised<Ping>[]) {
      if (thread.pending === 0 || (thread.silentMs ?? 0) < hung / 2) continue
      thread.tell({ kind: 'ping' })
      if (!late && thread.silentMs! > hung) thread.kill(`it did not answer for ${Math.round(hung / 1000)} s`)
    }
  }, everyMs)
  watchman.unref()

  async function status(): Promise<EngineStatus> {
    if (damage) throw damage
    if (loading) return loading
    const now = await engine.ask<EngineStatus>({ kind: 'status' })
    events = now.events
    return now
  }

  return {
    engine,
    ingest,
    files,
    outreach,
    accepted,
    status,
    get version(): number {
      return version
    },
    get events(): number {
      return events
    },
    get behindMs(): number {
      const since = arrivingMs ?? unseenMs
      return since === null ? 0 : performance.now() - since
    },
    /** Told how long each question took: where much is being taken in beside them, senders make room. */
    answered(tookMs: number): void {
      if (refreshTookMs > NOTICED_MS) pace.answered(tookMs)
    },
    /** so long a batch is kept waiting before it is taken, ms */
    get holdMs(): number {
      return loading === null ? pace.holdMs(this.behindMs) : 0
    },
    get loaded(): boolean {
      return loading === null
    },
    /** Asks every thread. @param limitMs so long each has to answer */
    async health(limitMs: number): Promise<Health> {
      const inTime = <T>(answer: Promise<T>): Promise<T | null> =>
        Promise.race([
          answer.catch(() => null),
          new Promise<null>((resolve) => setTimeout(resolve, limitMs, null).unref()),
        ])
      const [ofEngine, ofIngest, ofFiles] = await Promise.all([
        engine.state.up ? inTime(engine.ask<EngineHealth>({ kind: 'health', limitMs: limitMs / 2 })) : null,
        ingest.state.up ? inTime(ingest.ask<{ there: true }>({ kind: 'ping' })) : null,
        files.state.up && !files.isIdle ? inTime(files.ask({ kind: 'ping' }).then(() => true)) : files.isIdle,
      ])
      const threads = [
        { ...engine.state, up: ofEngine !== null },
        { ...ingest.state, up: ofIngest !== null },
        { ...files.state, up: ofFiles === true },
        outreach.state,
        ...(ofEngine?.threads ?? []),
      ]
      return {
        ready: loading === null && threads.every(({ up }) => up),
        threads,
        loading: loading && { read: loading.loaded, of: loading.toLoad },
        behindMs: this.behindMs,
        engine: ofEngine,
      }
    },
    /** Ends a thread as if it had died: for trying out. */
    kill(thread: string): void {
      if (thread === 'engine') engine.kill('it was ended from outside')
      else if (thread === 'ingest') ingest.kill('it was ended from outside')
      else if (thread === 'files') files.kill('it was ended from outside')
      else if (thread === 'outreach') outreach.kill('it was ended from outside')
      else engine.tell({ kind: 'kill', thread })
    },
    /** Ends the threads after what they have accepted is on disk. */
    async close(): Promise<void> {
      closing = true
      clearInterval(watchman)
      if (refreshing) clearTimeout(refreshing)
      await outreach.close({ kind: 'close' })
      await Promise.all([ingest.close({ kind: 'close' }), engine.close({ kind: 'close' })])
      await files.close()
    },
  }
}
export type Threads = ReturnType<typeof openThreads>

interface EngineNotice {
  kind: string
  version?: number
  rows?: number
  of?: number
  line?: Parameters<ThreadLog>[0]
  port?: MessagePort
}

/** What the thread that writes has to know of the settings. */
export function ingestSettings({ dataDir, freeBytes }: Settings) {
  return { dataDir, freeBytes }
}

function loadingStatus(loaded: number, toLoad: number): EngineStatus {
  return {
    ...{ ready: false, loaded, toLoad, version: -1, events: 0, people: 0, types: 0 },
    ...{ newestMs: null, now: Date.now(), storeBytes: 0 },
  }
}
