import type { EngineRequest } from '../engine/engine.worker.js'
import type { Logger } from '../logger.js'
import type { QuestionDesk } from '../questions/questions.js'
import type { Settings } from '../settings.js'
import { annotationStore } from '../store/annotations.js'
import { costStore } from '../store/costs.js'
import { modelStore } from '../store/models.js'
import { keyStore, linkStore } from '../store/access.js'
import { catalogStore } from '../store/catalog.js'
import { dashboardStore } from '../store/dashboards.js'
import type { Db } from '../store/database.js'
import { eventStore } from '../store/events.js'
import { importStore } from '../store/imports.js'
import { mendingStore } from '../store/mending.js'
import { keptAddressStore } from '../store/keptAddresses.js'
import { momentNoteStore } from '../store/momentNotes.js'
import { peopleStore } from '../store/people.js'
import { planStore } from '../store/plan.js'
import { setAsideStore } from '../store/setAside.js'
import { settingsStore } from '../store/settings.js'
import { studyStore } from '../store/studies.js'
import { takenStore } from '../store/taken.js'
import { testEventStore } from '../store/testEvents.js'
import type { Threads } from '../threads.js'

/** What a workspace's file holds, by subject. */
export function openStores(db: Db) {
  return {
    settings: settingsStore(db),
    studies: studyStore(db),
    dashboards: dashboardStore(db),
    links: linkStore(db),
    keys: keyStore(db),
    imports: importStore(db),
    annotations: annotationStore(db),
    costs: costStore(db),
    models: modelStore(db),
    momentNotes: momentNoteStore(db),
    keptAddresses: keptAddressStore(db),
    catalog: catalogStore(db),
    plan: planStore(db),
    mending: mendingStore(db),
    events: eventStore(db),
    people: peopleStore(db),
    aside: setAsideStore(db),
    taken: takenStore(db),
    testEvents: testEventStore(db),
  }
}
export type Stores = ReturnType<typeof openStores>

/** What the doors to the server share. */
export interface Inside {
  db: Db
  settings: Settings
  logger: Logger
  stores: Stores
  threads: Threads
  desk: QuestionDesk
  /** asks the engine, in turn */
  ask: <T>(request: EngineRequest, signal?: AbortSignal) => Promise<T>
  /** waits until the engine knows what has been written */
  known: () => Promise<void>
  /** waits until others have written */
  toWrite: () => Promise<void>
}
