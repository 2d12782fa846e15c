import { messageSchema, type Message } from '../../core/outreach/message.js'
import { MESSAGE_EVENT_WORDS, MESSAGE_EVENTS, type MessageStep } from '../../core/outreach/events.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { bumpDefinitions } from './definitions.js'
import { NotFoundError } from './errors.js'
import { NameTakenError } from './segments.js'

export type MessageState = 'draft' | 'running' | 'paused' | 'ended'

export interface SavedMessage {
  id: string
  definition: Message
  state: MessageState
  /** why it stands still, in words */
  why: string | null
  startedMs: number | null
  endedMs: number | null
  dueMs: number | null
}

/** How the variants shared what the hold-out left, from a local day on. */
export interface DayShares {
  day: string
  shares: number[]
  /** by variant, what it was worked out from */
  tried: { did: number; over: number }[]
}

/** People by what became of them, entries later than a person's first included. */
export interface MessageCounts {
  entered: number
  alone: number
  waiting: number
  sent: number
  /** why some were not sent, the commonest first */
  dropped: { why: string; people: number }[]
  keptOut: { why: 'opted out' | 'not among' | 'capped'; people: number }[]
}

/** A line of a message's log. */
export interface MessageLine {
  person: string
  space: 'known' | 'anonymous'
  entry: number
  atMs: number
  /** the variant's place; null = left alone */
  variant: number | null
  state: 'alone' | 'waiting' | 'ready' | 'sent' | 'dropped'
  dueMs: number
  sentMs: number | null
  why: string | null
}

interface Row {
  id: string
  definition: string
  state: MessageState
  why: string | null
  started_ms: number | null
  ended_ms: number | null
  due_ms: number | null
}

/** Messages, and what became of whom. */
export function messageStore(db: Db) {
  const columns = 'id, definition, state, why, started_ms, ended_ms, due_ms'
  const byId = db.prepare<[string], Row>(`SELECT ${columns} FROM messages WHERE id = ? AND deleted_ms IS NULL`)
  const anyId = db.prepare<[string], Row>(`SELECT ${columns} FROM messages WHERE id = ?`)
  const all = db.prepare<[], Row>(
    `SELECT ${columns} FROM messages WHERE deleted_ms IS NULL ORDER BY created_ms DESC, id`,
  )
  const gone = db.prepare<[], { id: string; name: string; deletedMs: number }>(
    'SELECT id, name, deleted_ms AS deletedMs FROM messages WHERE deleted_ms IS NOT NULL ORDER BY deleted_ms DESC',
  )
  // The name of one that has been started stands in its events for good.
  const named = db
    .prepare<[string, string | null], string>(
      `SELECT id FROM messages WHERE name = ? COLLATE NOCASE AND id IS NOT ?
         AND (deleted_ms IS NULL OR started_ms IS NOT NULL)`,
    )
    .pluck()
  const insert = db.prepare(
    `INSERT INTO messages (id, name, definition, segment, destination, state, created_ms, saved_ms)
     VALUES (@id, @name, @definition, @segment, @destination, 'draft', @nowMs, @nowMs)`,
  )
  const rewrite = db.prepare(
    `UPDATE messages SET name = @name, definition = @definition, segment = @segment, destination = @destination,
       saved_ms = @nowMs WHERE id = @id`,
  )
  const setState = db.prepare('UPDATE messages SET state = @state, why = @why, due_ms = @dueMs WHERE id = @id')
  const setDue = db.prepare('UPDATE messages SET due_ms = ? WHERE id = ?')
  const begin = db.prepare(
    `UPDATE messages SET state = 'running', why = NULL, started_ms = COALESCE(started_ms, @nowMs), due_ms = @dueMs WHERE id = @id`,
  )
  const end = db.prepare(
    `UPDATE messages SET state = 'ended', why = NULL, ended_ms = @nowMs, due_ms = NULL WHERE id = @id`,
  )
  const drop = db.prepare(
    `UPDATE message_entries SET state = 'dropped', why = ? WHERE message = ? AND state IN ('waiting', 'ready')`,
  )
  const setDeleted = db.prepare('UPDATE messages SET deleted_ms = ? WHERE id = ?')
  const makeType = db.prepare(
    'INSERT INTO event_types (name, description, passive) VALUES (?, ?, ?) ON CONFLICT (name) DO NOTHING',
  )
  const entries = db.prepare<[string], { state: MessageLine['state']; people: number }>(
    'SELECT state, COUNT(*) AS people FROM message_entries WHERE message = ? GROUP BY state',
  )
  const dropped = db.prepare<[string], { why: string; people: number }>(
    `SELECT COALESCE(why, 'it was stopped') AS why, COUNT(*) AS people FROM message_entries
     WHERE message = ? AND state = 'dropped' GROUP BY 1 ORDER BY people DESC, why`,
  )
  const keptOut = db.prepare<[string], MessageCounts['keptOut'][number]>(
    'SELECT why, COUNT(*) AS people FROM message_kept_out WHERE message = ? GROUP BY why ORDER BY why',
  )
  const lines = db.prepare<[string, number], Omit<MessageLine, 'atMs' | 'dueMs' | 'sentMs'> & LineRow>(
    `SELECT i.value AS person, i.space, e.entry, e.at_ms, e.variant, e.state, e.due_ms, e.sent_ms, e.why
     FROM message_entries e JOIN person_ids i ON i.id = e.id WHERE e.message = ? ORDER BY e.seq DESC LIMIT ?`,
  )
  const eventsOf = db.prepare<[string, string], { id: number; atMs: number; variant: string; entry: number }>(
    `SELECT COALESCE(e.known, e.anonymous) AS id, e.time_ms AS atMs, json_extract(e.properties, '$.variant') AS variant,
       json_extract(e.properties, '$.entry') AS entry
     FROM events e JOIN event_types t ON t.id = e.type
     WHERE t.name = ? AND json_extract(e.properties, '$.message') = ? ORDER BY e.time_ms, e.seq`,
  )
  const putEntry = db.prepare(
    `INSERT OR IGNORE INTO message_entries (message, id, entry, at_ms, variant, state, due_ms, sent_ms, why)
     VALUES (@id, @person, @entry, @atMs, @place, @state, @dueMs, @sentMs, @why)`,
  )
  const shares = db.prepare<[string], { day: string; shares: string; tried: string }>(
    'SELECT day, shares, tried FROM message_shares WHERE message = ? ORDER BY day',
  )
  const putShares = db.prepare(
    'INSERT OR REPLACE INTO message_shares (message, day, shares, tried) VALUES (?, ?, ?, ?)',
  )
  const firstDue = db
    .prepare<[string, number], number | null>(
      `SELECT MIN(at_ms) FROM message_entries WHERE message = ? AND state = 'waiting' AND due_ms <= ?`,
    )
    .pluck()
  const waiting = db
    .prepare<[string], number>(
      `SELECT COUNT(*) FROM message_entries WHERE message = ? AND state IN ('waiting', 'ready')`,
    )
    .pluck()

  const first = db.prepare<[string, number], { person: number; atMs: number; variant: number }>(
    `SELECT person, at_ms AS atMs, variant FROM (
       SELECT i.person, e.at_ms, e.variant, ROW_NUMBER() OVER (PARTITION BY i.person ORDER BY e.at_ms, e.seq) AS nth
       FROM message_entries e JOIN person_ids i ON i.id = e.id WHERE e.message = ?)
     WHERE nth = 1 AND at_ms < ? AND variant IS NOT NULL`,
  )

  /** @throws NotFoundError */
  function get(id: string): SavedMessage {
    const row = byId.get(id)
    if (!row)
      throw new NotFoundError('message', id, 'This message is not there any more, or the address is not quite right.')
    return messageOf(row)
  }

  function checkName(name: string, own: string | null): void {
    if (named.get(name, own) !== undefined) throw new NameTakenError(name, 'message')
  }

  return {
    get,
    list: (): SavedMessage[] => all.all().map(messageOf),
    deleted: (): { id: string; name: string; deletedMs: number }[] => gone.all(),
    /** @throws NameTakenError */
    create(definition: Message, nowMs: number, id = newId()): string {
      checkName(definition.name, null)
      insert.run({ id, ...rowOf(definition), nowMs })
      return id
    },
    /** @throws NameTakenError */
    save(id: string, definition: Message, nowMs: number): void {
      checkName(definition.name, id)
      rewrite.run({ id, ...rowOf(definition), nowMs })
    },
    setState: (id: string, state: MessageState, why: string | null = null, dueMs: number | null = null): void =>
      void setState.run({ id, state, why, dueMs }),
    setDue: (id: string, dueMs: number | null): void => void setDue.run(dueMs, id),
    /** It runs from now on, and the events it gives rise to are known. */
    begin(id: string, nowMs: number, dueMs: number | null): void {
      db.transaction(() => {
        for (const [step, name] of Object.entries(MESSAGE_EVENTS)) {
          const { description, passive } = MESSAGE_EVENT_WORDS[step as MessageStep]
          if (makeType.run(name, description, passive ? 1 : 0).changes > 0) bumpDefinitions(db)
        }
        begin.run({ id, nowMs, dueMs })
      }).immediate()
    },
    /** Nobody comes in any more, and what waits is not sent. */
    end(id: string, nowMs: number): void {
      db.transaction(() => {
        drop.run('it was stopped', id)
        end.run({ id, nowMs })
      }).immediate()
    },
    remove: (id: string, nowMs: number): void => void setDeleted.run(nowMs, id),
    /** @throws NameTakenError where another has its name by now */
    bringBack(id: string): void {
      checkName(messageOf(anyId.get(id)!).definition.name, id)
      setDeleted.run(null, id)
    },
    /** Who came in, from the events that tell so: of a message whose events came from elsewhere. */
    readEntries(id: string, nowMs: number): void {
      const { definition } = get(id)
      const { variants, wait, unless } = definition
      const [event] = unless && 'names' in unless.event ? unless.event.names : []
      const first = event === undefined ? 'it was stopped' : `did ${event} first`
      const places = new Map(variants.map(({ name }, place) => [name, place]))
      db.transaction(() => {
        const sentMs = new Map(
          eventsOf.all(MESSAGE_EVENTS.sent, definition.name).map((row) => [`${row.id} ${row.entry}`, row.atMs]),
        )
        for (const { id: person, atMs, variant, entry } of eventsOf.all(MESSAGE_EVENTS.entered, definition.name)) {
          const place = places.get(variant) ?? null
          const own = sentMs.get(`${person} ${entry}`) ?? null
          const dueMs = atMs + wait * 3_600_000
          const isOver = place !== null && own === null && dueMs <= nowMs
          const state = place === null ? 'alone' : own !== null ? 'sent' : isOver ? 'dropped' : 'waiting'
          putEntry.run({ id, person, entry, atMs, place, state, dueMs, sentMs: own, why: isOver ? first : null })
        }
      }).immediate()
    },
    counts(id: string): MessageCounts {
      const by = new Map(entries.all(id).map(({ state, people }) => [state, people]))
      const many = (state: MessageLine['state']) => by.get(state) ?? 0
      return {
        entered: [...by.values()].reduce((a, b) => a + b, 0),
        ...{ alone: many('alone'), waiting: many('waiting') + many('ready'), sent: many('sent') },
        ...{ dropped: dropped.all(id), keptOut: keptOut.all(id) },
      }
    },
    lines: (id: string, most: number): MessageLine[] =>
      lines.all(id, most).map(({ at_ms, due_ms, sent_ms, ...rest }) => ({
        ...{ ...rest, atMs: at_ms, dueMs: due_ms, sentMs: sent_ms },
      })),
    shares: (id: string): DayShares[] =>
      shares.all(id).map((row) => ({
        day: row.day,
        shares: JSON.parse(row.shares) as number[],
        tried: JSON.parse(row.tried) as DayShares['tried'],
      })),
    putShares: (id: string, { day, shares: parts, tried }: DayShares): void =>
      void putShares.run(id, day, JSON.stringify(parts), JSON.stringify(tried)),
    /** When the first of those came in whose time to be sent has come; null = nobody's has. */
    firstDueMs: (id: string, nowMs: number): number | null => firstDue.get(id, nowMs) ?? null,
    /** First entries that are older than a moment, and went to a variant: of whom, when, and which one. */
    firstEntries: (id: string, beforeMs: number): { person: number; atMs: number; variant: number }[] =>
      first.all(id, beforeMs),
    waiting: (id: string): number => waiting.get(id)!,
  }
}

interface LineRow {
  at_ms: number
  due_ms: number
  sent_ms: number | null
}

const rowOf = (definition: Message) => ({
  ...{ name: definition.name, segment: definition.segment, destination: definition.destination },
  definition: JSON.stringify(definition),
})

function messageOf({ id, definition, state, why, started_ms, ended_ms, due_ms }: Row): SavedMessage {
  return {
    ...{ id, definition: messageSchema.parse(JSON.parse(definition)), state, why },
    ...{ startedMs: started_ms, endedMs: ended_ms, dueMs: due_ms },
  }
}
