import { mkdirSync } from 'node:fs'
import path from 'node:path'
import { careDoor } from './doors/care.js'
import { demoDoor } from './doors/demo.js'
import { catalogDoor } from './doors/catalog.js'
import { ingestDoor } from './doors/ingest.js'
import { openStores, type Inside } from './doors/inside.js'
import { peopleDoor } from './doors/people.js'
import { segmentDoor } from './doors/segments.js'
import { takeBackDoor } from './doors/takeBack.js'
import { simulator } from './doors/simulator.js'
import { costsDoor } from './doors/costs.js'
import { outreachDoor } from './doors/outreach.js'
import { sessionsDoor } from './doors/sessions.js'
import { studiesDoor } from './doors/studies.js'
import { makeLogger, type Logger } from './logger.js'
import { CallError } from './pool/calls.js'
import { questionDesk } from './questions/questions.js'
import type { Settings } from './settings.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
import { writingTurn } from './store/writing.js'
import { openThreads } from './threads.js'
import { makeCounters } from './watch/counters.js'

export type { LiveEvent } from './doors/catalog.js'
export type { Expected, SavedSync } from './doors/outreach.js'
export type { Destination, LogLine } from './store/destinations.js'
export type { ClockState } from './doors/clock.js'
export type { DayShares, MessageCounts, MessageLine, SavedMessage } from './store/messages.js'
export type { SyncRun, SyncState } from './store/syncs.js'
export type { StandInState } from './outreach/standIns/standIn.worker.js'
export type { CostsPreview } from './doors/costs.js'
export type { ConversionRow, PersonRow, SessionRow, StudyChance } from './doors/people.js'

/** The one way to the server for pages and API: definitions in SQLite, and questions to the engine's thread. */
export function openDowser(settings: Settings, logger: Logger = makeLogger('silent')) {
  const file = workspaceFile(settings.dataDir, Date.now())
  const uploads = path.join(settings.dataDir, 'imports')
  mkdirSync(uploads, { recursive: true })
  const db = openDatabase(file)
  // Whoever saves waits for other writers before, without holding this thread; then it is a batch's time at most.
  db.pragma('busy_timeout = 250')
  const stores = openStores(db)
  const counters = makeCounters()
  const threads = openThreads({ ...{ file, settings, logger }, onIngestStart: goOn })
  const { engine } = threads
  const desk = questionDesk({
    ...{ engine, threads: settings.threads, limitMs: settings.questionMs, events: () => threads.events },
    answered: (kind, ms, how) => {
      counters.question(kind, ms, how)
      threads.answered(ms)
    },
  })
  const inside: Inside = {
    ...{ db, settings, logger, stores, threads, desk, ask: desk.ask, toWrite: writingTurn(db) },
    // While the engine is being started it reads what has been written by itself.
    async known() {
      if (threads.loaded) await engine.ask({ kind: 'refresh' }).catch(() => {})
    },
  }
  const ingest = ingestDoor(inside, uploads)
  const { goOnWithDemo, stopDemo, ...demo } = demoDoor(inside, settings.demoPeople)
  function goOn(): void {
    ingest.goOn()
    outreach.goOnWithOutreach()
    goOnWithDemo()
  }
  const segments = segmentDoor(inside)
  const { stopOutreach, ...outreach } = outreachDoor(inside)
  const simulated = simulator(
    stores.keys,
    () => `http://${settings.host === '0.0.0.0' ? '127.0.0.1' : settings.host}:${settings.port}`,
  )
  const { goOn: _goOn, ...taking } = ingest
  const {
    settings: workspace,
    studies,
    dashboards,
    links,
    keys,
    imports,
    annotations,
    momentNotes,
    keptAddresses,
  } = stores
  return {
    ...{ settings: workspace, studies, dashboards, links, keys, imports, annotations, momentNotes },
    keptAddresses,
    ...studiesDoor(inside, segments.names, (id) => segments.saved(id)?.name),
    ...peopleDoor(inside),
    ...catalogDoor(inside),
    ...takeBackDoor(inside),
    ...sessionsDoor(inside),
    ...costsDoor(inside),
    ...outreach,
    ...demo,
    ...taking,
    ...careDoor(inside, file, uploads),
    ...{ file, segments, simulator: simulated, threads, counters, desk },

    /** Ends the threads after what they have accepted is on disk. */
    async close(): Promise<void> {
      simulated.stop()
      stopOutreach()
      stopDemo()
      await threads.close()
      db.close()
    },
  }
}

export type Dowser = ReturnType<typeof openDowser>
export { CallError }
