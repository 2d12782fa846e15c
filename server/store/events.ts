import type { Value } from '../../core/log/values.js'
import type { Db } from './database.js'

/** An event as it came. */
export interface StoredEvent {
  seq: number
  id: string
  person: string | null
  anonymous: string | null
  event: string
  timeMs: number
  receivedMs: number
  source: string | null
  properties: Record<string, Value>
}

interface Row {
  seq: number
  event_id: string
  known: string | null
  anonymous: string | null
  event: string
  time_ms: number
  received_ms: number
  source: string | null
  properties: string
}

/** Which of the last events; what is left out is not looked at. */
export interface LiveFilter {
  event?: string
  source?: string
  /** a known or anonymous id */
  person?: string
}

/** How far back the live view looks for events that match its filter. */
const LIVE_REACH = 50_000

export function eventStore(db: Db) {
  const joined = `SELECT e.seq, e.event_id, k.value AS known, a.value AS anonymous, t.name AS event, e.time_ms,
       e.received_ms, s.name AS source, e.properties
     FROM events e JOIN event_types t ON t.id = e.type
     LEFT JOIN person_ids k ON k.id = e.known LEFT JOIN person_ids a ON a.id = e.anonymous
     LEFT JOIN sources s ON s.id = e.source`
  const bySeq = db.prepare<[number], Row>(`${joined} WHERE e.seq = ?`)
  const newest = db.prepare<{ event: string | null; source: string | null; person: string | null; limit: number }, Row>(
    `${joined} WHERE e.seq > (SELECT IFNULL(MAX(seq), 0) FROM events) - ${LIVE_REACH}
       AND (@event IS NULL OR t.name = @event) AND (@source IS NULL OR s.name = @source)
       AND (@person IS NULL OR k.value = @person OR a.value = @person)
     ORDER BY e.seq DESC LIMIT @limit`,
  )
  const idsOf = db.prepare<[number], { id: number; space: 'known' | 'anonymous'; value: string }>(
    'SELECT id, space, value FROM person_ids WHERE person = ? ORDER BY space DESC, id',
  )
  const findId = db.prepare<[string, string], { id: number; person: number }>(
    'SELECT id, person FROM person_ids WHERE space = ? AND value = ?',
  )
  const cutLinks = db.prepare<{ id: number }, { id: number; space: 'known' | 'anonymous'; value: string }>(
    `SELECT DISTINCT o.id, o.space, o.value FROM id_links l
     JOIN person_ids o ON o.id = CASE l.known WHEN @id THEN l.anonymous ELSE l.known END
     WHERE l.cut = 1 AND (l.known = @id OR l.anonymous = @id)`,
  )
  const seenWith = db.prepare<
    [number],
    { known: number | null; anonymous: number | null; source: string | null; time_ms: number }
  >(
    `SELECT e.known, e.anonymous, s.name AS source, e.time_ms FROM events e LEFT JOIN sources s ON s.id = e.source
     WHERE e.seq = ?`,
  )
  const seqOf = db.prepare<[string], number>('SELECT seq FROM events WHERE event_id = ?').pluck()
  return {
    /** Events by their arrival numbers, in the order asked for; those gone are left out. */
    bySeqs: (seqs: readonly number[]): StoredEvent[] =>
      seqs.flatMap((seq) => {
        const row = bySeq.get(seq)
        return row ? [eventOf(row)] : []
      }),
    newest: ({ event, source, person }: LiveFilter, limit: number): StoredEvent[] =>
      newest.all({ event: event ?? null, source: source ?? null, person: person ?? null, limit }).map(eventOf),
    findId: (space: 'known' | 'anonymous', value: string) => findId.get(space, value) ?? null,
    idsOf: (person: number) => idsOf.all(person),
    /** ids that were seen together with this one and have been taken apart from it */
    cutFrom: (id: number) => cutLinks.all({ id }),
    /** the arrival number of an event by its id; null where there is none */
    seqOf: (eventId: string) => seqOf.get(eventId) ?? null,
    seenWith: (seq: number) => seenWith.get(seq) ?? null,
  }
}

function eventOf(row: Row): StoredEvent {
  return {
    ...{ seq: row.seq, id: row.event_id, person: row.known, anonymous: row.anonymous, event: row.event },
    ...{ timeMs: row.time_ms, receivedMs: row.received_ms, source: row.source },
    properties: JSON.parse(row.properties) as Record<string, Value>,
  }
}
