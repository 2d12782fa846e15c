import { createHash } from 'node:crypto'
import type { Db } from './database.js'

/** What long addresses ask for, under short ids. */
export function keptAddressStore(db: Db) {
  const find = db.prepare<[string], { text: string }>('SELECT text FROM kept_addresses WHERE id = ?')
  const insert = db.prepare('INSERT INTO kept_addresses (id, text, kept_ms) VALUES (?, ?, ?) ON CONFLICT DO NOTHING')
  return {
    /** @param text the part of an address after `?`; @returns its id, the same for the same text */
    keep(text: string, nowMs: number): string {
      const id = createHash('sha256').update(text).digest('base64url').slice(0, 22)
      insert.run(id, text, nowMs)
      return id
    },
    /** null where nothing is kept under it */
    get: (id: string): string | null => find.get(id)?.text ?? null,
  }
}
