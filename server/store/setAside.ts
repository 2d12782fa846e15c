import type { Rule } from '../../core/plan/plan.js'
import type { IncomingEvent } from '../ingest/event.js'
import type { Db } from './database.js'

/** Why an event is kept apart: a rule of the plan, a hand, or a check at the door that it did not pass. */
export type AsideRule = Rule | 'by hand' | 'clock ahead' | 'refused'

export interface Aside {
  rule: AsideRule
  property: string | null
  /** in words */
  reason: string
  event: string | null
  source: string | null
  version: string | null
  /** an event that could be let in as it is; null for what was refused at the door */
  checked: IncomingEvent | null
  /** the text as it came */
  content: string
  receivedMs: number
}

export interface AsideRow extends Aside {
  id: number
}

/** Events set aside, by why. */
export interface AsideGroup {
  rule: AsideRule
  event: string | null
  property: string | null
  reason: string
  events: number
  firstMs: number
  lastMs: number
  /** whether they can be let in */
  whole: boolean
}

interface Row {
  id: number
  event_id: string | null
  received_ms: number
  event: string | null
  source: string | null
  version: string | null
  rule: AsideRule
  property: string | null
  reason: string
  checked: string | null
  content: string
}

/** Of refused input, as much is kept: it may come without end. */
const MOST_REFUSED = 20_000

/** Which of the events set aside. */
export interface AsideChoice {
  rule: AsideRule
  event: string | null
  property: string | null
}

/** Events kept out of all numbers: visible, countable, and to be let in later. */
export function setAsideStore(db: Db) {
  const insert = db.prepare(
    `INSERT INTO set_aside (event_id, received_ms, event, source, version, rule, property, reason, checked, content)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (event_id) DO NOTHING`,
  )
  const groups = db.prepare<
    [],
    Omit<AsideGroup, 'firstMs' | 'lastMs' | 'whole'> & { first_ms: number; last_ms: number; whole: number }
  >(
    `SELECT rule, event, property, MIN(reason) AS reason, COUNT(*) AS events, MIN(received_ms) AS first_ms,
       MAX(received_ms) AS last_ms, MIN(checked IS NOT NULL) AS whole
     FROM set_aside GROUP BY rule, event, property ORDER BY events DESC, event, rule`,
  )
  const ofGroup = `rule = ? AND event IS ? AND property IS ?`
  const some = db.prepare<[string, string | null, string | null, number], Row>(
    `SELECT * FROM set_aside WHERE ${ofGroup} ORDER BY id DESC LIMIT ?`,
  )
  const all = db.prepare<[string, string | null, string | null], Row>(
    `SELECT * FROM set_aside WHERE ${ofGroup} ORDER BY id`,
  )
  const newest = db.prepare<[number], Row>('SELECT * FROM set_aside ORDER BY id DESC LIMIT ?')
  const drop = db.prepare('DELETE FROM set_aside WHERE id = ?')
  const dropAll = db.prepare(`DELETE FROM set_aside WHERE ${ofGroup}`)
  const has = db.prepare<[string], { one: 1 }>('SELECT 1 AS one FROM set_aside WHERE event_id = ?')
  const any = db.prepare<[], { one: 1 }>('SELECT 1 AS one FROM set_aside WHERE event_id IS NOT NULL LIMIT 1')
  const dropId = db.prepare('DELETE FROM set_aside WHERE event_id = ?')
  const dropReceived = db.prepare('DELETE FROM set_aside WHERE received_ms = ?')
  const count = db.prepare<[], { n: number }>('SELECT COUNT(*) AS n FROM set_aside')
  const dropOldRefused = db.prepare(
    `DELETE FROM set_aside WHERE rule = 'refused' AND id <=
       (SELECT id FROM set_aside WHERE rule = 'refused' ORDER BY id DESC LIMIT 1 OFFSET ${MOST_REFUSED})`,
  )
  return {
    /** @returns how many were not there already */
    add(items: readonly Aside[]): number {
      let added = 0
      for (const item of items)
        added += insert.run(
          item.checked?.id ?? null,
          item.receivedMs,
          item.event,
          item.source,
          item.version,
          item.rule,
          item.property,
          item.reason,
          item.checked ? JSON.stringify(item.checked) : null,
          item.content,
        ).changes
      if (items.some(({ rule }) => rule === 'refused')) dropOldRefused.run()
      return added
    },
    /** Which of these ids are those of events set aside. */
    idsAmong(ids: readonly string[]): Set<string> {
      return new Set(any.get() ? ids.filter((id) => has.get(id)) : [])
    },
    removeId: (id: string): void => void dropId.run(id),
    removeReceived: (ms: number): void => void dropReceived.run(ms),
    count: (): number => count.get()!.n,
    groups: (): AsideGroup[] =>
      groups.all().map(({ first_ms, last_ms, whole, ...rest }) => ({
        ...rest,
        firstMs: first_ms,
        lastMs: last_ms,
        whole: whole === 1,
      })),
    samples: ({ rule, event, property }: AsideChoice, limit: number): AsideRow[] =>
      some.all(rule, event, property, limit).map(asideOf),
    newest: (limit: number): AsideRow[] => newest.all(limit).map(asideOf),
    each: ({ rule, event, property }: AsideChoice): AsideRow[] => all.all(rule, event, property).map(asideOf),
    remove: (id: number): void => void drop.run(id),
    removeAll: ({ rule, event, property }: AsideChoice): number => dropAll.run(rule, event, property).changes,
  }
}

function asideOf(row: Row): AsideRow {
  const { id, event, source, version, rule, property, reason, content, received_ms } = row
  const checked = row.checked === null ? null : (JSON.parse(row.checked) as IncomingEvent)
  return { id, event, source, version, rule, property, reason, content, checked, receivedMs: received_ms }
}
