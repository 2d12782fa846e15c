import { doorway } from './ingest/doorway.js'
import { readPerson } from './ingest/event.js'
import { eventWriter } from './ingest/writer.js'
import { keyStore } from './store/access.js'
import { openDatabase } from './store/database.js'
import { workspaceFile } from './store/home.js'
import { planStore } from './store/plan.js'
import { furnishingStore } from './store/furnishing.js'
import { settingsStore } from './store/settings.js'

export type { Furnishing } from './store/furnishing.js'

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
    keys: keyStore(db),
    plan: planStore(db),
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
    /** Names, descriptions, studies and dashboards. */
    furnish: furnishingStore(db).put,
    close(): void {
      db.pragma('wal_checkpoint(TRUNCATE)')
      db.close()
    },
  }
}
