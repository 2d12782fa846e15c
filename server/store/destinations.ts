import { destinationSchema, type DestinationSetup } from '../../core/outreach/destination.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'
import { NameTakenError } from './segments.js'

export interface Destination {
  id: string
  name: string
  setup: DestinationSetup
  createdMs: number
}

/** One call to a destination, as its page tells it. */
export interface LogLine {
  atMs: number
  sync: string | null
  people: number
  tookMs: number
  why: string | null
}

interface Row {
  id: string
  name: string
  setup: string
  secret: Buffer | null
  created_ms: number
}

/** So many lines of each destination’s log are kept. */
const LOG_KEPT = 500

/** Where people are sent to. */
export function destinationStore(db: Db) {
  const columns = 'id, name, setup, secret, created_ms'
  const byId = db.prepare<[string], Row>(`SELECT ${columns} FROM destinations WHERE id = ?`)
  const all = db.prepare<[], Row>(
    `SELECT ${columns} FROM destinations WHERE deleted_ms IS NULL ORDER BY name COLLATE NOCASE, id`,
  )
  const gone = db.prepare<[], { id: string; name: string; deletedMs: number }>(
    'SELECT id, name, deleted_ms AS deletedMs FROM destinations WHERE deleted_ms IS NOT NULL ORDER BY deleted_ms DESC',
  )
  const named = db.prepare<[string], { id: string }>(
    'SELECT id FROM destinations WHERE name = ? COLLATE NOCASE AND deleted_ms IS NULL',
  )
  const insert = db.prepare('INSERT INTO destinations (id, name, setup, secret, created_ms) VALUES (?, ?, ?, ?, ?)')
  const rewrite = db.prepare('UPDATE destinations SET name = ?, setup = ? WHERE id = ?')
  const again = db.prepare('UPDATE outbox_calls SET due_ms = MIN(due_ms, ?) WHERE destination = ?')
  const setSecret = db.prepare('UPDATE destinations SET secret = ? WHERE id = ?')
  const setDeleted = db.prepare('UPDATE destinations SET deleted_ms = ? WHERE id = ?')
  const lines = db.prepare<
    [string, number],
    { at_ms: number; sync: string | null; people: number; took_ms: number; why: string | null }
  >('SELECT at_ms, sync, people, took_ms, why FROM destination_log WHERE destination = ? ORDER BY id DESC LIMIT ?')
  const line = db.prepare(
    'INSERT INTO destination_log (destination, at_ms, sync, people, took_ms, why) VALUES (?, ?, ?, ?, ?, ?)',
  )
  const forget = db.prepare(
    `DELETE FROM destination_log WHERE destination = @of AND id <=
       (SELECT id FROM destination_log WHERE destination = @of ORDER BY id DESC LIMIT 1 OFFSET ${LOG_KEPT})`,
  )

  function checkName(name: string, own: string | null): void {
    const found = named.get(name)
    if (found && found.id !== own) throw new NameTakenError(name, 'destination')
  }

  return {
    /** @throws NotFoundError */
    get(id: string): Destination {
      const row = byId.get(id)
      if (!row) throw new NotFoundError('destination', id)
      return destinationOf(row)
    },
    list: (): Destination[] => all.all().map(destinationOf),
    deleted: (): { id: string; name: string; deletedMs: number }[] => gone.all(),
    /** @throws NameTakenError */
    create(name: string, setup: DestinationSetup, secret: Buffer | null, nowMs: number, id = newId()): string {
      checkName(name, null)
      insert.run(id, name, JSON.stringify(setup), secret, nowMs)
      return id
    },
    /** @throws NameTakenError */
    save(id: string, name: string, setup: DestinationSetup): void {
      checkName(name, id)
      rewrite.run(name, JSON.stringify(setup), id)
    },
    /** Calls that wait for their next try are made now. */
    tryAgain: (id: string, nowMs: number): void => void again.run(nowMs, id),
    secretOf: (id: string): Buffer | null => byId.get(id)?.secret ?? null,
    setSecret: (id: string, secret: Buffer): void => void setSecret.run(secret, id),
    remove: (id: string, nowMs: number): void => void setDeleted.run(nowMs, id),
    /** @throws NameTakenError where another has its name by now */
    bringBack(id: string): void {
      checkName(destinationOf(byId.get(id)!).name, id)
      setDeleted.run(null, id)
    },
    log: (id: string, most: number): LogLine[] =>
      lines.all(id, most).map(({ at_ms, took_ms, ...rest }) => ({ ...rest, atMs: at_ms, tookMs: took_ms })),
    note(id: string, { atMs, sync, people, tookMs, why }: LogLine): void {
      line.run(id, atMs, sync, people, Math.round(tookMs), why)
      forget.run({ of: id })
    },
  }
}

function destinationOf({ id, name, setup, created_ms }: Row): Destination {
  return { id, name, setup: destinationSchema.parse(JSON.parse(setup)), createdMs: created_ms }
}
