import type { IncomingEvent } from '../ingest/event.js'
import type { Db } from './database.js'

const MOST = 1000

export interface TestEvent {
  id: number
  event: IncomingEvent
  receivedMs: number
}

/** Events that were sent as a test: seen arriving, and counted nowhere. The last ones are kept. */
export function testEventStore(db: Db) {
  const insert = db.prepare('INSERT INTO test_events (received_ms, content) VALUES (?, ?)')
  const trim = db.prepare(`DELETE FROM test_events WHERE id <= (SELECT MAX(id) FROM test_events) - ${MOST}`)
  const newest = db.prepare<[number], { id: number; received_ms: number; content: string }>(
    'SELECT id, received_ms, content FROM test_events ORDER BY id DESC LIMIT ?',
  )
  return {
    add(events: readonly IncomingEvent[], receivedMs: number): void {
      for (const event of events) insert.run(receivedMs, JSON.stringify(event))
      if (events.length > 0) trim.run()
    },
    newest: (limit: number): TestEvent[] =>
      newest.all(limit).map(({ id, received_ms, content }) => ({
        ...{ id, receivedMs: received_ms },
        event: JSON.parse(content) as IncomingEvent,
      })),
  }
}
