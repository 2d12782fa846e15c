import Database from 'better-sqlite3'
import type { Channel, Delivery, Outcome, Simulated } from '../../../core/outreach/destination.js'
import { reactionsTo, type ReactionKind, type Reactions } from '../../../core/outreach/simulated.js'

/** What a stand-in says of itself. */
export interface BookState {
  people: number
  /** changes taken */
  taken: number
  /** tries of a change it had taken already: recognised by their key, and not taken twice */
  repeats: number
  /** changes and messages that came twice under different keys: there must be none */
  twice: number
  /** messages taken */
  messages: number
  newest: { person: string; change: string; properties: Record<string, unknown>; atMs: number }[]
}

/** Something that one of the simulated people behind a stand-in did. */
export interface Reacted {
  key: string
  kind: ReactionKind
  /** epoch ms of the workspace’s clock */
  atMs: number
  person: string
  of: Simulated
}

/** Who reacts to messages, and how; null = nobody does. */
export type Crowd = { channel: Channel; model: Reactions } | null

/** What a stand-in has been told, kept in a file of its own, as a service somewhere else would. */
export class Book {
  private readonly db: Database.Database
  private readonly statements

  constructor(file: string) {
    const db = new Database(file)
    db.pragma('journal_mode = WAL')
    db.pragma('synchronous = FULL')
    db.exec(`
      CREATE TABLE IF NOT EXISTS taken (key TEXT PRIMARY KEY, person TEXT NOT NULL, change TEXT NOT NULL,
        properties TEXT NOT NULL, at_ms INTEGER NOT NULL) STRICT;
      CREATE TABLE IF NOT EXISTS people (person TEXT PRIMARY KEY, properties TEXT NOT NULL) STRICT;
      CREATE TABLE IF NOT EXISTS messages (message TEXT NOT NULL, person TEXT NOT NULL, entry INTEGER NOT NULL,
        key TEXT NOT NULL, PRIMARY KEY (message, person, entry)) STRICT;
      CREATE TABLE IF NOT EXISTS reactions (key TEXT PRIMARY KEY, at_ms INTEGER NOT NULL, kind TEXT NOT NULL,
        person TEXT NOT NULL, told TEXT NOT NULL) STRICT;
      CREATE INDEX IF NOT EXISTS reactions_at ON reactions (at_ms);
      CREATE TABLE IF NOT EXISTS counts (name TEXT PRIMARY KEY, n INTEGER NOT NULL) STRICT;`)
    this.db = db
    this.statements = {
      take: db.prepare('INSERT OR IGNORE INTO taken VALUES (?, ?, ?, ?, ?)'),
      tell: db.prepare('INSERT OR IGNORE INTO messages VALUES (?, ?, ?, ?)'),
      toldUnder: db
        .prepare<[string, string, number], string>(
          'SELECT key FROM messages WHERE message = ? AND person = ? AND entry = ?',
        )
        .pluck(),
      messages: db.prepare<[], number>('SELECT COUNT(*) FROM messages').pluck(),
      react: db.prepare('INSERT OR IGNORE INTO reactions VALUES (?, ?, ?, ?, ?)'),
      due: db.prepare<
        [number, number],
        { key: string; atMs: number; kind: ReactionKind; person: string; told: string }
      >('SELECT key, at_ms AS atMs, kind, person, told FROM reactions WHERE at_ms <= ? ORDER BY at_ms, key LIMIT ?'),
      forget: db.prepare('DELETE FROM reactions WHERE key = ?'),
      has: db.prepare<[string], string>('SELECT properties FROM people WHERE person = ?').pluck(),
      put: db.prepare('INSERT OR REPLACE INTO people VALUES (?, ?)'),
      drop: db.prepare('DELETE FROM people WHERE person = ?'),
      count: db.prepare('INSERT INTO counts VALUES (?, 1) ON CONFLICT (name) DO UPDATE SET n = n + 1'),
      counted: db.prepare<[string], number>('SELECT n FROM counts WHERE name = ?').pluck(),
      people: db.prepare<[], number>('SELECT COUNT(*) FROM people').pluck(),
      changes: db.prepare<[], number>('SELECT COUNT(*) FROM taken').pluck(),
      newest: db.prepare<[number], { person: string; change: string; properties: string; atMs: number }>(
        'SELECT person, change, properties, at_ms AS atMs FROM taken ORDER BY at_ms DESC, rowid DESC LIMIT ?',
      ),
      all: db.prepare<[], string>('SELECT person FROM people ORDER BY person').pluck(),
    }
  }

  /** @param refused why somebody is not taken; null = they are */
  take(
    deliveries: readonly Delivery[],
    refused: (person: string) => string | null,
    nowMs: number,
    crowd: Crowd = null,
  ): Outcome[] {
    const { take, has, put, drop, count } = this.statements
    return this.db
      .transaction(() =>
        deliveries.map((delivery): Outcome => {
          const { key, change, person, properties } = delivery
          const reason = change === 'remove' ? null : refused(person)
          if (reason !== null) return { key, taken: false, reason }
          const text = JSON.stringify(properties)
          if (take.run(key, person, change, text, nowMs).changes === 0) {
            count.run('repeats')
            return { key, taken: true }
          }
          if (change === 'message') {
            this.tell(delivery, crowd)
            return { key, taken: true }
          }
          const before = has.get(person)
          if (change === 'remove') {
            if (before === undefined) count.run('twice')
            drop.run(person)
          } else {
            if (before === text) count.run('twice')
            put.run(person, text)
          }
          return { key, taken: true }
        }),
      )
      .immediate()
  }

  /** A message arrives, and is answered when its time comes. */
  private tell({ key, person, simulated }: Delivery, crowd: Crowd): void {
    if (!simulated) return
    const { tell, toldUnder, react, count } = this.statements
    const { message, entry } = simulated
    if (tell.run(message, person, entry, key).changes === 0 && toldUnder.get(message, person, entry) !== key)
      count.run('twice')
    if (!crowd) return
    const arriving = { key, channel: crowd.channel, ...simulated }
    for (const { name, kind, atMs } of reactionsTo(arriving, crowd.model))
      react.run(`${name}.${key}`, atMs, kind, person, JSON.stringify(simulated))
  }

  /** What people have done up to a moment of the workspace's clock, in order, and has not been told of. */
  reactions(untilMs: number, most: number): Reacted[] {
    return this.statements.due
      .all(untilMs, most)
      .map(({ told, ...row }) => ({ ...row, of: JSON.parse(told) as Simulated }))
  }

  /** It has been written down elsewhere. */
  told(keys: readonly string[]): void {
    this.db.transaction(() => keys.forEach((key) => this.statements.forget.run(key))).immediate()
  }

  people(): string[] {
    return this.statements.all.all()
  }

  state(): BookState {
    const { people, changes, counted, newest, messages } = this.statements
    return {
      ...{ people: people.get()!, taken: changes.get()!, messages: messages.get()! },
      ...{ repeats: counted.get('repeats') ?? 0, twice: counted.get('twice') ?? 0 },
      newest: newest
        .all(20)
        .map((row) => ({ ...row, properties: JSON.parse(row.properties) as Record<string, unknown> })),
    }
  }

  close(): void {
    this.db.close()
  }
}
