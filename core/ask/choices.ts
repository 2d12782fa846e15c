import type { PropertyRef } from '../questions/parts.js'
import type { Typed } from './conditions.js'
import { bestFirst, eventMentions, type Mention } from './match.js'
import type { Said } from './said.js'
import { GOT_THERE, SORTS } from './sorts.js'
import type { Properties } from './named.js'
import { jointBefore, PEOPLE, type Marker, type Text } from './text.js'
import { wordsOf } from './tokens.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

export interface EventChoices {
  events: KnownEvent[]
  spans: { from: number; to: number; means: string; joint: Marker | null }[]
  score: number
  /** what is done is named as things, "rides", rather than as those who do it, "riders": it is counted itself */
  plural: boolean
}

/** The ways in which the words that are left name events; each with all the events of the question, in order. */
export function eventChoices(
  text: Text,
  vocabulary: Vocabulary,
  said: Said,
  of: KnownProperty | null,
  conditions: readonly Typed[],
  splits: Properties['splits'] = [],
): EventChoices[] {
  const { tokens } = text
  const filtered = conditions.flatMap(({ options }) =>
    options.every(({ property }) => property.of === 'event') ? [options.map(({ property }) => nameOf(property))] : [],
  )
  const carries = (event: KnownEvent) =>
    of?.property.of === 'event' && event.properties.includes(of.property.name) ? 0.4 : 0
  const most = Math.max(1, ...vocabulary.events.map(({ recent }) => recent))
  const fits = (event: KnownEvent) =>
    filtered.filter((names) => names.some((name) => event.properties.includes(name))).length * 0.4
  const prefer = (event: KnownEvent) =>
    carries(event) + fits(event) - (event.combined ? 0.1 : 0) + (0.04 * Math.log1p(event.recent)) / Math.log1p(most)
  const all = bestFirst(
    eventMentions(tokens, text.isFree, vocabulary).filter(({ first, end }) =>
      tokens.slice(first + 1, end).every((_, at) => text.markers[first + 1 + at] === null),
    ),
    prefer,
  )
  const slots: Mention<KnownEvent>[][] = []
  // What carries nothing that is measured, or should not be asked about any more, is no second guess.
  const isGuess = (event: KnownEvent) => !event.shy && (of?.property.of !== 'event' || carries(event) > 0)
  for (const mention of all) {
    const slot = slots.find(([kept]) => kept!.first < mention.end && mention.first < kept!.end)
    if (!slot) slots.push([mention])
    else if (
      slot[0]!.first === mention.first &&
      slot[0]!.end === mention.end &&
      slot.length < 3 &&
      isGuess(mention.value)
    )
      slot.push(mention)
  }
  slots.sort((a, b) => a[0]!.first - b[0]!.first)
  // More events than one stand side by side where a word or a comma joins them.
  const named = slots.filter(
    (slot, index) =>
      index === 0 ||
      // Between two there are two, whatever stands before the second: "and the first ride".
      (slot[0]!.fit >= 0.5 &&
        (said.way === 'between' ||
          said.turned ||
          said.shown !== null ||
          said.shareOf === 'people' ||
          (said.shareOf !== null && (said.window !== null || said.kind === 'funnel')) ||
          said.listed ||
          isJoined(text, slots[index - 1]![0]!.end - 1, slot[0]!.first))),
  )
  if (named.length === 0)
    return (
      byWho(text, vocabulary, said, filtered, conditions.length) ??
      withoutEvent(vocabulary, said, of, carriedBy(text, vocabulary, said, splits))
    )
  const choices = named[0]!.flatMap((_, at) => {
    const pick = named.map((slot, index) => (index === 0 || at === 0 ? slot[index === 0 ? at : 0]! : slot[0]!))
    return [pick]
  })
  return choices.map((pick) => ({
    events: pick.map(({ value }, index) => (index === 0 ? together(value, named[0]!, said, vocabulary) : value)),
    spans: pick.map(({ first, end, value }) => ({
      ...{ from: tokens[first]!.from, to: tokens[end - 1]!.to, means: value.words },
      joint: jointBefore(text, first),
    })),
    score: pick.reduce((sum, { fit, value }) => sum + fit + prefer(value), 0),
    plural: tokens.slice(pick[0]!.first, pick[0]!.end).some(
      ({ word }) =>
        /[^s]s$/.test(word) &&
        // "riders" are those who ride; "orders" is what is placed.
        (!/[eo]rs$/.test(word) || wordsOf(pick[0]!.value.words).includes(word.slice(0, -1))) &&
        !wordsOf(pick[0]!.value.words).includes(word),
    ),
  }))
}

/** Where people are asked for by a value alone: what they do who are called so, else anything. */
function byWho(
  text: Text,
  vocabulary: Vocabulary,
  said: Said,
  filtered: readonly string[][],
  many: number,
): EventChoices[] | null {
  if (!said.listed || many === 0) return null
  return byPeople(text, vocabulary, filtered) ?? [{ events: [], spans: [], score: 0.3, plural: false }]
}

/** "riders who used cargo bikes": what they do who are called so, of what carries the value. */
function byPeople(text: Text, vocabulary: Vocabulary, filtered: readonly string[][]): EventChoices[] | null {
  const carries = ({ properties }: KnownEvent) =>
    filtered.every((names) => names.some((name) => properties.includes(name)))
  const called = eventMentions(text.tokens.slice(0, 3), () => true, vocabulary).filter(({ value }) => carries(value))
  const [best] = bestFirst(called, ({ recent }) => recent / 1e9)
  if (!best || filtered.length === 0) return null
  const { from, to } = text.tokens[best.first]!
  return [
    { events: [best.value], spans: [{ from, to, means: best.value.words, joint: null }], score: 0.4, plural: false },
  ]
}

/** "revenue from passes": every event of that name in which something is paid. */
function together(
  event: KnownEvent,
  slot: readonly Mention<KnownEvent>[],
  { sort }: Said,
  { properties }: Vocabulary,
): KnownEvent {
  if (sort !== 'money') return event
  const paid = new Set(
    properties.flatMap(({ property, kind }) =>
      property.of === 'event' && kind === 'number' && SORTS.money.test(property.name) ? [property.name] : [],
    ),
  )
  const alike = slot.filter(
    ({ value, fit }) =>
      !value.combined && fit >= slot[0]!.fit - 0.05 && value.properties.some((name) => paid.has(name)),
  )
  if (alike.length < 2 || !alike.some(({ value }) => value === event || event.combined)) return event
  const names = alike.map(({ value }) => value)
  const shared = names[0].properties.filter((name) => names.every((each) => each.properties.includes(name)))
  return { ...names[0], together: names.map(({ name }) => name).sort(), properties: shared }
}

function isJoined(text: Text, last: number, next: number): boolean {
  const joint = jointBefore(text, next)
  return (
    joint === 'and' ||
    joint === 'then' ||
    joint === 'over' ||
    text.text.slice(text.tokens[last]!.to, text.tokens[next]!.from).includes(',')
  )
}

const nameOf = (property: PropertyRef) => (property.of === 'source' ? 'source' : property.name)

/** "revenue": the event at which something is paid, by what is called so, then by what tells that it is done. */
function whatIsPaid({ events, properties }: Vocabulary): EventChoices[] {
  const paid = properties.flatMap(({ property, kind, synonyms }) =>
    property.of === 'event' && kind === 'number' && SORTS.money.test(property.name)
      ? [{ name: property.name, called: synonyms.some((each) => /revenue/i.test(each)) }]
      : [],
  )
  const worth = (event: KnownEvent) => {
    const own = paid.filter(({ name }) => event.properties.includes(name))
    if (own.length === 0 || event.shy || event.combined) return -1
    return (own.some(({ called }) => called) ? 2 : 0) + (GOT_THERE.test(event.words) ? 1 : 0) + event.recent / 1e9
  }
  const [best] = [...events].sort((a, b) => worth(b) - worth(a))
  return best && worth(best) >= 0 ? [{ events: [best], spans: [], score: 0.3, plural: true }] : []
}

/** "most popular docks": the commonest event that has them; "customers by country": whoever does anything. */
function carriedBy(text: Text, { events }: Vocabulary, said: Said, splits: Properties['splits']): EventChoices[] {
  const names = splits.flatMap(({ by }) => (by.of === 'event' ? [by.name] : []))
  if (names.length > 0) {
    const [best] = events
      .filter(({ properties, shy, combined }) => !shy && !combined && names.every((name) => properties.includes(name)))
      .sort((a, b) => b.recent - a.recent)
    return best ? [{ events: [best], spans: [], score: 0.3, plural: true }] : []
  }
  const counted = text.tokens.some(({ word }) => PEOPLE.test(word))
  return counted && (splits.length > 0 || said.every !== null)
    ? [{ events: [], spans: [], score: 0.3, plural: false }]
    : []
}

/** Kinds that can be asked of nothing in particular. */
const ANYTHING: ReadonlySet<string> = new Set(['retention', 'growth', 'funnel'])

/** No event is named: anything, where that is said; the commonest event that carries what is measured; else nothing. */
function withoutEvent(
  vocabulary: Vocabulary,
  said: Said,
  of: KnownProperty | null,
  carried: EventChoices[],
): EventChoices[] {
  const { events } = vocabulary
  if (said.any || said.measure === 'sessions' || said.ratio || ANYTHING.has(said.kind ?? ''))
    return [{ events: [], spans: [], score: 0.5, plural: false }]
  if (said.sort === 'money') return whatIsPaid(vocabulary)
  if (of?.property.of !== 'event') return carried
  const { name } = of.property
  const [best] = events
    .filter(({ properties, shy }) => properties.includes(name) && !shy)
    .sort((a, b) => b.recent - a.recent)
  return best ? [{ events: [best], spans: [], score: 0.3, plural: false }] : []
}
