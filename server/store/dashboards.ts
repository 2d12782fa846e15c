import { amongSchema } from '../../core/analyses/peopleSchema.js'
import { rangeSchema } from '../../core/time/rangeSchema.js'
import type { Range } from '../../core/time/range.js'
import { z } from 'zod'
import type { Among } from '../../core/analyses/people.js'
import { filterSchema, type Filter } from '../../core/questions/parts.js'
import type { Rule } from '../../core/segments/rule.js'
import { newId } from '../ids.js'
import type { Db } from './database.js'
import { NotFoundError } from './errors.js'

/** Where a card stands on the 12 columns; rows are 44 px high. */
export const placeSchema = z.object({
  x: z.int().min(0).max(11),
  y: z.int().min(0).max(10_000),
  w: z.int().min(1).max(12),
  h: z.int().min(1).max(40),
})
export type Place = z.infer<typeof placeSchema>

export interface Card extends Place {
  id: string
  /** id of the study it shows; null for a note */
  study: string | null
  /** the note's document; null for a study */
  note: unknown
}

export interface Dashboard {
  id: string
  name: string
  description: string
  range: Range | null
  among: Among | null
  savedMs: number
  cards: Card[]
}

interface DashboardRow {
  id: string
  name: string
  description: string
  range: string | null
  among: string | null
  /** what `among` was before there were segments */
  filter: string | null
  saved_ms: number
}

interface CardRow extends Place {
  id: string
  study: string | null
  note: string | null
}

function amongOf({ among, filter }: DashboardRow): Among | null {
  if (among !== null) return amongSchema.parse(JSON.parse(among))
  return filter === null ? null : { rule: profileRule(filterSchema.parse(JSON.parse(filter)) as Filter) }
}

function profileRule(filter: Filter): Rule {
  if ('all' in filter) return { hold: 'all', of: filter.all.map(profileRule) }
  if ('any' in filter) return { hold: 'any', of: filter.any.map(profileRule) }
  return { kind: 'profile', where: filter }
}

export function dashboardStore(db: Db) {
  const columns = 'id, name, description, range, among, filter, saved_ms'
  const byId = db.prepare<[string], DashboardRow>(`SELECT ${columns} FROM dashboards WHERE id = ?`)
  const all = db.prepare<[], { id: string; name: string; description: string; saved_ms: number; studies: number }>(
    `SELECT d.id, d.name, d.description, d.saved_ms, COUNT(c.study) AS studies
     FROM dashboards d LEFT JOIN cards c ON c.dashboard = d.id GROUP BY d.id ORDER BY d.name`,
  )
  const cardsOf = db.prepare<[string], CardRow>(
    'SELECT id, study, note, x, y, w, h FROM cards WHERE dashboard = ? ORDER BY y, x, id',
  )
  const insert = db.prepare(
    'INSERT INTO dashboards (id, name, description, created_ms, saved_ms) VALUES (?, ?, ?, ?, ?)',
  )
  const rename = db.prepare('UPDATE dashboards SET name = ?, description = ?, saved_ms = ? WHERE id = ?')
  const setAll = db.prepare('UPDATE dashboards SET range = ?, among = ?, filter = NULL, saved_ms = ? WHERE id = ?')
  const touch = db.prepare('UPDATE dashboards SET saved_ms = ? WHERE id = ?')
  const removeOne = db.prepare('DELETE FROM dashboards WHERE id = ?')
  const dropLinks = db.prepare(`DELETE FROM shared_links WHERE kind = 'dashboard' AND target = ?`)
  const addCard = db.prepare(
    'INSERT INTO cards (id, dashboard, study, note, x, y, w, h) VALUES (@id, @dashboard, @study, @note, @x, @y, @w, @h)',
  )
  const moveCard = db.prepare(
    'UPDATE cards SET x = @x, y = @y, w = @w, h = @h WHERE id = @id AND dashboard = @dashboard',
  )
  const setNote = db.prepare('UPDATE cards SET note = ? WHERE id = ? AND dashboard = ? AND note IS NOT NULL')
  const dropCard = db.prepare('DELETE FROM cards WHERE id = ? AND dashboard = ?')

  const must = (id: string): DashboardRow => {
    const row = byId.get(id)
    if (!row) throw new NotFoundError('dashboard', id)
    return row
  }
  return {
    get(id: string): Dashboard {
      const row = must(id)
      const cards = cardsOf
        .all(id)
        .map((card) => ({ ...card, note: card.note === null ? null : JSON.parse(card.note) }))
      return {
        id,
        name: row.name,
        description: row.description,
        range: row.range === null ? null : rangeSchema.parse(JSON.parse(row.range)),
        among: amongOf(row),
        savedMs: row.saved_ms,
        cards,
      }
    },
    list() {
      return all.all().map(({ saved_ms, ...rest }) => ({ ...rest, savedMs: saved_ms }))
    },
    create(dashboard: { id?: string; name: string; description: string }, nowMs: number): string {
      const id = dashboard.id ?? newId()
      insert.run(id, dashboard.name, dashboard.description, nowMs, nowMs)
      return id
    },
    rename(id: string, name: string, description: string, nowMs: number): void {
      if (rename.run(name, description, nowMs, id).changes === 0) throw new NotFoundError('dashboard', id)
    },
    /** What all cards take; null = each card's own. */
    setForAll(id: string, range: Range | null, among: Among | null, nowMs: number): void {
      must(id)
      setAll.run(range && JSON.stringify(range), among && JSON.stringify(among), nowMs, id)
    },
    remove(id: string): void {
      db.transaction(() => {
        dropLinks.run(id)
        removeOne.run(id)
      })()
    },
    /** Puts a card below all others unless it is told where. @returns the card's id */
    addCard(
      dashboard: string,
      card: { study: string } | { note: unknown },
      nowMs: number,
      place?: Partial<Place>,
    ): string {
      must(dashboard)
      const cards = cardsOf.all(dashboard)
      const size = 'study' in card ? { w: 6, h: 7 } : { w: 3, h: 4 }
      const w = place?.w ?? size.w
      const h = place?.h ?? size.h
      const spot = place?.x !== undefined && place.y !== undefined ? { x: place.x, y: place.y } : freeSpot(cards, w, h)
      const id = newId()
      db.transaction(() => {
        const study = 'study' in card ? card.study : null
        const note = 'note' in card ? JSON.stringify(card.note) : null
        addCard.run({ id, dashboard, study, note, ...spot, w, h })
        touch.run(nowMs, dashboard)
      })()
      return id
    },
    moveCards(dashboard: string, places: ({ id: string } & Place)[], nowMs: number): void {
      must(dashboard)
      db.transaction(() => {
        for (const place of places) moveCard.run({ ...place, dashboard })
        touch.run(nowMs, dashboard)
      })()
    },
    setNote(dashboard: string, card: string, note: unknown, nowMs: number): void {
      if (setNote.run(JSON.stringify(note), card, dashboard).changes === 0) throw new NotFoundError('card', card)
      touch.run(nowMs, dashboard)
    },
    removeCard(dashboard: string, card: string, nowMs: number): void {
      dropCard.run(card, dashboard)
      touch.run(nowMs, dashboard)
    },
  }
}

/** The highest, then leftmost place where a card of this size fits. */
export function freeSpot(cards: readonly Place[], w: number, h: number): { x: number; y: number } {
  const bottom = cards.reduce((low, card) => Math.max(low, card.y + card.h), 0)
  for (let y = 0; y < bottom; y++) {
    for (let x = 0; x + w <= 12; x++) {
      const clear = cards.every((c) => x + w <= c.x || c.x + c.w <= x || y + h <= c.y || c.y + c.h <= y)
      if (clear) return { x, y }
    }
  }
  return { x: 0, y: bottom }
}
