import { admission, DAY_MS, variantOf, type Admission } from '../../../core/outreach/entering.js'
import { nextWithin } from '../../../core/outreach/hours.js'
import { isZone } from '../../../core/time/range.js'
import { LEFT_ALONE, type Message } from '../../../core/outreach/message.js'
import type { DidBetween } from '../../../core/log/didBetween.js'
import type { Db } from '../../store/database.js'
import { peopleReader, type Known } from '../decide.js'
import { ownEvents } from './ownEvents.js'

const HOUR_MS = 3_600_000

/** A look at who comes in. Times are of the workspace's clock. */
export interface EntryLook {
  id: string
  definition: Message
  /** numbers of those for whom the trigger holds */
  people: Uint32Array
  /** where an event brings people in: when each of them did it last, in the same order */
  lastDid: Float64Array | null
  notAmong: Uint32Array
  /** of the variants, adding up to 1 */
  shares: readonly number[]
  /** when it looks next; null = not again */
  dueMs: number | null
  zone: string
  channel: string
}

export type Entered = Readonly<Record<Admission, number>>

/** When a person came in last, and how often. */
interface Before {
  lastMs: number
  entries: number
}

/**
 * Decides who comes into a message, and writes that down with what is to be sent and what is to be known of it, in one
 * transaction.
 */
export function enter(db: Db, look: EntryLook, optOut: string, nowMs: number): Entered {
  const { id, definition, shares, zone, channel } = look
  const { cap, again, holdOut, variants, wait, hours } = definition
  const read = peopleReader(db, optOut)
  const own = ownEvents(db)
  const left = new Set(look.notAmong)
  const before = new Map(
    db
      .prepare<[string], { person: number } & Before>(
        `SELECT i.person, MAX(e.at_ms) AS lastMs, MAX(e.entry) AS entries FROM message_entries e
         JOIN person_ids i ON i.id = e.id WHERE e.message = ? GROUP BY i.person`,
      )
      .all(id)
      .map((row) => [row.person, row]),
  )
  const kept = new Map(
    db
      .prepare<[string], { person: number; atMs: number; why: string }>(
        `SELECT i.person, MAX(k.at_ms) AS atMs, k.why FROM message_kept_out k JOIN person_ids i ON i.id = k.id
         WHERE k.message = ? GROUP BY i.person`,
      )
      .all(id)
      .map((row) => [row.person, row]),
  )
  const sent = cap ? sentSince(db, nowMs - cap.days * DAY_MS) : new Map<number, number[]>()
  const counts: Record<Admission, number> = { enters: 0, 'opted out': 0, 'not among': 0, capped: 0, 'was in': 0 }
  const entering: { person: number; known: Known; entry: number; variant: number | null; dueMs: number }[] = []
  const keptOut: { known: Known; why: Admission }[] = []

  // Others wait while this thread writes, so all is read before.
  look.people.forEach((person, i) => {
    const was = before.get(person)
    const held = kept.get(person)
    // It takes a new time of doing it: the one that was looked at already brings nobody in.
    if (look.lastDid && look.lastDid[i]! <= Math.max(was?.lastMs ?? -Infinity, held?.atMs ?? -Infinity)) return
    if (was && again === undefined) {
      counts['was in']++
      return
    }
    const known = read.shown(person)
    if (!known) return
    const door = {
      optedOut: read.isOptedOut(person),
      notAmong: left.has(person),
      lastMs: was?.lastMs ?? null,
      sentMs: sent.get(person) ?? [],
    }
    const how = admission(door, { again, cap }, nowMs)
    counts[how]++
    if (how === 'enters') {
      const variant = variantOf(id, known.value, holdOut, shares)
      const dueMs = nextWithin(nowMs + wait * HOUR_MS, hours, zoneOf(person, hours, read, zone))
      entering.push({ person, known, entry: (was?.entries ?? 0) + 1, variant, dueMs })
    } else if (how !== 'was in' && (look.lastDid || held?.why !== how)) keptOut.push({ known, why: how })
  })

  const putEntry = db.prepare(
    `INSERT INTO message_entries (message, id, entry, at_ms, variant, state, due_ms) VALUES (?, ?, ?, ?, ?, ?, ?)`,
  )
  const putKept = db.prepare('INSERT OR REPLACE INTO message_kept_out (message, id, at_ms, why) VALUES (?, ?, ?, ?)')
  const dropKept = db.prepare('DELETE FROM message_kept_out WHERE message = ? AND id = ?')
  db.transaction(() => {
    for (const { known, why } of keptOut) putKept.run(id, known.id, nowMs, why)
    for (const { person, known, entry, variant, dueMs } of entering) {
      if (kept.has(person)) dropKept.run(id, known.id)
      putEntry.run(id, known.id, entry, nowMs, variant, variant === null ? 'alone' : 'waiting', dueMs)
      own.note('entered', {
        ...{ key: `entered.${id}.${known.id}.${entry}`, person: known, atMs: nowMs, entry, channel },
        ...{ message: definition.name, variant: variant === null ? LEFT_ALONE : variants[variant]!.name },
      })
    }
    db.prepare('UPDATE messages SET due_ms = ? WHERE id = ?').run(look.dueMs, id)
  }).immediate()
  return counts
}

/** The clock that the hours of the day are read on: the person's own where they have one, else the workspace's. */
export function zoneOf(
  person: number,
  hours: Message['hours'],
  read: ReturnType<typeof peopleReader>,
  workspace: string,
): string {
  const own = hours?.zone ? read.text(person, hours.zone) : null
  return own !== null && isZone(own) ? own : workspace
}

/** When people were sent messages of any kind, after a moment. */
function sentSince(db: Db, afterMs: number): Map<number, number[]> {
  const found = new Map<number, number[]>()
  const rows = db.prepare<[number], { person: number; sent_ms: number }>(
    `SELECT i.person, e.sent_ms FROM message_entries e JOIN person_ids i ON i.id = e.id WHERE e.sent_ms > ?`,
  )
  for (const { person, sent_ms } of rows.iterate(afterMs)) {
    const list = found.get(person)
    if (list) list.push(sent_ms)
    else found.set(person, [sent_ms])
  }
  return found
}

/** Those whose time has come are to be sent, but for whoever did first what makes it needless. @returns how many */
export function release(
  db: Db,
  { id, did, what }: { id: string; did: DidBetween | null; what: string },
  nowMs: number,
): number {
  const lastOf = new Map(did ? [...did.people].map((person, i) => [person, did.last[i]!]) : [])
  const due = db.prepare<[string, number], { seq: number; at_ms: number; person: number | null }>(
    `SELECT e.seq, e.at_ms, i.person FROM message_entries e LEFT JOIN person_ids i ON i.id = e.id
     WHERE e.message = ? AND e.state = 'waiting' AND e.due_ms <= ?`,
  )
  const ready = db.prepare(`UPDATE message_entries SET state = 'ready' WHERE seq = ?`)
  const drop = db.prepare(`UPDATE message_entries SET state = 'dropped', why = ? WHERE seq = ?`)
  return db
    .transaction(() => {
      let released = 0
      for (const { seq, at_ms, person } of due.all(id, nowMs)) {
        if (person !== null && (lastOf.get(person) ?? -Infinity) > at_ms) drop.run(`did ${what} first`, seq)
        else {
          ready.run(seq)
          released++
        }
      }
      return released
    })
    .immediate()
}
