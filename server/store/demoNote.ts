import type { Db } from './database.js'
import type { Furnished } from './furnishing.js'

/** How far the demo is in a workspace that is not its own. */
export interface DemoNote {
  at: 'nowhere' | 'coming' | 'here' | 'going'
  /** the moment its events say they were received, ms */
  receivedMs: number
  /** what came with its events; null until all of them have */
  put: Furnished | null
}

const NOWHERE: DemoNote = { at: 'nowhere', receivedMs: 0, put: null }

export function demoNote(db: Db) {
  const read = db.prepare<[], string>(`SELECT value FROM settings WHERE key = 'demo'`).pluck()
  const write = db.prepare(
    `INSERT INTO settings (key, value) VALUES ('demo', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`,
  )
  const drop = db.prepare(`DELETE FROM settings WHERE key = 'demo'`)
  return {
    read(): DemoNote {
      const row = read.get()
      return row === undefined ? NOWHERE : (JSON.parse(row) as DemoNote)
    },
    write: (note: DemoNote): void => void write.run(JSON.stringify(note)),
    drop: (): void => void drop.run(),
  }
}
