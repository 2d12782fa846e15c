import type { Policy } from '../../core/plan/plan.js'
import type { Db } from '../store/database.js'
import { planStore } from '../store/plan.js'
import { setAsideStore, type Aside, type AsideChoice } from '../store/setAside.js'
import type { IncomingEvent } from './event.js'
import { LIMITS } from './limits.js'
import type { EventWriter } from './writer.js'

/** Changes to what has been taken in before, by hand from the pages. */
export type AfterRequest =
  /** `atReceipt` gives them the time they were received, in place of that of a clock gone wrong */
  | { kind: 'let in'; choice: AsideChoice; atReceipt: boolean; nowMs: number; policy?: EventPolicy }
  | { kind: 'discard'; choice: AsideChoice }
  /** stored events, by arrival number */
  | {
      kind: 'set aside'
      seqs: number[]
      rule: Aside['rule']
      property: string | null
      reason: string
      nowMs: number
      policy?: EventPolicy
    }
  | { kind: 'unmerge' | 'remerge'; id: number }

/** What is to happen from then on to events of a name that do not fit; null = what the workspace says. */
export interface EventPolicy {
  event: string
  policy: Policy | null
}

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

/** Times beyond what a calendar holds, from before they were refused at the door, stay where they are. */
const fits = (ms: number) => Math.abs(ms) <= LIMITS.latestMs

export function afterwards(db: Db, writer: EventWriter) {
  const store = setAsideStore(db)
  const plan = planStore(db)
  const setPolicy = (to: EventPolicy | undefined) => to && plan.setEventPolicy(to.event, to.policy)
  const stored = db.prepare<[number], StoredEvent>(
    `SELECT e.seq, e.event_id, k.value AS known, a.value AS anonymous, IFNULL(e.known, e.anonymous) AS owner,
       t.name AS event, e.time_ms, s.name AS source, e.properties
     FROM events e JOIN event_types t ON t.id = e.type
     LEFT JOIN person_ids k ON k.id = e.known LEFT JOIN person_ids a ON a.id = e.anonymous
     LEFT JOIN sources s ON s.id = e.source WHERE e.seq = ?`,
  )
  const drop = db.prepare('DELETE FROM events WHERE seq = ?')
  const noteChange = db.prepare('INSERT INTO event_changes (seq, owner) VALUES (?, ?)')

  /** The rows, and what is to happen to the like of them, change in one transaction: all of it, or nothing. */
  function letIn({ choice, atReceipt, nowMs, policy }: Extract<AfterRequest, { kind: 'let in' }>) {
    return writer.together(() => {
      const rows = store.each(choice).filter(({ checked }) => checked !== null && fits(checked.timeMs))
      const events = rows.map(({ checked, receivedMs }): IncomingEvent => {
        const event = checked!
        return atReceipt ? { ...event, timeMs: receivedMs } : event
      })
      const written = writer.writeEvents(events, nowMs, { also: () => rows.forEach((row) => store.remove(row.id)) })
      // An event that has never been taken in is known only from here on.
      setPolicy(policy)
      return written
    })
  }

  function setAside({ seqs, policy, ...why }: Extract<AfterRequest, { kind: 'set aside' }>): number {
    const { rule, property, reason, nowMs } = why
    return db
      .transaction(() => {
        setPolicy(policy)
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
