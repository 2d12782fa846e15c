import type { Db } from '../store/database.js'

/** What brought something in: a file, by its import, or a program, by its key. */
export interface Origin {
  kind: 'import' | 'key'
  ref: string
}

/** Runs are joined while they are no longer than this: of a key a span of time can be asked for. */
const RUN_MS = 3_600_000

/** Notes down what came from where. To be used inside a transaction, by one thread. */
export function originNotes(db: Db) {
  const add = db.prepare('INSERT INTO origins (kind, ref) VALUES (?, ?) ON CONFLICT DO NOTHING')
  const find = db.prepare<[string, string], number>('SELECT id FROM origins WHERE kind = ? AND ref = ?').pluck()
  const newest = db.prepare<[string], { first: number; last: number; origin: number; received_ms: number }>(
    'SELECT first, last, origin, received_ms FROM arrivals WHERE what = ? ORDER BY first DESC LIMIT 1',
  )
  const longer = db.prepare('UPDATE arrivals SET last = ? WHERE what = ? AND first = ?')
  const insert = db.prepare('INSERT INTO arrivals (what, first, last, origin, received_ms) VALUES (?, ?, ?, ?, ?)')
  const rows = new Map<string, number>()

  function rowOf({ kind, ref }: Origin): number {
    const name = `${kind} ${ref}`
    let row = rows.get(name)
    if (row === undefined) {
      add.run(kind, ref)
      row = find.get(kind, ref)!
      rows.set(name, row)
    }
    return row
  }

  return {
    /** After a transaction that failed, what is remembered may have been rolled back. */
    forget: (): void => rows.clear(),
    rowOf,

    /** The events of these arrival numbers, both ends included, came from there. */
    events(origin: Origin, first: number, last: number, receivedMs: number): void {
      const row = rowOf(origin)
      const run = newest.get('events')
      const goesOn = run?.last === first - 1 && run.origin === row && receivedMs - run.received_ms < RUN_MS
      if (goesOn) longer.run(last, 'events', run.first)
      else insert.run('events', first, last, row, receivedMs)
    },

    /** The profile values of this change came from there. */
    profiles(origin: Origin, change: number, receivedMs: number): void {
      insert.run('profiles', change, change, rowOf(origin), receivedMs)
    },
  }
}
