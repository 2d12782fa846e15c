import type { Db } from '../store/database.js'
import type { IncomingEvent } from './event.js'
import { LIMITS } from './limits.js'

/**
 * Keeps the number of different names within what a catalog can be read and what columns can number: an id that a sender
 * puts into the event's name would make a new one each time.
 */
export function nameGuard(db: Db) {
  const names = {
    event: new Set(db.prepare<[], string>('SELECT name FROM event_types').pluck().all()),
    source: new Set(db.prepare<[], string>('SELECT name FROM sources').pluck().all()),
  }
  const most = { event: LIMITS.eventNames, source: LIMITS.sources }

  function isNew(of: 'event' | 'source', name: string): boolean {
    return !names[of].has(name) && names[of].size >= most[of]
  }

  return {
    /** Why an event cannot be taken for its names; null where it can, and then they are known. */
    refusal({ event, source }: IncomingEvent): string | null {
      if (isNew('event', event))
        return `there are ${LIMITS.eventNames} different event names already, and “${event.slice(0, 60)}” would be one more: put what differs into a property`
      if (source !== null && isNew('source', source))
        return `there are ${LIMITS.sources} different sources already, and “${source.slice(0, 60)}” would be one more`
      names.event.add(event)
      if (source !== null) names.source.add(source)
      return null
    },
  }
}
