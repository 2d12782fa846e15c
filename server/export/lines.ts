import type { Db } from '../store/database.js'

export interface ExportRow {
  seq: number
  event_id: string
  known: string | null
  anonymous: string | null
  event: string
  time_ms: number
  source: string | null
  properties: string
}

/** All events in order of arrival, a page at a time, so that other work gets its turn. */
export function* exportRows(
  db: Db,
  options: { fromMs?: number; untilMs?: number; page?: number },
): Generator<ExportRow[]> {
  const page = db.prepare<[number, number, number, number], ExportRow>(
    `SELECT e.seq, e.event_id, k.value AS known, a.value AS anonymous, t.name AS event, e.time_ms, s.name AS source,
       e.properties
     FROM events e JOIN event_types t ON t.id = e.type
     LEFT JOIN person_ids k ON k.id = e.known LEFT JOIN person_ids a ON a.id = e.anonymous
     LEFT JOIN sources s ON s.id = e.source
     WHERE e.seq > ? AND e.time_ms >= ? AND e.time_ms < ? ORDER BY e.seq LIMIT ?`,
  )
  const { fromMs = 0, untilMs = Number.MAX_SAFE_INTEGER, page: size = 1000 } = options
  for (let after = 0; ;) {
    const rows = page.all(after, fromMs, untilMs, size)
    if (rows.length === 0) return
    yield rows
    after = rows.at(-1)!.seq
  }
}

/** All events as JSON Lines, in the form they can be sent in again. */
export function* exportLines(db: Db, options: { fromMs?: number; untilMs?: number; page?: number }): Generator<string> {
  for (const rows of exportRows(db, options)) yield rows.map(lineOf).join('')
}

function lineOf(row: ExportRow): string {
  const fields = [
    `"id":${JSON.stringify(row.event_id)}`,
    row.known === null ? '' : `"person":${JSON.stringify(row.known)}`,
    row.anonymous === null ? '' : `"anonymous":${JSON.stringify(row.anonymous)}`,
    `"event":${JSON.stringify(row.event)}`,
    `"time":"${new Date(row.time_ms).toISOString()}"`,
    row.source === null ? '' : `"source":${JSON.stringify(row.source)}`,
    `"properties":${row.properties}`,
  ]
  return `{${fields.filter(Boolean).join(',')}}\n`
}
