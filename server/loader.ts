import { doorway } from './ingest/doorway.js'
import { readPerson } from './ingest/event.js'
import { eventWriter } from './ingest/writer.js'
import { keyStore, linkStore } from './store/access.js'
import { annotationStore } from './store/annotations.js'
import { catalogStore } from './store/catalog.js'
import { dashboardStore } from './store/dashboards.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
import { mendingStore } from './store/mending.js'
import { planStore } from './store/plan.js'
import { segmentStore } from './store/segments.js'
import { settingsStore } from './store/settings.js'
import { studyStore } from './store/studies.js'

/**
 * The second door, for programs that fill a workspace without a server: the demo, benchmarks, tests. What it is given
 * passes the same checks as what comes over HTTP.
 */
export function openLoader(dataDir: string, nowMs: number) {
  const file = workspaceFile(dataDir, nowMs)
  const db = openDatabase(file)
  const writer = eventWriter(db)
  const door = doorway(db, writer)
  return {
    file,
    settings: settingsStore(db),
    studies: studyStore(db),
    segments: segmentStore(db),
    dashboards: dashboardStore(db),
    links: linkStore(db),
    keys: keyStore(db),
    annotations: annotationStore(db),
    catalog: catalogStore(db),
    plan: planStore(db),
    mending: mendingStore(db),
    /** @returns what was taken; refused ones with their reasons, which are kept as well */
    sendEvents(events: readonly object[], receivedMs: number) {
      const items = events.map((value, index) => ({ line: index + 1, value, content: () => JSON.stringify(value) }))
      const sorted = door.sort(items, receivedMs)
      return { ...door.write(sorted, receivedMs, true), rejected: sorted.rejected }
    },
    sendPeople(people: readonly object[], receivedMs: number): void {
      writer.writePeople(
        people.map((person) => {
          const read = readPerson(person, receivedMs)
          if ('reason' in read) throw new Error(read.reason)
          return read
        }),
      )
    },
    /** Describes event types and properties; those not seen yet are made. */
    describe(
      events: Record<string, { description: string; passive?: boolean }>,
      properties: { event: Record<string, string>; person: Record<string, string> },
    ): void {
      const type = db.prepare(
        `INSERT INTO event_types (name, description, passive) VALUES (?, ?, ?)
         ON CONFLICT (name) DO UPDATE SET description = excluded.description, passive = excluded.passive`,
      )
      const property = db.prepare(
        `INSERT INTO properties (scope, name, description) VALUES (?, ?, ?)
         ON CONFLICT (scope, name) DO UPDATE SET description = excluded.description`,
      )
      db.transaction(() => {
        for (const [name, { description, passive }] of Object.entries(events))
          type.run(name, description, passive ? 1 : 0)
        for (const scope of ['event', 'person'] as const)
          for (const [name, description] of Object.entries(properties[scope])) property.run(scope, name, description)
      })()
    },
    close(): void {
      db.pragma('wal_checkpoint(TRUNCATE)')
      db.close()
    },
  }
}
