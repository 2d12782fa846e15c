import { hashOf, newId, newToken } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

export interface SharedLink {
  token: string
  kind: 'study' | 'dashboard'
  target: string
  createdMs: number
  endsMs: number | null
}

interface LinkRow {
  token: string
  kind: 'study' | 'dashboard'
  target: string
  created_ms: number
  ends_ms: number | null
}

/** Links that show a study or dashboard, read-only, to whoever has them. */
export function linkStore(db: Db) {
  const columns = 'token, kind, target, created_ms, ends_ms'
  const live = db.prepare<[string, number], LinkRow>(
    `SELECT ${columns} FROM shared_links WHERE token = ? AND revoked_ms IS NULL AND (ends_ms IS NULL OR ends_ms > ?)`,
  )
  const ofTarget = db.prepare<[string, string], LinkRow>(
    `SELECT ${columns} FROM shared_links WHERE kind = ? AND target = ? AND revoked_ms IS NULL ORDER BY created_ms DESC`,
  )
  const insert = db.prepare(
    'INSERT INTO shared_links (token, kind, target, created_ms, ends_ms) VALUES (?, ?, ?, ?, ?)',
  )
  const revoke = db.prepare('UPDATE shared_links SET revoked_ms = ? WHERE token = ? AND revoked_ms IS NULL')
  return {
    /** @throws NotFoundError for an unknown, revoked or ended link: all three look the same from outside */
    open(token: string, nowMs: number): SharedLink {
      const row = live.get(token, nowMs)
      if (!row)
        throw new NotFoundError(
          'shared link',
          token,
          'This link shows nothing any more: it was ended, or is not quite right.',
        )
      return linkOf(row)
    },
    list(kind: 'study' | 'dashboard', target: string): SharedLink[] {
      return ofTarget.all(kind, target).map(linkOf)
    },
    create(kind: 'study' | 'dashboard', target: string, endsMs: number | null, nowMs: number): string {
      const token = newToken()
      insert.run(token, kind, target, nowMs, endsMs)
      return token
    },
    revoke(token: string, nowMs: number): void {
      revoke.run(nowMs, token)
    },
  }
}

function linkOf(row: LinkRow): SharedLink {
  return { token: row.token, kind: row.kind, target: row.target, createdMs: row.created_ms, endsMs: row.ends_ms }
}

export type Scope = 'write' | 'read' | 'mend'

export interface ApiKey {
  id: string
  name: string
  scope: Scope
  hint: string
  createdMs: number
  usedMs: number | null
}

/** Keys for programs. Only their hashes are kept. */
export function keyStore(db: Db) {
  const byHash = db.prepare<[string], { id: string; scope: Scope; used_ms: number | null }>(
    'SELECT id, scope, used_ms FROM api_keys WHERE hash = ? AND revoked_ms IS NULL',
  )
  const all = db.prepare<
    [],
    { id: string; name: string; scope: Scope; hint: string; created_ms: number; used_ms: number | null }
  >(
    'SELECT id, name, scope, hint, created_ms, used_ms FROM api_keys WHERE revoked_ms IS NULL ORDER BY created_ms DESC, id',
  )
  const insert = db.prepare('INSERT INTO api_keys (id, name, scope, hash, hint, created_ms) VALUES (?, ?, ?, ?, ?, ?)')
  const named = db.prepare<[string], string>('SELECT name FROM api_keys WHERE id = ?').pluck()
  const used = db.prepare('UPDATE api_keys SET used_ms = ? WHERE id = ?')
  const revoke = db.prepare('UPDATE api_keys SET revoked_ms = ? WHERE id = ? AND revoked_ms IS NULL')
  return {
    /** What a key may do; null for one that is wrong or revoked. */
    check(key: string): { id: string; scope: Scope; usedMs: number | null } | null {
      const row = byHash.get(hashOf(key))
      return row ? { id: row.id, scope: row.scope, usedMs: row.used_ms } : null
    },
    /** A key's name, also that of a revoked one; null where there never was such a key. */
    nameOf: (id: string): string | null => named.get(id) ?? null,
    noteUse: (id: string, nowMs: number): void => void used.run(nowMs, id),
    list(): ApiKey[] {
      return all.all().map(({ created_ms, used_ms, ...rest }) => ({ ...rest, createdMs: created_ms, usedMs: used_ms }))
    },
    /** @returns the key itself: the only time it is ever seen */
    create(name: string, scope: Scope, nowMs: number): string {
      const key = `dw_${scope}_${newToken()}`
      insert.run(newId(), name, scope, hashOf(key), `${key.slice(0, scope.length + 8)}…`, nowMs)
      return key
    },
    revoke(id: string, nowMs: number): void {
      revoke.run(nowMs, id)
    },
  }
}
