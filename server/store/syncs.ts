import { syncSchema, type Sync } from '../../core/outreach/sync.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

export type SyncState = 'draft' | 'running' | 'paused' | 'asking' | 'ended'

export interface SavedSync {
  id: string
  definition: Sync
  state: SyncState
  /** why it stands still, in words */
  why: string | null
  startedMs: number | null
  dueMs: number | null
  /** when the rule was saved that the last run went by */
  ruleMs: number | null
}

export interface SyncRun {
  id: number
  startedMs: number
  endedMs: number | null
  state: 'sending' | 'done' | 'failed'
  toAdd: number
  toUpdate: number
  toRemove: number
  same: number
  keptOut: number
  added: number
  updated: number
  removed: number
  failed: number
  dropped: number
  retried: number
  why: string | null
}

interface Row {
  id: string
  definition: string
  state: SyncState
  why: string | null
  started_ms: number | null
  due_ms: number | null
  rule_ms: number | null
}

/** Segments that are kept in step with destinations, and how that went. */
export function syncStore(db: Db) {
  const columns = 'id, definition, state, why, started_ms, due_ms, rule_ms'
  const byId = db.prepare<[string], Row>(`SELECT ${columns} FROM syncs WHERE id = ? AND deleted_ms IS NULL`)
  const all = db.prepare<[], Row>(`SELECT ${columns} FROM syncs WHERE deleted_ms IS NULL ORDER BY created_ms DESC, id`)
  const gone = db.prepare<[], { id: string; definition: string; deletedMs: number }>(
    'SELECT id, definition, deleted_ms AS deletedMs FROM syncs WHERE deleted_ms IS NOT NULL ORDER BY deleted_ms DESC',
  )
  const due = db.prepare<[number], Row>(
    `SELECT ${columns} FROM syncs WHERE state = 'running' AND deleted_ms IS NULL AND due_ms <= ?
       AND NOT EXISTS (SELECT 1 FROM sync_runs r WHERE r.sync = syncs.id AND r.state = 'sending')
     ORDER BY due_ms, id`,
  )
  const insert = db.prepare(
    `INSERT INTO syncs (id, definition, segment, destination, state, created_ms, saved_ms)
     VALUES (@id, @definition, @segment, @destination, 'draft', @nowMs, @nowMs)`,
  )
  const rewrite = db.prepare(
    'UPDATE syncs SET definition = @definition, segment = @segment, destination = @destination, saved_ms = @nowMs WHERE id = @id',
  )
  const setState = db.prepare('UPDATE syncs SET state = @state, why = @why WHERE id = @id')
  const setDue = db.prepare('UPDATE syncs SET due_ms = ? WHERE id = ?')
  const begin = db.prepare(`UPDATE syncs SET state = 'running', why = NULL, started_ms = ?, due_ms = ? WHERE id = ?`)
  const setRule = db.prepare('UPDATE syncs SET rule_ms = ? WHERE id = ?')
  const setDeleted = db.prepare('UPDATE syncs SET deleted_ms = ? WHERE id = ?')
  const runs = db.prepare<[string, number], RunRow>('SELECT * FROM sync_runs WHERE sync = ? ORDER BY id DESC LIMIT ?')
  const members = db.prepare<[string], { state: string; people: number }>(
    'SELECT state, COUNT(*) AS people FROM sync_members WHERE sync = ? GROUP BY state',
  )
  const parked = db.prepare<[string, number], { value: string; space: 'known' | 'anonymous'; why: string | null }>(
    `SELECT i.value, i.space, m.why FROM sync_members m JOIN person_ids i ON i.id = m.id
     WHERE m.sync = ? AND m.state = 'parked' ORDER BY m.id LIMIT ?`,
  )
  const unpark = db.prepare(`DELETE FROM sync_members WHERE sync = ? AND state = 'parked'`)
  const forgetAll = db.prepare('DELETE FROM sync_members WHERE sync = ?')
  const keepAll = db.prepare(`UPDATE sync_members SET state = 'kept' WHERE sync = ? AND state = 'in'`)
  const waiting = db.prepare<[string], { people: number; nextMs: number | null; why: string | null }>(
    `SELECT COUNT(o.key) AS people, MIN(c.due_ms) AS nextMs, MAX(c.why) AS why
     FROM outbox_calls c JOIN outbox o ON o.call = c.id WHERE c.sync = ?`,
  )

  /** @throws NotFoundError */
  function get(id: string): SavedSync {
    const row = byId.get(id)
    if (!row)
      throw new NotFoundError('sync', id, 'This is not kept in step any more, or the address is not quite right.')
    return syncOf(row)
  }

  return {
    get,
    list: (): SavedSync[] => all.all().map(syncOf),
    deleted: (): { id: string; name: string; deletedMs: number }[] =>
      gone
        .all()
        .map(({ id, definition, deletedMs }) => ({ id, name: (JSON.parse(definition) as Sync).name, deletedMs })),
    /** Those that are to look at their people now; none whose last run is still on its way. */
    due: (nowMs: number): SavedSync[] => due.all(nowMs).map(syncOf),
    create(definition: Sync, nowMs: number, id = newId()): string {
      insert.run({ id, definition: JSON.stringify(definition), ...placesOf(definition), nowMs })
      return id
    },
    /** Saves what it is. Where it goes elsewhere from now on, what was acknowledged before says nothing any more. */
    save(id: string, definition: Sync, nowMs: number): void {
      db.transaction(() => {
        const before = get(id).definition
        rewrite.run({ id, definition: JSON.stringify(definition), ...placesOf(definition), nowMs })
        if (before.destination !== definition.destination) forgetAll.run(id)
        if (before.segment !== definition.segment) setRule.run(null, id)
      }).immediate()
    },
    setState: (id: string, state: SyncState, why: string | null = null): void => void setState.run({ id, state, why }),
    begin: (id: string, nowMs: number, dueMs: number): void => void begin.run(nowMs, dueMs, id),
    setDue: (id: string, dueMs: number | null): void => void setDue.run(dueMs, id),
    setRule: (id: string, ruleMs: number | null): void => void setRule.run(ruleMs, id),
    /** Those who are there stay there, whatever the segment's rule says now. */
    keepAll: (id: string): void => void keepAll.run(id),
    /** What the destination has is not known any more: the next run sends everybody anew. */
    forgetAll: (id: string): void => void forgetAll.run(id),
    unpark: (id: string): void => void unpark.run(id),
    remove: (id: string, nowMs: number): void => void setDeleted.run(nowMs, id),
    bringBack: (id: string): void => void setDeleted.run(null, id),
    runs: (id: string, most: number): SyncRun[] => runs.all(id, most).map(runOf),
    /** People by what is known of them at the destination. */
    members(id: string): { in: number; kept: number; parked: number } {
      const found = new Map(members.all(id).map(({ state, people }) => [state, people]))
      return { in: found.get('in') ?? 0, kept: found.get('kept') ?? 0, parked: found.get('parked') ?? 0 }
    },
    parked: (id: string, most: number) => parked.all(id, most),
    /** Who is decided about and not acknowledged, and when the next call is made. */
    waiting: (id: string) => waiting.get(id)!,
  }
}

const placesOf = ({ segment, destination }: Sync) => ({ segment, destination })

function syncOf({ id, definition, state, why, started_ms, due_ms, rule_ms }: Row): SavedSync {
  return {
    ...{ id, definition: syncSchema.parse(JSON.parse(definition)), state, why },
    ...{ startedMs: started_ms, dueMs: due_ms, ruleMs: rule_ms },
  }
}

interface RunRow {
  id: number
  started_ms: number
  ended_ms: number | null
  state: SyncRun['state']
  to_add: number
  to_update: number
  to_remove: number
  same: number
  kept_out: number
  added: number
  updated: number
  removed: number
  failed: number
  dropped: number
  retried: number
  why: string | null
}

function runOf(row: RunRow): SyncRun {
  const { started_ms, ended_ms, to_add, to_update, to_remove, kept_out, ...rest } = row
  return {
    ...{ ...rest, startedMs: started_ms, endedMs: ended_ms },
    ...{ toAdd: to_add, toUpdate: to_update, toRemove: to_remove, keptOut: kept_out },
  }
}
