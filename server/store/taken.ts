import type { TakeChoice } from '../ingest/takeChoice.js'
import type { Db } from './database.js'

/** So long what was taken back is kept, and can be brought back. */
export const KEPT_MS = 30 * 86_400_000

export interface Taken {
  id: string
  choice: TakeChoice
  takenMs: number
  events: number
  profileValues: number
  /** when it was brought back; null while it can be */
  broughtMs: number | null
}

export interface TakenValue {
  id: number
  property: number
  written_ms: number
  arrival: number
  value: string | null
  dated: number | null
  timed: number
}

interface Row {
  id: string
  choice: string
  taken_ms: number
  events: number
  profile_values: number
  brought_ms: number | null
}

/** What was taken back by hand, and what it takes to bring it back. */
export function takenStore(db: Db) {
  const all = db.prepare<[], Row>('SELECT * FROM taken_back ORDER BY taken_ms DESC, id')
  const one = db.prepare<[string], Row>('SELECT * FROM taken_back WHERE id = ?')
  const insert = db.prepare(
    'INSERT INTO taken_back (id, choice, taken_ms, events, profile_values) VALUES (?, ?, ?, 0, 0)',
  )
  const keepEvent = db.prepare('INSERT INTO taken_events (take, seq, content, replaced) VALUES (?, ?, ?, ?)')
  const keepValue = db.prepare(
    `INSERT INTO taken_values (take, id, property, written_ms, arrival, value, dated, timed)
     VALUES (@take, @id, @property, @written_ms, @arrival, @value, @dated, @timed)`,
  )
  const keepLink = db.prepare('INSERT INTO taken_links (take, known, anonymous) VALUES (?, ?, ?)')
  const events = db.prepare<[string, number], { seq: number; content: string; replaced: number }>(
    'SELECT seq, content, replaced FROM taken_events WHERE take = ? AND seq > ? ORDER BY seq LIMIT 1000',
  )
  const values = db.prepare<[string], TakenValue>(
    `SELECT id, property, written_ms, arrival, value, dated, timed FROM taken_values WHERE take = ?`,
  )
  const links = db.prepare<[string], { known: number; anonymous: number }>(
    'SELECT known, anonymous FROM taken_links WHERE take = ?',
  )
  const drop = ['taken_events', 'taken_values', 'taken_links'].map((table) =>
    db.prepare(`DELETE FROM ${table} WHERE take = ?`),
  )
  const setCounts = db.prepare('UPDATE taken_back SET events = ?, profile_values = ? WHERE id = ?')
  const dropTake = db.prepare('DELETE FROM taken_back WHERE id = ?')
  const brought = db.prepare('UPDATE taken_back SET brought_ms = ? WHERE id = ?')
  const forget = db.prepare('DELETE FROM taken_back WHERE taken_ms < ?')
  return {
    /** the newest first */
    list: (): Taken[] => all.all().map(takenOf),
    get(id: string): Taken | null {
      const row = one.get(id)
      return row ? takenOf(row) : null
    },
    begin: ({ id, choice, takenMs }: Pick<Taken, 'id' | 'choice' | 'takenMs'>): void =>
      void insert.run(id, JSON.stringify(choice), takenMs),
    /** How much it was; of nothing no note stays. */
    counted(id: string, { events: many, profileValues }: Pick<Taken, 'events' | 'profileValues'>): void {
      if (many + profileValues === 0) dropTake.run(id)
      else setCounts.run(many, profileValues, id)
    },
    keepEvent: (id: string, seq: number, content: string, replaced: boolean): void =>
      void keepEvent.run(id, seq, content, replaced ? 1 : 0),
    keepValue: (take: string, value: TakenValue): void => void keepValue.run({ take, ...value }),
    keepLink: (take: string, known: number, anonymous: number): void => void keepLink.run(take, known, anonymous),
    /** In the order they had arrived in; a piece at a time, so that others can be written meanwhile. */
    *events(take: string): Generator<{ content: string; replaced: boolean }> {
      for (let after = -1; ;) {
        const piece = events.all(take, after)
        if (piece.length === 0) return
        for (const { content, replaced } of piece) yield { content, replaced: replaced === 1 }
        after = piece.at(-1)!.seq
      }
    },
    values: (take: string): TakenValue[] => values.all(take),
    links: (take: string) => links.all(take),
    /** It has been brought back: what was kept for that goes, the note of it stays. */
    end(id: string, nowMs: number): void {
      for (const statement of drop) statement.run(id)
      brought.run(nowMs, id)
    },
    forget: (beforeMs: number): number => forget.run(beforeMs).changes,
  }
}

function takenOf({ id, choice, taken_ms, events, profile_values, brought_ms }: Row): Taken {
  return {
    ...{ id, choice: JSON.parse(choice) as TakeChoice, takenMs: taken_ms, events },
    ...{ profileValues: profile_values, broughtMs: brought_ms },
  }
}
