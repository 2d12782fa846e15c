import { FILLERS, likeness, stemOf, wordsOf, type Token } from './tokens.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

/** Some typed words that may mean one of the things there are to ask about. */
export interface Mention<T> {
  /** the first token, and the one after the last */
  first: number
  end: number
  value: T
  /** 0 to 1 */
  fit: number
}

/** The value of a property, by which one filters. */
export interface KnownValue {
  property: KnownProperty
  value: string
}

/** Words that deny, join or compare: no name goes across them. */
const BREAKS = new Set([
  'never',
  'not',
  'but',
  'no',
  'without',
  'both',
  'neither',
  'nor',
  'except',
  'excluding',
  'versus',
  'vs',
])

/** How well words fit that are the whole name of an event; of one that is put last, too. */
export const WHOLE_NAME = 0.69

/** The most words that are taken together as one name. */
const LONGEST = 5

interface Thing<T> {
  value: T
  /** the words of each of its names, and which of them carry meaning */
  names: { words: readonly string[]; content: number }[]
  description: readonly string[]
  shy: boolean
  /** answers to its own words alone */
  exact?: true
}

function thingOf<T>(value: T, names: readonly string[], description: string, shy: boolean): Thing<T> {
  // "signup" is what "Signed up" is called in one word.
  const joined = names.flatMap((name) => {
    const [first, second, ...more] = wordsOf(name)
    return first !== undefined && second !== undefined && more.length === 0 ? [`${stemOf(first)}${second}`] : []
  })
  const split = [...names, ...joined].map((name) => {
    const words = wordsOf(name)
    return { words, content: Math.max(1, words.filter((word) => !FILLERS.has(word)).length) }
  })
  return { value, names: split, description: wordsOf(description).filter((word) => !FILLERS.has(word)), shy }
}

/**
 * How well some words answer to a thing: to its names word by word, however they are bent or misspelt, and less to what
 * is said of it. Every typed word must answer to one of the name's.
 */
function fitOf<T>(tokens: readonly Token[], { names, description, exact }: Thing<T>): number {
  let best = 0
  names.forEach(({ words, content }, place) => {
    let sum = 0
    for (const token of tokens) {
      let like = 0
      for (const word of words) like = Math.max(like, likeness(token, word, !exact))
      if (like === 0) return
      sum += like
    }
    const covered = Math.min(1, tokens.length / content)
    best = Math.max(best, (sum / tokens.length) * (0.55 + 0.45 * covered) * (place === 0 ? 1 : 0.98))
  })
  if (best > 0 || description.length === 0) return best
  const told = (token: Token) => token.word.length >= 4 && description.some((word) => likeness(token, word) >= 0.9)
  // One word that is said of many things, what was stopped or is first, is no name.
  const isCommon =
    tokens.length === 1 &&
    (tokens[0]!.word.length < 5 || /(?:ed|ing)$|^(?:first|again|other|every|after)$/.test(tokens[0]!.word))
  return !isCommon && tokens.every(told) ? 0.3 : 0
}

function mentionsOf<T>(
  tokens: readonly Token[],
  isFree: (index: number) => boolean,
  things: readonly Thing<T>[],
): Mention<T>[] {
  const found: Mention<T>[] = []
  const isFiller = (token: Token) => !token.quoted && FILLERS.has(token.word)
  for (let first = 0; first < tokens.length; first++)
    for (let end = first + 1; end <= Math.min(tokens.length, first + LONGEST) && isFree(end - 1); end++) {
      if (!tokens[end - 1]!.quoted && BREAKS.has(tokens[end - 1]!.word)) break
      if (isFiller(tokens[first]!) || isFiller(tokens[end - 1]!)) continue
      // "bought a pass" is "pass bought": what names nothing may stand between.
      const said = tokens.slice(first, end).filter((token) => !isFiller(token))
      for (const thing of things) {
        const fit = fitOf(said, thing) * (thing.shy ? 0.7 : 1)
        if (fit > 0) found.push({ first, end, value: thing.value, fit })
      }
    }
  return found
}

/** All that typed words can name, made ready once for a vocabulary. */
interface NameIndex {
  events: readonly Thing<KnownEvent>[]
  properties: readonly Thing<KnownProperty>[]
  values: readonly Thing<KnownValue>[]
}

const ready = new WeakMap<Vocabulary, NameIndex>()

function nameIndexOf(vocabulary: Vocabulary): NameIndex {
  let index = ready.get(vocabulary)
  if (!index) {
    const { events, properties } = vocabulary
    index = {
      events: events.map((each) => thingOf(each, namesOf(each, each.name), each.description, each.shy)),
      properties: properties.map((each) =>
        thingOf(
          each,
          namesOf(each, each.property.of === 'source' ? 'source' : each.property.name),
          each.description,
          each.shy,
        ),
      ),
      values: properties.flatMap((property) =>
        property.kind === 'text' || property.kind === 'list'
          ? property.values.map((value) => ({
              ...thingOf({ property, value }, [value], '', property.shy),
              // Whoever looks is no visitor.
              exact: true as const,
            }))
          : [],
      ),
    }
    ready.set(vocabulary, index)
  }
  return index
}

type IsFree = (index: number) => boolean

export function eventMentions(tokens: readonly Token[], isFree: IsFree, vocabulary: Vocabulary) {
  return mentionsOf(tokens, isFree, nameIndexOf(vocabulary).events)
}

export function propertyMentions(tokens: readonly Token[], isFree: IsFree, vocabulary: Vocabulary) {
  return mentionsOf(tokens, isFree, nameIndexOf(vocabulary).properties)
}

export function valueMentions(tokens: readonly Token[], isFree: IsFree, vocabulary: Vocabulary, least = 0.85) {
  // Part of a value's words would be a guess: "day" is no "Day pass".
  return mentionsOf(tokens, isFree, nameIndexOf(vocabulary).values).filter(({ fit }) => fit >= least)
}

function namesOf({ words, synonyms }: { words: string; synonyms: readonly string[] }, name: string): string[] {
  return [...new Set([words.replace(/ of the event$/, ''), name, ...synonyms])]
}

/** Which mention wins a place: the longer and the better one; of equals, whatever `prefer` gives more for. */
export function bestFirst<T>(mentions: Mention<T>[], prefer: (value: T) => number): Mention<T>[] {
  const weight = ({ first, end, fit, value }: Mention<T>) => fit * (end - first + 0.5) + prefer(value)
  return [...mentions].sort((a, b) => weight(b) - weight(a) || a.first - b.first)
}

/** Of equally good matches, what is measured or counted is a property of the event. */
export const eventFirst = (property: KnownProperty) => (property.property.of === 'event' ? 0.05 : 0)
/** Of equally good matches, groups and filters are by the profile's property: it holds for every event. */
export const personFirst = (property: KnownProperty) => (property.property.of === 'person' ? 0.05 : 0)
