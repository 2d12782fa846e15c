import type { Condition } from '../questions/parts.js'
import { conditionWords } from '../words/words.js'
import {
  bestFirst,
  eventFirst,
  eventMentions,
  personFirst,
  propertyMentions,
  valueMentions,
  WHOLE_NAME,
} from './match.js'
import { PEOPLE, WITHOUT, type Text } from './text.js'
import { FILLERS, likeness, wordsOf } from './tokens.js'
import type { KnownEvent, KnownProperty, Vocabulary } from './vocabulary.js'

/** A condition that was typed, in all the ways it may be meant. */
export interface Typed {
  from: number
  to: number
  options: Condition[]
}

const COMPARED: [RegExp, '>' | '≥' | '<' | '≤' | '=' | '≠'][] = [
  [/(?:is )?(?:at least|>=|≥|no less than)/uy, '≥'],
  [/(?:is )?(?:at most|<=|≤|no more than|up to)/uy, '≤'],
  [/(?:is )?(?:more than|over|above|greater than|longer than|>)/uy, '>'],
  [/(?:is )?(?:less than|fewer than|under|below|shorter than|<)/uy, '<'],
  [/(?:is not|≠|!=)/uy, '≠'],
  [/(?:is|equals|=)/uy, '='],
]
const NUMERAL = /-?\d[\d,]*(?:\.\d+)?(?![\p{L}\p{N}])/uy

/** "a monthly plan", "day pass riders": a value before the name of its property means that, whatever else it may say. */
export function readOwnedValues(text: Text, vocabulary: Vocabulary): Typed[] {
  const { tokens } = text
  const found: Typed[] = []
  const events = eventMentions(tokens, text.isFree, vocabulary)
  for (const { first, end, fit, value } of bestFirst(valueMentions(tokens, text.isFree, vocabulary), () => 0)) {
    const next = tokens[end]
    // "notice opened" is the event of that very name.
    if (events.some((event) => event.first <= first && event.end > end && event.fit >= WHOLE_NAME)) continue
    if (!next || fit < 0.9 || !tokens.slice(first, end).every((_, at) => text.isFree(first + at))) continue
    const own = wordsOf(value.property.words).filter((word) => !FILLERS.has(word))
    if (own.length !== 1 || likeness(next, own[0]!) < 0.95) continue
    const same = valueMentions(tokens, text.isFree, vocabulary).filter(
      (each) =>
        each.first === first && each.end === end && likeness(next, wordsOf(each.value.property.words)[0]!) >= 0.95,
    )
    const options = same.map(({ value: { property, value: one } }): Condition => ({
      ...{ property: property.property, op: 'is', values: [one] },
    }))
    const range = [tokens[first]!.from, next.to] as const
    text.take(...range, 'value', `${value.property.words} is ${value.value}`)
    found.push({ from: range[0], to: range[1], options })
  }
  return found
}

/** "minutes over 20", "plan is Annual", and values named by themselves. */
export function readConditions(text: Text, vocabulary: Vocabulary): Typed[] {
  const found: Typed[] = []
  const { tokens } = text
  const isOpen = (index: number) => text.isFree(index)
  const typed = (first: number, to: number, options: Condition[], words: string) => {
    text.take(tokens[first]!.from, to, 'value', words)
    found.push({ from: tokens[first]!.from, to, options })
  }
  for (const { from, to, condition } of amountConditions(text, vocabulary)) {
    text.take(from, to, 'value', conditionWords(condition, wordsOnly(vocabulary)))
    found.push({ from, to, options: [condition] })
  }
  for (const { first, end, value, fit } of bestFirst(propertyMentions(tokens, isOpen, vocabulary), personFirst)) {
    if (fit < 0.6 || !tokens.slice(first, end).every((_, at) => text.isFree(first + at))) continue
    const at = tokens[end - 1]!.to + 1
    const condition =
      (value.kind === 'number' ? numberCondition(text.lower, at, value) : textCondition(text, at, value)) ??
      (value.kind === 'boolean' && fit >= 0.6 ? yesOrNo(text, first, end, value) : null) ??
      (fit >= 0.9 ? (missingCondition(text, first, end, value) ?? presentCondition(text, first, end, value)) : null)
    if (condition && !text.isTaken(tokens[end - 1]!.to, condition.end))
      typed(first, condition.end, [condition.condition], conditionWords(condition.condition, wordsOnly(vocabulary)))
  }
  // "at a kiosk" is at the station kiosk, where something comes from; elsewhere part of a name would be a guess.
  const isPlaced = (first: number) =>
    /(?:at|in|on|via|from|through|by) (?:an? |the |our )?$/u.test(text.lower.slice(0, tokens[first]!.from))
  const values = valueMentions(tokens, isOpen, vocabulary, 0.7).filter(
    ({ fit, first, value }) => fit >= 0.85 || (value.property.property.of === 'source' && isPlaced(first)),
  )
  const events = eventMentions(tokens, isOpen, vocabulary)
  const named = propertyMentions(tokens, isOpen, vocabulary)
  for (const { first, end, fit, value } of bestFirst(values, () => 0)) {
    if (!tokens.slice(first, end).every((_, at) => text.isFree(first + at))) continue
    // "mail opened" is the event, not the value "mail".
    if (
      events.some(
        (event) =>
          event.first <= first && event.end >= end && event.end - event.first > end - first && event.fit >= 0.6,
      )
    )
      continue
    const isPlace = value.property.property.of === 'source' && isPlaced(first)
    const rival = events.find((event) => event.first === first && event.end === end && event.fit >= Math.min(fit, 0.5))
    // "starter teams comment" has another event: what is a value to the letter is one there.
    const others = events.some((event) => (event.first >= end || event.end <= first) && event.fit >= 0.5)
    const isProfile = value.property.property.of === 'person'
    // "enterprise than starter": two values of one property, to the letter, are beside each other.
    const { property: of } = value.property
    const isPaired =
      fit === 1 &&
      values.some(
        (each) =>
          (each.first >= end || each.end <= first) &&
          each.fit === 1 &&
          each.value.value !== value.value &&
          JSON.stringify(each.value.property.property) === JSON.stringify(of),
      )
    if (
      !isPlace &&
      !isPaired &&
      rival &&
      !(
        others &&
        ((isProfile && fit > rival.fit + 0.1) ||
          (fit === 1 && rival.fit < 0.6 && wordsOf(value.value).length === end - first))
      )
    )
      continue
    // "teams" are whoever is counted, before they are a value that is called so in the singular.
    if (end === first + 1 && PEOPLE.test(tokens[first]!.word) && tokens[first]!.word !== value.value.toLowerCase())
      continue
    // A property of that very name is what is meant, "fares", rather than a value that is called the same.
    if (named.some((each) => each.first === first && each.end === end && each.fit >= 0.9)) continue
    const same = values.filter((each) => each.first === first && each.end === end && each.fit >= fit - 0.05)
    const negated = negatedAt(text, first)
    const options = same.map(({ value: { property, value } }): Condition => ({
      ...{ property: property.property, op: negated ? 'is not' : 'is', values: [value] },
    }))
    const [shown] = same
    // "cargo bikes": the next word says of which property the value is.
    const next = tokens[end]
    const said = next && text.isFree(end) && !text.markers[end] ? next : null
    const names = said
      ? same.filter(({ value: { property } }) => wordsOf(property.words).some((word) => likeness(said, word) >= 0.95))
      : []
    const last = names.length > 0 && !events.some((event) => event.first === end && event.fit >= 0.5) ? end : end - 1
    // "business teams": who they are called is no more than that.
    const after = tokens[last + 1]
    if (
      after &&
      shown!.value.property.property.of === 'person' &&
      text.isFree(last + 1) &&
      !text.markers[last + 1] &&
      PEOPLE.test(after.word) &&
      !events.some((event) => event.first === last + 1 && event.fit >= 0.5)
    )
      text.taken[last + 1] = true
    const words = `${shown!.value.property.words} is ${negated ? 'not ' : ''}${shown!.value.value}`
    typed(first, tokens[last]!.to, options, words)
  }
  return found
}

function negatedAt(text: Text, index: number): boolean {
  for (let at = index; at >= 0; at--) {
    if (text.markers[at] === 'not') return true
    if (text.markers[at] !== null && text.markers[at] !== 'and') return false
    if (at < index && !text.taken[at]) return false
  }
  return false
}

const wordsOnly = ({ properties, thisYear }: Vocabulary) => ({
  ...{ thisYear, full: true },
  labels: {
    events: {},
    properties: Object.fromEntries(
      properties.map(({ property, words }) => [
        property.of === 'source' ? 'source' : `${property.of} ${property.name}`,
        words,
      ]),
    ),
  },
})

function numberCondition(
  lower: string,
  at: number,
  { property }: KnownProperty,
): { condition: Condition; end: number } | null {
  const between = /(?:is )?between (-?[\d.,]+) and (-?[\d.,]+)(?![\p{L}\p{N}])/uy
  between.lastIndex = at
  const pair = between.exec(lower)
  if (pair) {
    const numbers = [pair[1], pair[2]].map((each) => Number(each!.replaceAll(',', ''))) as [number, number]
    return { condition: { property, op: 'between', numbers }, end: between.lastIndex }
  }
  for (const [regex, op] of COMPARED) {
    regex.lastIndex = at
    if (!regex.test(lower)) continue
    NUMERAL.lastIndex = regex.lastIndex + (lower[regex.lastIndex] === ' ' ? 1 : 0)
    const match = NUMERAL.exec(lower)
    if (match)
      return { condition: { property, op, number: Number(match[0].replaceAll(',', '')) }, end: NUMERAL.lastIndex }
  }
  return null
}

/** "over 30 minutes": the number comes before what it is of. */
function amountConditions(text: Text, vocabulary: Vocabulary): { from: number; to: number; condition: Condition }[] {
  const found: { from: number; to: number; condition: Condition }[] = []
  text.tokens.forEach((token, index) => {
    if (text.taken[index] && text.markers[index] === null && !/^(?:over|above|under|below)$/.test(token.word)) return
    for (const [regex, op] of COMPARED.slice(0, 4)) {
      regex.lastIndex = token.from
      if (!regex.test(text.lower)) continue
      NUMERAL.lastIndex = regex.lastIndex + (text.lower[regex.lastIndex] === ' ' ? 1 : 0)
      const match = NUMERAL.exec(text.lower)
      const next = match ? text.tokens.findIndex(({ from }) => from >= NUMERAL.lastIndex) : -1
      if (!match || next < 0) continue
      const [best] = bestFirst(propertyMentions(text.tokens, text.isFree, vocabulary), eventFirst).filter(
        ({ first, value, fit }) => first === next && value.kind === 'number' && fit >= 0.6,
      )
      if (!best) continue
      const condition: Condition = { property: best.value.property, op, number: Number(match[0].replaceAll(',', '')) }
      found.push({ from: token.from, to: text.tokens[best.end - 1]!.to, condition })
      return
    }
  })
  return found
}

/** "with a coupon": those that carry one. */
function presentCondition(
  { lower, tokens }: Text,
  first: number,
  end: number,
  { property, kind }: KnownProperty,
): { condition: Condition; end: number } | null {
  const says = /(?<![\p{L}])(?:with|that have|having|used|using) an? $/u.test(lower.slice(0, tokens[first]!.from))
  return says && kind === 'text' ? { condition: { property, op: 'has a value' }, end: tokens[end - 1]!.to } : null
}

/** "with a helmet", "without a helmet": of what is yes or no. */
function yesOrNo(
  { lower, tokens }: Text,
  first: number,
  end: number,
  { property }: KnownProperty,
): { condition: Condition; end: number } | null {
  const before = lower.slice(0, tokens[first]!.from)
  if (new RegExp(`${WITHOUT} $`, 'u').test(before))
    return { condition: { property, op: 'is false' }, end: tokens[end - 1]!.to }
  if (!/(?:with|wearing|using|having|has|have|had|were|was|are|is)(?: an?| the)? $/u.test(before)) return null
  return { condition: { property, op: 'is true' }, end: tokens[end - 1]!.to }
}

/** "without a bike type": those that carry none. */
function missingCondition(
  { lower, tokens }: Text,
  first: number,
  end: number,
  { property }: KnownProperty,
): { condition: Condition; end: number } | null {
  const says = new RegExp(`${WITHOUT} $`, 'u').test(lower.slice(0, tokens[first]!.from))
  return says ? { condition: { property, op: 'has no value' }, end: tokens[end - 1]!.to } : null
}

/** "plan is Annual", "page contains docs": the value as it is known, or as it was typed. */
function textCondition(text: Text, at: number, known: KnownProperty): { condition: Condition; end: number } | null {
  const operator = /(is not|isn’t|isn't|≠|is|equals|=|contains|starts with|ends with) /uy
  operator.lastIndex = at
  const match = operator.exec(text.lower)
  const first = match && text.tokens.findIndex(({ from }) => from >= operator.lastIndex)
  if (!match || first === null || first < 0) return null
  const { property } = known
  const token = text.tokens[first]!
  const typed = token.quoted ? text.text.slice(token.from + 1, token.to - 1) : text.text.slice(token.from, token.to)
  const word = match[1]!
  if (word === 'contains' || word === 'starts with' || word === 'ends with')
    return { condition: { property, op: word, text: typed }, end: token.to }
  const op = /not|n’t|n't|≠/.test(word) ? 'is not' : 'is'
  const [value] = valueMentions(text.tokens, text.isFree, {
    properties: [known],
    events: [],
    segments: [],
    thisYear: 0,
    today: '',
  })
    .filter((each) => each.first === first)
    .sort((a, b) => b.end - a.end || b.fit - a.fit)
  if (value) return { condition: { property, op, values: [value.value.value] }, end: text.tokens[value.end - 1]!.to }
  return { condition: { property, op, values: [typed] }, end: token.to }
}

/** The conditions that go with the events: of several ways one is meant, that which the events carry. */
export function conditionsFor(
  text: Text,
  typed: readonly Typed[],
  events: readonly KnownEvent[],
  vocabulary: Vocabulary,
): { from: number; condition: Condition }[] {
  const carried = (condition: Condition) => {
    const { property } = condition
    return property.of === 'event' ? (events.some((each) => each.properties.includes(property.name)) ? 2 : 0) : 1
  }
  return typed.map(({ from, to, options }) => {
    const condition = [...options].sort((a, b) => carried(b) - carried(a))[0]!
    const entry = text.understood.find((each) => each.from === from && each.to === to)
    if (entry)
      text.understood[text.understood.indexOf(entry)] = {
        ...entry,
        means: conditionWords(condition, wordsOnly(vocabulary)),
      }
    return { from, condition }
  })
}
