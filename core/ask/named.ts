import { MEASURES } from '../analyses/trend/measures.js'
import type { SplitRef } from '../questions/split.js'
import { splitWords } from '../words/words.js'
import { readConditions, type Typed } from './conditions.js'
import { bestFirst, eventFirst, eventMentions, personFirst, propertyMentions } from './match.js'
import type { Said } from './said.js'
import { PEOPLE, type Text } from './text.js'
import { wordsOf } from './tokens.js'
import type { Understood } from './understood.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

export interface Properties {
  /** the property that is measured */
  of: KnownProperty | null
  splits: TypedSplit[]
}

/** Groups that were typed: of several properties that answer to the words, the first is meant where no event tells otherwise. */
export interface TypedSplit {
  by: SplitRef
  words: string
  from: number
  options: readonly { property: KnownProperty; fit: number }[]
}

/**
 * Which property groups are by, of the events that are asked about: one that they carry goes before a profile's of the
 * same name, and one that none of them carries is not meant.
 */
export function splitsFor(
  text: Text,
  splits: readonly TypedSplit[],
  events: readonly KnownEvent[],
): Properties['splits'] {
  return splits.map((split) => {
    const worth = ({ property: { property }, fit }: TypedSplit['options'][number]) => {
      if (property.of !== 'event' || events.length === 0) return fit + (property.of === 'person' ? 0.05 : 0)
      return events.some((event) => event.properties.includes(property.name)) ? fit + 0.3 : fit - 2
    }
    const [best] = [...split.options].sort((a, b) => worth(b) - worth(a))
    if (!best || best.property.property === split.by) return split
    const { property, words } = best.property
    const at = text.understood.findIndex((each) => each.from === split.from && each.as === 'property')
    if (at >= 0) text.understood[at] = { ...text.understood[at], means: `for each ${words}` }
    return { ...split, by: property, words }
  })
}

/** What is typed of properties: the one measured, those that make groups, and those that are filtered by. */
export function readNamed(
  text: Text,
  vocabulary: Vocabulary,
  said: Said,
): { properties: Properties; conditions: Typed[] } {
  const properties: Properties = { of: null, splits: [] }
  readSplits(text, vocabulary, properties, said)
  const conditions = readConditions(text, vocabulary)
  const wants = said.measure !== null && MEASURES[said.measure].of !== null
  if (wants) properties.of = readMeasured(text, vocabulary, said)
  // "fares" with no event named: what they add up to.
  else if (
    said.measure === null &&
    !said.any &&
    eventMentions(text.tokens, text.isFree, vocabulary).every(({ fit }) => fit < 0.5)
  ) {
    properties.of = readMeasured(text, vocabulary, { ...said, measure: 'sum' })
    if (properties.of) said.measure = 'sum'
  }
  // "total rides" has no property to add up: it is how often.
  if (wants && !properties.of && said.sort === null) said.measure = said.measure === 'sum' ? 'events' : null
  return { properties, conditions }
}

const CLOCK: [RegExp, SplitRef][] = [
  [/(?:day|days) of (?:the )?week|weekdays?/uy, { of: 'weekday' }],
  [/(?:hour|hours|time) of (?:the )?day/uy, { of: 'hour' }],
]

/** Whom something is counted for, by themselves. */
const PERSON: ReadonlySet<string> = new Set(['person', 'user', 'customer', 'head'])

function readSplits(text: Text, vocabulary: Vocabulary, properties: Properties, said: Said): void {
  const { tokens } = text
  // What is told of people has groups of people only.
  const ofPeople = said.kind === 'habit' || said.kind === 'growth' || said.kind === 'gaps'
  // "top 5 docks" are groups too.
  const top = text.understood.find(({ as }) => as === 'groups')
  const after = top ? tokens.findIndex(({ from }) => from >= top.to) : -1
  if (after >= 0) text.markers[after] ??= 'by'
  // "user type" is a name whose first word names nothing by itself.
  const begun = new Map<number, string>()
  for (let index = 0; index < tokens.length; index++) {
    // After "by" come the groups; more of them after "and" or a comma.
    const follows =
      text.markers[index] === 'and' && properties.splits.length > 0 && lastTook(text, index) === 'property'
    if (text.taken[index] || (text.markers[index] !== 'by' && !follows) || properties.splits.length === 3) continue
    const clock = CLOCK.find(([regex]) => {
      regex.lastIndex = tokens[index]!.from
      return regex.test(text.lower)
    })
    if (clock && !ofPeople) {
      text.take(tokens[index]!.from, clock[0].lastIndex, 'property', `for each ${splitWords(clock[1], {})}`)
      properties.splits.push({ by: clock[1], words: splitWords(clock[1], {}), from: tokens[index]!.from, options: [] })
      continue
    }
    const mentions = bestFirst(
      propertyMentions(
        tokens,
        (at) => text.isFree(at) && (at === index || text.markers[at] === null),
        vocabulary,
      ).filter(
        ({ first, fit, value }) =>
          first === index &&
          fit >= 0.4 &&
          (!ofPeople || value.property.of === 'person') &&
          (!begun.has(index) || wordsOf(value.words).includes(begun.get(index)!)),
      ),
      personFirst,
    )
    const [best] = mentions
    const { word } = tokens[index]!
    const isPer = /per $/.test(text.lower.slice(0, tokens[index]!.from))
    // "rides per rider": whoever is counted, whatever else the word may name.
    if (isPer && PEOPLE.test(word) && !mentions.some(({ fit }) => fit >= 0.9)) {
      text.take(tokens[index]!.from, tokens[index]!.to, 'measure', 'for each person')
      said.perPerson = true
      continue
    }
    if (!best && PERSON.has(word)) {
      // "per person" is no group; "by user type" is one, where there is such a property.
      const isName = propertyMentions(tokens, (at) => text.isFree(at) && text.markers[at] === null, vocabulary).some(
        ({ first, value }) => first === index + 1 && wordsOf(value.words).includes(word),
      )
      if (isName) {
        text.markers[index + 1] = 'by'
        begun.set(index + 1, word)
      } else {
        text.take(tokens[index]!.from, tokens[index]!.to, 'measure', 'for each person')
        said.perPerson = true
      }
      continue
    }
    const rival = eventMentions(tokens, text.isFree, vocabulary).find(
      ({ first, fit }) => first === index && fit > (best?.fit ?? 0),
    )
    // "top 5 districts by rides", "fare per ride": what is done makes no groups.
    // "returns per order": the one over the other.
    if (rival && isPer && said.measure === null && said.kind === null && index > 1) text.markers[index] = 'over'
    if (!best || (rival && (text.markers[index] === 'by' || text.markers[index] === 'over'))) continue
    text.take(tokens[index]!.from, tokens[best.end - 1]!.to, 'property', `for each ${best.value.words}`)
    properties.splits.push({
      ...{ by: best.value.property, words: best.value.words, from: tokens[index]!.from },
      options: mentions.filter(({ end }) => end === best.end).map(({ value, fit }) => ({ property: value, fit })),
    })
    // In a table "by A and B" goes on in the same way.
    const next = tokens[best.end]
    if (next && !text.markers[best.end] && /^\s*,\s*$/.test(text.text.slice(tokens[best.end - 1]!.to, next.from)))
      text.markers[best.end] = said.kind === 'crosstab' ? 'by' : text.markers[best.end]!
  }
}

function lastTook(text: Text, index: number): Understood['as'] | null {
  const before = text.understood.filter(({ to }) => to <= text.tokens[index]!.from).sort((a, b) => b.to - a.to)[0]
  return before && /^\s*(?:,|and|,? and)\s*$/i.test(text.text.slice(before.to, text.tokens[index]!.from))
    ? before.as
    : null
}

function readMeasured(text: Text, vocabulary: Vocabulary, said: Said): KnownProperty | null {
  const numbers = said.measure !== 'distinct values'
  const mentions = propertyMentions(text.tokens, text.isFree, vocabulary).filter(
    ({ value, fit, first }) => fit >= 0.4 && (!numbers || value.kind === 'number') && text.markers[first] !== 'where',
  )
  const [best] = bestFirst(mentions, eventFirst)
  if (!best) return null
  const { tokens } = text
  text.take(tokens[best.first]!.from, tokens[best.end - 1]!.to, 'property', best.value.words)
  return best.value
}
