import { parseRule } from '../../core/segments/ruleSchema.js'
import type { SavedSegment } from '../../core/segments/resolve.js'
import type { RuleGroup } from '../../core/segments/rule.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

export interface Segment {
  id: string
  name: string
  description: string
  tags: string[]
  /** of a frozen list: the rule it was read from, if it was */
  rule: RuleGroup | null
  /** null = live */
  frozenMs: number | null
  /** how a list came to be, in words */
  origin: string
  savedMs: number
  deletedMs: number | null
}

export interface SegmentInput {
  name: string
  description: string
  tags: string[]
}

interface SegmentRow {
  id: string
  name: string
  description: string
  tags: string
  rule: string | null
  frozen_ms: number | null
  origin: string
  saved_ms: number
  deleted_ms: number | null
}

/** Another of its kind has the name. */
export class NameTakenError extends Error {
  constructor(name: string, what = 'segment') {
    super(`There is already a ${what} called “${name}”. Choose another name.`)
    this.name = 'NameTakenError'
  }
}

export function segmentStore(db: Db) {
  const columns = 'id, name, description, tags, rule, frozen_ms, origin, saved_ms, deleted_ms'
  const byId = db.prepare<[string], SegmentRow>(`SELECT ${columns} FROM segments WHERE id = ?`)
  const all = db.prepare<[], SegmentRow>(`SELECT ${columns} FROM segments ORDER BY name COLLATE NOCASE, id`)
  const named = db.prepare<[string], { id: string }>(
    'SELECT id FROM segments WHERE name = ? COLLATE NOCASE AND deleted_ms IS NULL',
  )
  const insert = db.prepare(
    `INSERT INTO segments (id, name, description, tags, rule, frozen_ms, origin, created_ms, saved_ms)
     VALUES (@id, @name, @description, @tags, @rule, @frozenMs, @origin, @nowMs, @nowMs)`,
  )
  const describe = db.prepare(
    'UPDATE segments SET name = @name, description = @description, tags = @tags WHERE id = @id',
  )
  const rewrite = db.prepare('UPDATE segments SET rule = @rule, saved_ms = @nowMs WHERE id = @id')
  const version = db.prepare(
    'INSERT OR REPLACE INTO segment_versions (segment, saved_ms, name, rule) VALUES (?, ?, ?, ?)',
  )
  const versions = db.prepare<[string], { saved_ms: number; name: string; rule: string }>(
    'SELECT saved_ms, name, rule FROM segment_versions WHERE segment = ? ORDER BY saved_ms DESC LIMIT 100',
  )
  const setDeleted = db.prepare('UPDATE segments SET deleted_ms = ? WHERE id = ?')
  const memberIds = db.prepare<[string], number>('SELECT id FROM segment_members WHERE segment = ?').pluck()
  const memberCount = db.prepare<[string], number>('SELECT COUNT(*) FROM segment_members WHERE segment = ?').pluck()
  const unknownCount = db.prepare<[string], number>('SELECT COUNT(*) FROM segment_unknown WHERE segment = ?').pluck()
  const unknown = db.prepare<[string, number], { line: number; value: string }>(
    'SELECT line, value FROM segment_unknown WHERE segment = ? ORDER BY line LIMIT ?',
  )

  function checkName(name: string, own: string | null): void {
    const found = named.get(name)
    if (found && found.id !== own) throw new NameTakenError(name)
  }

  function get(id: string): Segment {
    const row = byId.get(id)
    if (!row) throw new NotFoundError('segment', id)
    return segmentOf(row)
  }

  return {
    get,
    /** All that have not been deleted, by name. */
    list: (): Segment[] =>
      all
        .all()
        .map(segmentOf)
        .filter(({ deletedMs }) => deletedMs === null),
    deleted: (): Segment[] =>
      all
        .all()
        .map(segmentOf)
        .filter(({ deletedMs }) => deletedMs !== null),
    /** What every segment is or was called, by id. */
    names: (): Record<string, string> => Object.fromEntries(all.all().map(({ id, name }) => [id, name])),
    /** What definitions that name a segment read; undefined for one that is not there, or was deleted. */
    saved(id: string): SavedSegment | undefined {
      const row = byId.get(id)
      if (!row || row.deleted_ms !== null) return undefined
      const { name, rule, frozenMs } = segmentOf(row)
      return frozenMs === null ? { id, name, rule: rule! } : { id, name, frozenMs }
    },
    /** @throws NameTakenError */
    create(segment: SegmentInput & { id?: string; rule: RuleGroup }, nowMs: number): string {
      checkName(segment.name, null)
      const id = segment.id ?? newId()
      const rule = JSON.stringify(segment.rule)
      db.transaction(() => {
        insert.run({ ...rowOf(segment), id, rule, frozenMs: null, origin: '', nowMs })
        version.run(id, nowMs, segment.name, rule)
      })()
      return id
    },
    /** Makes a list without members yet. @throws NameTakenError */
    createFrozen(
      segment: SegmentInput & { id?: string; rule: RuleGroup | null; origin: string },
      frozenMs: number,
      nowMs: number,
    ): string {
      checkName(segment.name, null)
      const id = segment.id ?? newId()
      const rule = segment.rule && JSON.stringify(segment.rule)
      insert.run({ ...rowOf(segment), id, rule, frozenMs, origin: segment.origin, nowMs })
      return id
    },
    /** Saves name and description, and the rule of a live one. @throws NameTakenError, NotFoundError */
    save(id: string, segment: SegmentInput & { rule: RuleGroup | null }, nowMs: number): void {
      checkName(segment.name, id)
      const had = get(id)
      db.transaction(() => {
        describe.run({ ...rowOf(segment), id })
        if (had.frozenMs !== null || !segment.rule) return
        const rule = JSON.stringify(segment.rule)
        rewrite.run({ id, rule, nowMs })
        version.run(id, nowMs, segment.name, rule)
      })()
    },
    /** The saved states of a live one, newest first. */
    history(id: string): { savedMs: number; name: string; rule: RuleGroup }[] {
      return versions.all(id).map((row) => ({
        savedMs: row.saved_ms,
        name: row.name,
        rule: parseRule(JSON.parse(row.rule)).rule,
      }))
    },
    remove(id: string, nowMs: number): void {
      if (setDeleted.run(nowMs, id).changes === 0) throw new NotFoundError('segment', id)
    },
    /** @throws NameTakenError where another has its name by now */
    bringBack(id: string): void {
      checkName(get(id).name, id)
      setDeleted.run(null, id)
    },
    /** Row numbers of the ids that stand for a list's members. */
    memberIds: (id: string): number[] => memberIds.all(id),
    memberCount: (id: string): number => memberCount.get(id) ?? 0,
    unknownCount: (id: string): number => unknownCount.get(id) ?? 0,
    unknown: (id: string, limit: number) => unknown.all(id, limit),
  }
}

function rowOf({ name, description, tags }: SegmentInput) {
  return { name, description, tags: JSON.stringify(tags) }
}

function segmentOf(row: SegmentRow): Segment {
  return {
    ...{ id: row.id, name: row.name, description: row.description, tags: JSON.parse(row.tags) as string[] },
    rule: row.rule === null ? null : parseRule(JSON.parse(row.rule)).rule,
    ...{ frozenMs: row.frozen_ms, origin: row.origin, savedMs: row.saved_ms, deletedMs: row.deleted_ms },
  }
}
