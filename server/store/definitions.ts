import type { Db } from './database.js'

/**
 * Counts the changes of what is said of the data (descriptions, plan, mending), so that threads that keep a copy know
 * when to read it again.
 */
export function bumpDefinitions(db: Db): void {
  db.prepare(
    `INSERT INTO settings (key, value) VALUES ('definitions', '1')
     ON CONFLICT (key) DO UPDATE SET value = CAST(value AS INTEGER) + 1`,
  ).run()
}

export function definitionsVersion(db: Db): number {
  const row = db.prepare<[], { value: string }>(`SELECT value FROM settings WHERE key = 'definitions'`).get()
  return row ? Number(row.value) : 0
}
