import { newId } from '../ids.js'
import type { Db } from './database.js'

/** A remark on one event, to be linked to. */
export interface MomentNote {
  id: string
  /** id of the event, as it was sent */
  eventId: string
  text: string
  createdMs: number
}

export function momentNoteStore(db: Db) {
  const columns = 'id, event_id AS eventId, text, created_ms AS createdMs'
  const of = db.prepare<[string], MomentNote>(
    `SELECT ${columns} FROM moment_notes WHERE event_id = ? ORDER BY created_ms`,
  )
  const insert = db.prepare('INSERT INTO moment_notes (id, event_id, text, created_ms) VALUES (?, ?, ?, ?)')
  const drop = db.prepare('DELETE FROM moment_notes WHERE id = ?')
  return {
    /** The notes on these events, each event's oldest first. */
    on: (eventIds: readonly string[]): MomentNote[] => eventIds.flatMap((id) => of.all(id)),
    /** @returns the new note's id */
    add(eventId: string, text: string, nowMs: number): string {
      const id = newId()
      insert.run(id, eventId, text, nowMs)
      return id
    },
    remove(id: string): void {
      drop.run(id)
    },
  }
}
