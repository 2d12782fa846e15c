import { MESSAGE_EVENTS, MESSAGE_PROPERTIES, SIMULATED, type MessageStep } from '../../../core/outreach/events.js'
import type { Value } from '../../../core/log/values.js'
import type { Db } from '../../store/database.js'

/** What an event of a message is about. */
export interface EventOf {
  /** the same for each try */
  key: string
  person: { value: string; space: 'known' | 'anonymous' }
  atMs: number
  message: string
  variant: string
  entry: number
  channel: string
}

/** What waits to be taken in, so many at a time. */
export interface Waiting {
  /** the last one's number; told back when they have been taken in */
  upTo: number
  /** in the order they came, runs of one kind and origin together */
  runs: { kind: 'events' | 'people'; simulated: boolean; receivedMs: number; body: string }[]
}

/**
 * Events and profile values that outreach gives rise to: written in the transaction that decides, and taken in under ids
 * of their own, so that one that is sent again counts once.
 */
export function ownEvents(db: Db) {
  const put = db.prepare(
    'INSERT OR IGNORE INTO outreach_events (key, kind, simulated, at_ms, body) VALUES (?, ?, ?, ?, ?)',
  )
  const some = db.prepare<
    [number],
    { seq: number; kind: 'events' | 'people'; simulated: number; at_ms: number; body: string }
  >('SELECT seq, kind, simulated, at_ms, body FROM outreach_events ORDER BY seq LIMIT ?')
  const drop = db.prepare('DELETE FROM outreach_events WHERE seq <= ?')
  const idsOf = ({ value, space }: EventOf['person']) => (space === 'known' ? { person: value } : { anonymous: value })

  return {
    /** @param more of one that simulated people gave rise to: its own name and properties */
    note(step: MessageStep, of: EventOf, simulated = false): void {
      const { key, person, atMs, message, variant, entry, channel } = of
      const properties: Record<string, Value> = {
        [MESSAGE_PROPERTIES.message]: message,
        [MESSAGE_PROPERTIES.variant]: variant,
        [MESSAGE_PROPERTIES.channel]: channel,
        [MESSAGE_PROPERTIES.entry]: entry,
        ...(simulated ? { [SIMULATED]: true } : {}),
      }
      const event = {
        id: key,
        ...idsOf(person),
        event: MESSAGE_EVENTS[step],
        time: atMs,
        source: 'outreach',
        properties,
      }
      put.run(key, 'events', simulated ? 1 : 0, atMs, JSON.stringify(event))
    },
    /** Something simulated people did beside what they do with messages. */
    did(key: string, person: EventOf['person'], atMs: number, event: string, properties: Record<string, Value>): void {
      const all = { ...properties, [SIMULATED]: true }
      const body = { id: key, ...idsOf(person), event, time: atMs, source: 'outreach', properties: all }
      put.run(key, 'events', 1, atMs, JSON.stringify(body))
    },
    /** A profile value that simulated people chose. */
    wrote(key: string, person: string, atMs: number, properties: Record<string, Value>): void {
      put.run(key, 'people', 1, atMs, JSON.stringify({ person, time: atMs, properties }))
    },
    waiting(most: number): Waiting {
      const rows = some.all(most)
      const runs: (Omit<Waiting['runs'][number], 'body'> & { bodies: string[] })[] = []
      for (const { kind, simulated, at_ms, body } of rows) {
        const last = runs.at(-1)
        if (last && last.kind === kind && last.simulated === (simulated === 1)) {
          last.bodies.push(body)
          last.receivedMs = Math.max(last.receivedMs, at_ms)
        } else runs.push({ kind, simulated: simulated === 1, receivedMs: at_ms, bodies: [body] })
      }
      return {
        upTo: rows.at(-1)?.seq ?? 0,
        runs: runs.map(({ bodies, ...run }) => ({ ...run, body: `[${bodies.join(',')}]` })),
      }
    },
    taken: (upTo: number): void => void drop.run(upTo),
  }
}
