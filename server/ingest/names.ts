import type { Db } from '../store/database.js'
import type { IncomingEvent, IncomingPerson } from './event.js'
import { LIMITS } from './limits.js'

type Kind = 'event' | 'source' | 'property' | 'profile'

const MOST = {
  event: LIMITS.eventNames,
  source: LIMITS.sources,
  property: LIMITS.propertyNames,
  profile: LIMITS.propertyNames,
} as const

const WORDS = {
  event: { many: 'event names', instead: ': put what differs into a property' },
  source: { many: 'sources', instead: '' },
  property: { many: 'names of properties', instead: ': put what differs into its value' },
  profile: { many: 'names of profile properties', instead: ': put what differs into its value' },
} as const

/**
 * Keeps the number of different names within what a catalog can be read and what columns can number: an id that a sender
 * puts into a name would make a new one each time.
 */
export function nameGuard(db: Db) {
  const read = (sql: string) => new Set(db.prepare<[], string>(sql).pluck().all())
  const known: Record<Kind, Set<string>> = {
    event: read('SELECT name FROM event_types'),
    source: read('SELECT name FROM sources'),
    property: read(`SELECT name FROM properties WHERE scope = 'event'`),
    profile: read(`SELECT name FROM properties WHERE scope = 'person'`),
  }

  /** @returns why one of the names cannot be taken; null where all can, and then they are known */
  function take(names: readonly [Kind, string][]): string | null {
    const fresh = names.filter(([kind, name]) => !known[kind].has(name))
    for (const [at, [kind, name]] of fresh.entries()) {
      if (known[kind].size < MOST[kind]) known[kind].add(name)
      else {
        for (const [ofKind, added] of fresh.slice(0, at)) known[ofKind].delete(added)
        return `there are ${MOST[kind]} different ${WORDS[kind].many} already, and “${name.slice(0, 60)}” would be one more${WORDS[kind].instead}`
      }
    }
    return null
  }

  function allKnown({ event, source, properties }: IncomingEvent): boolean {
    for (const name in properties) if (!known.property.has(name)) return false
    return known.event.has(event) && (source === null || known.source.has(source))
  }

  return {
    /** Why an event cannot be taken for its names; null where it can. */
    refusal(incoming: IncomingEvent): string | null {
      if (allKnown(incoming)) return null
      const { event, source, properties } = incoming
      const names: [Kind, string][] = [['event', event]]
      if (source !== null) names.push(['source', source])
      for (const name in properties) names.push(['property', name])
      return take(names)
    },
    /** The same for somebody's profile. */
    profileRefusal({ properties }: IncomingPerson): string | null {
      return take(Object.keys(properties).map((name) => ['profile', name]))
    },
  }
}
