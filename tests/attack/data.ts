import { keyStore } from '../../server/store/access.js'
import { openDatabase } from '../../server/store/database.js'
import { workspaceFile } from '../../server/store/home.js'

/** Keys of a workspace, made beside the server as its page would. */
export function makeKeys(dir: string): { write: string; read: string } {
  const db = openDatabase(workspaceFile(dir, Date.now()))
  const keys = keyStore(db)
  const made = { write: keys.create('attack', 'write', Date.now()), read: keys.create('attack', 'read', Date.now()) }
  db.close()
  return made
}

/** The ids of stored events that begin with a text. */
export function storedEvents(dir: string, begin: string): string[] {
  const db = openDatabase(workspaceFile(dir, Date.now()), { readonly: true })
  try {
    return db.prepare<[string], string>('SELECT event_id FROM events WHERE event_id GLOB ?').pluck().all(`${begin}*`)
  } finally {
    db.close()
  }
}
