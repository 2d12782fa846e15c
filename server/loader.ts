import { readEvent, readPerson } from './ingest/event.js'
import { eventWriter } from './ingest/writer.js'
import { keyStore, linkStore } from './store/access.js'
import { dashboardStore } from './store/dashboards.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
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
  return {
    file,
    settings: settingsStore(db),
    studies: studyStore(db),
    dashboards: dashboardStore(db),
    links: linkStore(db),
    keys: keyStore(db),
    /** @returns what was taken; refused ones with their reasons */
    sendEvents(events: readonly object[], receivedMs: number) {
      const rejected: { line: number; reason: string }[] = []
      const good = events.flatMap((event, index) => {
        const read = readEvent(event, () => JSON.stringify(event), receivedMs)
        if (!('reason' in read)) return [read]
        rejected.push({ line: index + 1, reason: read.reason })
        return []
      })
      return { ...writer.writeEvents(good, receivedMs), rejected }
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
      events: Record<string, { description: string; passive?: boolean; deprecated?: boolean }>,
      properties: { event: Record<string, string>; person: Record<string, string> },
    ): void {
      const type = db.prepare(
        `INSERT INTO event_types (name, description, passive, deprecated) VALUES (?, ?, ?, ?)
         ON CONFLICT (name) DO UPDATE SET description = excluded.description, passive = excluded.passive,
           deprecated = excluded.deprecated`,
      )
      const property = db.prepare(
        `INSERT INTO properties (scope, name, description) VALUES (?, ?, ?)
         ON CONFLICT (scope, name) DO UPDATE SET description = excluded.description`,
      )
      db.transaction(() => {
        for (const [name, { description, passive, deprecated }] of Object.entries(events))
          type.run(name, description, passive ? 1 : 0, deprecated ? 1 : 0)
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
