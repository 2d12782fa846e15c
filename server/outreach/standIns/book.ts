import Database from 'better-sqlite3'
import type { Delivery, Outcome } from '../../../core/outreach/destination.js'

/** What a stand-in says of itself. */
export interface BookState {
  people: number
  /** changes taken */
  taken: number
  /** tries of a change it had taken already: recognised by their key, and not taken twice */
  repeats: number
  /** changes that came twice under different keys: there must be none */
  twice: number
  newest: { person: string; change: string; properties: Record<string, unknown>; atMs: number }[]
}

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
      CREATE TABLE IF NOT EXISTS counts (name TEXT PRIMARY KEY, n INTEGER NOT NULL) STRICT;`)
    this.db = db
    this.statements = {
      take: db.prepare('INSERT OR IGNORE INTO taken VALUES (?, ?, ?, ?, ?)'),
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
  take(deliveries: readonly Delivery[], refused: (person: string) => string | null, nowMs: number): Outcome[] {
    const { take, has, put, drop, count } = this.statements
    return this.db
      .transaction(() =>
        deliveries.map(({ key, change, person, properties }): Outcome => {
          const reason = change === 'remove' ? null : refused(person)
          if (reason !== null) return { key, taken: false, reason }
          const text = JSON.stringify(properties)
          if (take.run(key, person, change, text, nowMs).changes === 0) {
            count.run('repeats')
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

  people(): string[] {
    return this.statements.all.all()
  }

  state(): BookState {
    const { people, changes, counted, newest } = this.statements
    return {
      ...{ people: people.get()!, taken: changes.get()! },
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
