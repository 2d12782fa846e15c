import type { Db } from '../store/database.js'
import { setAsideStore, type Aside, type AsideChoice } from '../store/setAside.js'
import type { IncomingEvent } from './event.js'
import type { EventWriter } from './writer.js'

/** Changes to what has been taken in before, by hand from the pages. */
export type AfterRequest =
  /** `atReceipt` gives them the time they were received, in place of that of a clock gone wrong */
  | { kind: 'let in'; choice: AsideChoice; atReceipt: boolean; nowMs: number }
  | { kind: 'discard'; choice: AsideChoice }
  /** stored events, by arrival number */
  | { kind: 'set aside'; seqs: number[]; rule: Aside['rule']; property: string | null; reason: string; nowMs: number }
  | { kind: 'unmerge' | 'remerge'; id: number }

interface StoredEvent {
  seq: number
  event_id: string
  known: string | null
  anonymous: string | null
  owner: number
  event: string
  time_ms: number
  source: string | null
  properties: string
}

export function afterwards(db: Db, writer: EventWriter) {
  const store = setAsideStore(db)
  const stored = db.prepare<[number], StoredEvent>(
    `SELECT e.seq, e.event_id, k.value AS known, a.value AS anonymous, IFNULL(e.known, e.anonymous) AS owner,
       t.name AS event, e.time_ms, s.name AS source, e.properties
     FROM events e JOIN event_types t ON t.id = e.type
     LEFT JOIN person_ids k ON k.id = e.known LEFT JOIN person_ids a ON a.id = e.anonymous
     LEFT JOIN sources s ON s.id = e.source WHERE e.seq = ?`,
  )
  const drop = db.prepare('DELETE FROM events WHERE seq = ?')
  const noteChange = db.prepare('INSERT INTO event_changes (seq, owner) VALUES (?, ?)')

  function letIn({ choice, atReceipt, nowMs }: Extract<AfterRequest, { kind: 'let in' }>) {
    const rows = store.each(choice).filter((row) => row.checked !== null)
    const events = rows.map(({ checked, receivedMs }): IncomingEvent => {
      const event = checked!
      return atReceipt ? { ...event, timeMs: receivedMs } : event
    })
    return writer.writeEvents(events, nowMs, { also: () => rows.forEach((row) => store.remove(row.id)) })
  }

  function setAside({ seqs, rule, property, reason, nowMs }: Extract<AfterRequest, { kind: 'set aside' }>): number {
    return db
      .transaction(() => {
        let moved = 0
        for (const seq of seqs) {
          const row = stored.get(seq)
          if (!row) continue
          const { known, anonymous, event, source } = row
          const properties = JSON.parse(row.properties) as IncomingEvent['properties']
          const checked = { id: row.event_id, known, anonymous, event, timeMs: row.time_ms, source, properties }
          const content = JSON.stringify({
            ...{ id: row.event_id, person: known ?? undefined, anonymous: anonymous ?? undefined, event },
            ...{ time: new Date(row.time_ms).toISOString(), source: source ?? undefined, properties },
          })
          store.add([{ rule, property, reason, event, source, version: null, checked, content, receivedMs: nowMs }])
          drop.run(seq)
          noteChange.run(seq, row.owner)
          moved++
        }
        return moved
      })
      .immediate()
  }

  return (request: AfterRequest): unknown => {
    switch (request.kind) {
      case 'let in':
        return letIn(request)
      case 'discard':
        return store.removeAll(request.choice)
      case 'set aside':
        return setAside(request)
      case 'unmerge':
        return writer.unmerge(request.id)
      case 'remerge':
        return writer.remerge(request.id)
    }
  }
}
