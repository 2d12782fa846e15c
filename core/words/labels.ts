import { NOW, OF_THE_EVENT, propertyWords, type Labels } from './words.js'

interface NamedEvent {
  name: string
  /** what it is to be called; empty = its name */
  display: string
}

type NamedProperty = NamedEvent & { of: 'event' | 'person' }

/**
 * What things are called, so that no two events and no two properties share a name: a sentence must not leave open what
 * it counts. Of an event's property and a profile's that are called the same, the event's says so; of others the first
 * keeps the name, and the rest have the name they arrive under beside it.
 * @param properties the commonest first
 */
export function distinctLabels(events: readonly NamedEvent[], properties: readonly NamedProperty[]): Labels {
  const person = properties.filter(({ of }) => of === 'person').map(wordsOf)
  const taken = new Set(person.map(({ words }) => words.toLowerCase()))
  const ofEvents = properties
    .filter(({ of }) => of === 'event')
    .map(wordsOf)
    .map((each) => (taken.has(each.words.toLowerCase()) ? { ...each, words: each.words + OF_THE_EVENT } : each))
  return {
    events: distinct(
      events.map(({ name, display }) => ({ id: name, name, words: display || name })),
      ['anything'],
      (name) => name,
    ),
    properties: distinct(
      [...person, ...ofEvents],
      ['source', 'day of week', 'hour of day', ...[...taken].map((words) => words + NOW)],
      (name) => propertyWords({ of: 'event', name }, {}),
    ),
  }
}

function wordsOf({ of, name, display }: NamedProperty) {
  return { id: `${of} ${name}`, name, words: display || propertyWords({ of, name }, {}) }
}

/** @param usual the words of a name when nothing is said of it: only what differs from those is kept */
function distinct(
  all: readonly { id: string; name: string; words: string }[],
  reserved: readonly string[],
  usual: (name: string) => string,
) {
  const taken = new Set(reserved)
  return Object.fromEntries(
    all.flatMap(({ id, name, words }): [string, string][] => {
      const isTaken = taken.has(words.toLowerCase()) && words !== name
      taken.add(words.toLowerCase())
      const label = isTaken ? `${words} (${name})` : words
      return label === usual(name) ? [] : [[id, label]]
    }),
  )
}
