/** Where an event stands in its session: properties that every event has, made from the events around it. */

export type SessionPart =
  | 'position'
  | 'from the end'
  | 'minutes since start'
  | 'number'
  | 'entry'
  | 'exit'
  | 'before'
  | 'after'
  | 'minutes'
  | 'events'
  | 'only'

export interface SessionProperty {
  name: string
  part: SessionPart
  kind: 'number' | 'text' | 'boolean'
  description: string
  synonyms: string[]
}

/** By what they are called; a property of the data that goes by the same name is read instead. */
export const sessionProperties: readonly SessionProperty[] = [
  property('position in session', 'position', 'number', '1 for the first event of a session, 2 for the next', [
    'depth',
    'how deep into a session',
    'place in the visit',
  ]),
  property('position from the end of the session', 'from the end', 'number', '1 for the last event of a session', []),
  property('minutes into the session', 'minutes since start', 'number', 'Since the first event of the session', []),
  property('session number', 'number', 'number', '1 for all events of somebody’s first session, 2 in the next', []),
  property('entry event', 'entry', 'text', 'The first event of the session', ['first thing in a session']),
  property('exit event', 'exit', 'text', 'The last event of the session so far', ['last thing in a session']),
  property('event before', 'before', 'text', 'The event before it in the session; none for the first', []),
  property('event after', 'after', 'text', 'The event after it in the session; none for the last', []),
  property('session minutes', 'minutes', 'number', 'From the first to the last event of the session', [
    'session length',
  ]),
  property('events in the session', 'events', 'number', 'How many events the session has', []),
  property('only event of its session', 'only', 'boolean', 'Whether nothing else happened in the session', []),
]

function property(
  name: string,
  part: SessionPart,
  kind: SessionProperty['kind'],
  description: string,
  synonyms: string[],
): SessionProperty {
  return { name, part, kind, description, synonyms }
}
