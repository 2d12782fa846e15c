import type { Change, Delivery, Outcome } from '../../core/outreach/destination.js'
import { MOST_TRIES, waitMs } from '../../core/outreach/sync.js'
import type { Db } from '../store/database.js'
import { destinationStore } from '../store/destinations.js'
import { peopleReader } from './decide.js'

/** A call to a destination that fails as a whole so often is given up: the next run decides anew. */
export const MOST_CALLS = 8

/** A call that is to be made. */
export interface Call {
  id: number
  key: string
  destination: string
  sync: string
  run: number
  tries: number
  deliveries: Delivery[]
  /** by key: of whom it tells */
  ids: Map<string, number>
}

interface CallRow {
  id: number
  key: string
  sync: string
  run: number
  tries: number
}

interface OutboxRow {
  key: string
  id: number
  person: string
  change: Change
  properties: string
  tries: number
}

/** The outbox: what is decided is read from it, and what a destination says is written down, each in one transaction. */
/** @param clock what the workspace's clock says: looks are told of by it, tries go by the machine's */
export function outbox(db: Db, optOut: () => string, clock: () => number = Date.now) {
  const { note } = destinationStore(db)
  const due = db.prepare<[string, number], CallRow>(
    `SELECT c.id, c.key, c.sync, c.run, c.tries FROM outbox_calls c JOIN syncs s ON s.id = c.sync
     WHERE c.destination = ? AND c.due_ms <= ? AND s.state = 'running' AND s.deleted_ms IS NULL ORDER BY c.due_ms, c.id LIMIT 20`,
  )
  const places = db.prepare<[], string>('SELECT DISTINCT destination FROM outbox_calls').pluck()
  const nextDue = db
    .prepare<[], number | null>(
      `SELECT MIN(c.due_ms) FROM outbox_calls c JOIN syncs s ON s.id = c.sync
       WHERE s.state = 'running' AND s.deleted_ms IS NULL`,
    )
    .pluck()
  const rows = db.prepare<[number], OutboxRow>(
    'SELECT key, id, person, change, properties, tries FROM outbox WHERE call = ? ORDER BY key',
  )
  const dropRow = db.prepare('DELETE FROM outbox WHERE call = ? AND key = ?')
  const dropCall = db.prepare('DELETE FROM outbox_calls WHERE id = ?')
  const later = db.prepare('UPDATE outbox_calls SET tries = tries + 1, due_ms = ?, why = ? WHERE id = ?')
  const put = db.prepare(
    `INSERT OR REPLACE INTO sync_members (sync, id, state, properties, tries, why) VALUES (?, ?, ?, ?, ?, ?)`,
  )
  const take = db.prepare('DELETE FROM sync_members WHERE sync = ? AND id = ?')
  const count = db.prepare(
    `UPDATE sync_runs SET added = added + @add, updated = updated + @update, removed = removed + @remove,
       failed = failed + @failed, dropped = dropped + @dropped, retried = retried + @retried, why = COALESCE(@why, why)
     WHERE id = @run`,
  )
  const finish = db.prepare(
    `UPDATE sync_runs SET state = CASE WHEN failed > 0 THEN 'failed' ELSE 'done' END, ended_ms = @nowMs
     WHERE id = @run AND state = 'sending' AND NOT EXISTS (SELECT 1 FROM outbox_calls WHERE run = @run)`,
  )
  const again = db.prepare(
    'INSERT INTO outbox_calls (key, destination, sync, run, tries, due_ms, why) VALUES (?, ?, ?, ?, 0, ?, ?)',
  )
  const move = db.prepare('UPDATE outbox SET call = ?, tries = tries + 1 WHERE call = ? AND key = ?')
  const ending = db.prepare(
    `UPDATE syncs SET state = 'ended', due_ms = NULL WHERE id = ? AND state = 'running' AND due_ms IS NULL
       AND NOT EXISTS (SELECT 1 FROM sync_runs WHERE sync = syncs.id AND state = 'sending')`,
  )
  const none = { add: 0, update: 0, remove: 0, failed: 0, dropped: 0, retried: 0, why: null as string | null }

  /** What is no longer so, or must not be sent any more, is taken out before the call is made. */
  function stillSo(row: OutboxRow, read: ReturnType<typeof peopleReader>): boolean {
    const person = read.ownerOf(row.id)
    if (row.change === 'remove') return true
    if (person === undefined) return false
    return read.shown(person)?.id === row.id && !read.isOptedOut(person)
  }

  return {
    /** Destinations that something waits for. */
    places: (): string[] => places.all(),
    /** When the next call is to be made; null = nothing waits. */
    nextDueMs: (): number | null => nextDue.get() ?? null,
    /** The calls of a destination that are due, without those under way. */
    due: (destination: string, nowMs: number, underWay: ReadonlySet<number>): CallRow[] =>
      due.all(destination, nowMs).filter(({ id }) => !underWay.has(id)),

    /** What a call tells of, read at the moment it is made. @returns null where nothing of it is left to say */
    open(destination: string, row: CallRow): Call | null {
      const read = peopleReader(db, optOut())
      const all = rows.all(row.id)
      const stale = all.filter((each) => !stillSo(each, read))
      const left = all.filter((each) => !stale.includes(each))
      if (stale.length > 0)
        db.transaction(() => {
          for (const { key } of stale) dropRow.run(row.id, key)
          count.run({ ...none, dropped: stale.length, run: row.run })
          if (left.length > 0) return
          dropCall.run(row.id)
          finish.run({ run: row.run, nowMs: clock() })
          ending.run(row.sync)
        }).immediate()
      if (left.length === 0) return null
      return {
        ...{ ...row, destination },
        ids: new Map(left.map(({ key, id }) => [key, id])),
        deliveries: left.map(({ key, person, change, properties }) => ({
          ...{ key, person, change, properties: JSON.parse(properties) as Record<string, unknown> },
        })),
      }
    },

    /** The destination has answered. */
    answered(call: Call, outcomes: readonly Outcome[], nowMs: number, tookMs: number): void {
      const tries = new Map(rows.all(call.id).map((row) => [row.key, row]))
      const refused: { key: string; reason: string }[] = []
      db.transaction(() => {
        const sums = { ...none, run: call.run }
        for (const outcome of outcomes) {
          const row = tries.get(outcome.key)
          if (!row) continue
          if (outcome.taken) {
            if (row.change === 'remove') take.run(call.sync, row.id)
            else put.run(call.sync, row.id, 'in', row.properties, 0, null)
            sums[row.change]++
            dropRow.run(call.id, row.key)
          } else if (row.tries + 1 >= MOST_TRIES) {
            put.run(call.sync, row.id, 'parked', row.properties, row.tries + 1, outcome.reason)
            sums.failed++
            sums.why = outcome.reason
            dropRow.run(call.id, row.key)
          } else refused.push(outcome)
        }
        if (refused.length > 0) {
          const least = Math.min(...refused.map(({ key }) => tries.get(key)!.tries + 1))
          const { reason } = refused[0]!
          const next = again.run(
            ...[`${call.key}~${least}`, call.destination, call.sync, call.run, nowMs + waitMs(least), reason],
          )
          for (const { key } of refused) move.run(next.lastInsertRowid, call.id, key)
          sums.retried++
        }
        dropCall.run(call.id)
        count.run(sums)
        finish.run({ run: call.run, nowMs: clock() })
        ending.run(call.sync)
        const why = refused.length > 0 ? `${refused.length} not taken: ${refused[0]!.reason}` : null
        note(call.destination, { atMs: nowMs, sync: call.sync, people: call.deliveries.length, tookMs, why })
      }).immediate()
    },

    /** The call failed as a whole: nobody knows whether it was taken, so it is made again, under the same keys. */
    failed(call: Call, why: string, nowMs: number, tookMs: number): void {
      db.transaction(() => {
        note(call.destination, { atMs: nowMs, sync: call.sync, people: call.deliveries.length, tookMs, why })
        if (call.tries + 1 < MOST_CALLS) {
          later.run(nowMs + waitMs(call.tries + 1), why, call.id)
          count.run({ ...none, retried: 1, why, run: call.run })
          return
        }
        // Nobody knows what has arrived: the next run tells of it again, or takes it out.
        for (const { id, change } of rows.all(call.id))
          if (change !== 'remove') put.run(call.sync, id, 'in', '', 0, why)
        dropCall.run(call.id)
        count.run({ ...none, failed: call.deliveries.length, why, run: call.run })
        finish.run({ run: call.run, nowMs: clock() })
        ending.run(call.sync)
      }).immediate()
    },
  }
}
