import type { Change } from '../../core/outreach/destination.js'
import type { Sync } from '../../core/outreach/sync.js'
import { joinWords } from '../../core/words/format.js'
import type { Db } from '../store/database.js'

/** So many people a call tells of at most. */
export const CALL_PEOPLE = 500

/** Who somebody is to a destination. */
export interface Known {
  id: number
  value: string
  space: 'known' | 'anonymous'
}

/** Reads what of people goes along, and who wants none of it. */
export function peopleReader(db: Db, optOut: string) {
  const shown = db.prepare<[number], Known>(
    'SELECT id, value, space FROM person_ids WHERE person = ? ORDER BY space DESC, id LIMIT 1',
  )
  const value = db
    .prepare<[number, string], string>(
      `SELECT v.value FROM profile_values v JOIN properties p ON p.id = v.property
       WHERE v.person = ? AND p.scope = 'person' AND p.name = ?`,
    )
    .pluck()
  const owner = db.prepare<[number], number>('SELECT person FROM person_ids WHERE id = ?').pluck()
  return {
    shown: (person: number): Known | undefined => shown.get(person),
    /** The person an id belongs to now; undefined where the id is gone. */
    ownerOf: (id: number): number | undefined => owner.get(id),
    isOptedOut(person: number): boolean {
      const text = value.get(person, optOut)
      return text !== undefined && !NOT_OUT.has(text)
    },
    /** A property's value as text; null where there is none. */
    text(person: number, name: string): string | null {
      const text = value.get(person, name)
      if (text === undefined) return null
      const read = JSON.parse(text) as unknown
      if (read === null) return null
      return Array.isArray(read) ? joinWords(read.map(String), 'and') : String(read as string | number | boolean)
    },
    /** JSON of the properties that somebody has, in the order asked for. */
    properties(person: number, names: readonly string[]): string {
      if (names.length === 0) return '{}'
      const found = names.flatMap((name) => {
        const text = value.get(person, name)
        return text === undefined ? [] : [`${JSON.stringify(name)}:${text}`]
      })
      return `{${found.join(',')}}`
    },
  }
}
const NOT_OUT: ReadonlySet<string> = new Set(['false', 'null', '0', '""', '"no"', '"false"'])

interface Member {
  id: number
  state: 'in' | 'held' | 'kept' | 'parked'
  properties: string
}

export interface Decided {
  run: number
  toAdd: number
  toUpdate: number
  toRemove: number
}

/** How a look is made. */
export interface Look {
  /** nobody has been told of yet: where only those who come in are, these are held back */
  first: boolean
  /** where nothing has changed, no run is noted */
  quiet: boolean
  /** when the next look is due, epoch ms; null = this is the only one */
  dueMs: number | null
  /** when the rule was saved that this look goes by, epoch ms */
  ruleMs: number
}

/**
 * Compares who is in a segment with what the destination last acknowledged, and writes what is to be sent: the run and
 * its outbox, and when it looks next, in one transaction: a stop at any moment leaves all of it or nothing.
 * @param people numbers of those in the segment now
 * @returns null where there is nothing to send and `quiet` is asked for
 */
export function decide(
  db: Db,
  { id, definition, first, quiet, dueMs, ruleMs }: { id: string; definition: Sync } & Look,
  people: Uint32Array,
  optOut: string,
  nowMs: number,
): Decided | null {
  const read = peopleReader(db, optOut)
  const members = new Map(
    db
      .prepare<[string], Member>('SELECT id, state, properties FROM sync_members WHERE sync = ?')
      .all(id)
      .map((member) => [member.id, member]),
  )
  const changes: { change: Change; id: number; person: string; properties: string }[] = []
  const held: number[] = []
  // Who was left there though the rule had changed, and is in it again, goes by it again.
  const back: number[] = []
  const here = new Set<number>()
  let [same, keptOut] = [0, 0]
  for (const person of people) {
    const known = read.shown(person)
    if (!known) continue
    const member = members.get(known.id)
    if (read.isOptedOut(person)) {
      keptOut++
      continue
    }
    here.add(known.id)
    if (member?.state === 'held' || member?.state === 'parked') continue
    if (first && definition.onlyNew) {
      held.push(known.id)
      continue
    }
    if (member?.state === 'kept') back.push(known.id)
    const properties = read.properties(person, definition.properties)
    if (!member) changes.push({ change: 'add', id: known.id, person: known.value, properties })
    else if (member.properties !== properties)
      changes.push({ change: 'update', id: known.id, person: known.value, properties })
    else same++
  }
  const valueOf = db.prepare<[number], string>('SELECT value FROM person_ids WHERE id = ?').pluck()
  const gone: number[] = []
  for (const member of members.values()) {
    if (here.has(member.id)) continue
    const person = valueOf.get(member.id)
    if (member.state === 'in' && person !== undefined)
      changes.push({ change: 'remove', id: member.id, person, properties: '{}' })
    // Whoever is kept though the rule has changed still goes when they want none of it.
    else if (member.state === 'kept') {
      const owner = read.ownerOf(member.id)
      if (person !== undefined && owner !== undefined && read.isOptedOut(owner))
        changes.push({ change: 'remove', id: member.id, person, properties: '{}' })
    } else gone.push(member.id)
  }
  const many = (change: Change) => changes.filter((each) => each.change === change).length
  const counts = { toAdd: many('add'), toUpdate: many('update'), toRemove: many('remove') }
  return db
    .transaction(() => {
      const put = db.prepare(`INSERT OR REPLACE INTO sync_members (sync, id, state) VALUES (?, ?, 'held')`)
      for (const each of held) put.run(id, each)
      const join = db.prepare(`UPDATE sync_members SET state = 'in' WHERE sync = ? AND id = ?`)
      for (const each of back) join.run(id, each)
      const drop = db.prepare('DELETE FROM sync_members WHERE sync = ? AND id = ?')
      for (const each of gone) drop.run(id, each)
      const ends = dueMs === null && changes.length === 0
      db.prepare(
        `UPDATE syncs SET due_ms = ?, rule_ms = ?, state = CASE ? WHEN 1 THEN 'ended' ELSE state END WHERE id = ?`,
      ).run(...[dueMs, ruleMs, ends ? 1 : 0, id])
      if (quiet && changes.length === 0) return null
      const done = changes.length === 0
      const run = Number(
        db
          .prepare(
            `INSERT INTO sync_runs (sync, started_ms, ended_ms, state, to_add, to_update, to_remove, same, kept_out)
             VALUES (@id, @nowMs, @endedMs, @state, @toAdd, @toUpdate, @toRemove, @same, @keptOut)`,
          )
          .run({ id, nowMs, endedMs: done ? nowMs : null, state: done ? 'done' : 'sending', ...counts, same, keptOut })
          .lastInsertRowid,
      )
      const call = db.prepare('INSERT INTO outbox_calls (key, destination, sync, run, due_ms) VALUES (?, ?, ?, ?, ?)')
      const row = db.prepare('INSERT INTO outbox (call, key, id, person, change, properties) VALUES (?, ?, ?, ?, ?, ?)')
      for (let from = 0; from < changes.length; from += CALL_PEOPLE) {
        const key = `${id}.${run}.${from / CALL_PEOPLE}`
        const { lastInsertRowid } = call.run(key, definition.destination, id, run, Date.now())
        for (const each of changes.slice(from, from + CALL_PEOPLE))
          row.run(lastInsertRowid, `${id}.${run}.${each.id}`, each.id, each.person, each.change, each.properties)
      }
      return { run, ...counts }
    })
    .immediate()
}
