import type { SentencePart } from '../words/sentence.js'
import { own } from '../names.js'
import type { EventPick } from '../questions/parts.js'
import { exactNumber, quoted } from '../words/exact.js'
import { formatDay, formatNumber } from '../words/format.js'
import {
  UNKNOWN_SEGMENT,
  conditionWords,
  eventWords,
  filterWords,
  lastWords,
  propertyWords,
  type Words,
} from '../words/words.js'
import { limitWords } from '../words/limitWords.js'
import {
  conditionsIn,
  isGroup,
  type CountTest,
  type DidCondition,
  type MemberCondition,
  type NumberCompare,
  type Rule,
  type SegmentCondition,
  type SequenceCondition,
  type StudyCondition,
  type TimeCondition,
  type Window,
} from './rule.js'

/** Says who the people of a study's marks are, after "who"; given by the kinds of study, which know their marks. */
export type StudyWords = (condition: StudyCondition, words: Words) => string

/** What a segment is called; one that was deleted keeps its name. */
export function segmentName(id: string, { segments }: Pick<Words, 'segments'>): string {
  return own(segments, id) ?? UNKNOWN_SEGMENT
}

/**
 * A condition in pieces that can be changed, as it stands after "People": *did Ride completed on at least 8 different
 * days in days 31 to 60 before*, *whose Plan is Annual*.
 * @param whole what is at its usual value is said as well, so that it can be pressed
 */
export function conditionParts(
  condition: SegmentCondition,
  words: Words,
  studyWords: StudyWords,
  whole = false,
): SentencePart[] {
  switch (condition.kind) {
    case 'profile':
      return [
        { text: 'whose ' },
        { text: conditionWords(condition.where, words), token: 'where', tone: 'water', path: 'where' },
      ]
    case 'did':
      return didParts(condition, words, whole)
    case 'sequence':
      return sequenceParts(condition, words)
    case 'time':
      return timeParts(condition, words)
    case 'study':
      return [
        { text: condition.not && !words.full ? 'who are not among those ' : 'who ' },
        { text: studyText(condition, words, studyWords), token: 'study', tone: 'water', path: 'study' },
      ]
    case 'segment':
      return memberParts(condition, words)
  }
}

function studyText(condition: StudyCondition, words: Words, studyWords: StudyWords): string {
  const said = studyWords(condition, words)
  if (!condition.not) return said
  return words.full ? said.replace(/^are /, 'are not ') : `who ${said}`
}

/** "did" or "did not do", which can be pressed to have it the other way. */
const leadParts = (not: true | undefined): SentencePart[] =>
  not
    ? [{ text: 'did ' }, { text: 'not', token: 'not', tone: 'brick' }, { text: ' do ' }]
    : [{ text: 'did', token: 'not', tone: 'plain' }, { text: ' ' }]

function pickParts({ event, where }: EventPick, words: Words, path = '', suffix = ''): SentencePart[] {
  const parts: SentencePart[] = [
    { text: eventWords(event, words), token: `event${suffix}`, tone: 'water', path: `${path}event` },
  ]
  if (where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(where, words), token: `where${suffix}`, tone: 'water', path: `${path}where` },
    )
  return parts
}

function didParts(did: DidCondition, words: Words, whole: boolean): SentencePart[] {
  const parts = [...leadParts(did.not), ...pickParts(did, words)]
  if (!did.not && (did.count || whole)) parts.push({ text: ' ' }, ...countParts(did.count, words))
  if (did.window) parts.push(...windowParts(did.window, words))
  else if (whole) parts.push({ text: ' ' }, { text: 'ever', token: 'window', tone: 'hazel', path: 'window' })
  return parts
}

export const AT_LEAST_ONCE: CountTest = { measure: 'times', test: { op: '≥', number: 1 } }

/** "at least 3 times", "on at least 8 different days", "with a sum of Fare of at least 10". */
function countParts(count: CountTest | undefined, words: Words): SentencePart[] {
  const { measure, property, test } = count ?? AT_LEAST_ONCE
  const compare: SentencePart = {
    text: compareWords(test, words),
    ...{ token: 'count', tone: 'hazel', path: 'count.test' },
  }
  const what = (text: string): SentencePart => ({ text, token: 'measure', tone: 'water', path: 'count' })
  const of: SentencePart = {
    text: property ? propertyWords(property, words) : 'a property',
    ...{ token: 'property', tone: 'water', path: 'count.property' },
  }
  const one = 'number' in test && test.number === 1
  switch (measure) {
    case 'times':
      if (test.op === '≥' && test.number === 1 && !words.full)
        return [{ ...compare, text: 'at least once', token: 'count' }]
      return [compare, { text: ' ' }, what(one ? 'time' : 'times')]
    case 'days':
      return [{ text: 'on ' }, compare, { text: ' ' }, what(one ? 'different day' : 'different days')]
    case 'weeks':
      return [{ text: 'in ' }, compare, { text: ' ' }, what(one ? 'different week' : 'different weeks')]
    case 'values':
      return [{ text: 'with ' }, compare, { text: ' ' }, what('different values of'), { text: ' ' }, of]
    case 'sum':
    case 'average':
    case 'maximum':
    case 'minimum':
      return [{ text: 'with ' }, what(`${MEASURE_LEAD[measure]}`), { text: ' ' }, of, { text: ' of ' }, compare]
  }
}

export const MEASURE_LEAD = {
  sum: 'a sum of',
  average: 'an average of',
  maximum: 'a maximum of',
  minimum: 'a minimum of',
} as const

export const COMPARE_WORDS = {
  '=': 'exactly',
  '≠': 'not exactly',
  '<': 'fewer than',
  '≤': 'at most',
  '>': 'more than',
  '≥': 'at least',
} as const

function compareWords(test: NumberCompare, words: Pick<Words, 'full'>): string {
  const number = words.full ? exactNumber : formatNumber
  if (test.op === 'between') return `between ${number(test.numbers[0])} and ${number(test.numbers[1])}`
  return `${COMPARE_WORDS[test.op]} ${number(test.number)}`
}

/** With the word that leads to it. */
function windowParts(window: Window, words: Words): SentencePart[] {
  const token = { token: 'window', tone: 'hazel', path: 'window' } as const
  if ('last' in window)
    return window.last === 1
      ? [{ text: ' ' }, { text: 'today', ...token }]
      : [{ text: ' in ' }, { text: lastWords(window.last, 'day'), ...token }]
  if ('before' in window)
    return [{ text: ' in ' }, { text: `days ${window.before[0]} to ${window.before[1]} before`, ...token }]
  if ('from' in window) {
    const day = (text: string) => formatDay(text, words.thisYear)
    return [{ text: ' from ' }, { text: `${day(window.from)} to ${day(window.to)}`, ...token }]
  }
  const within = { text: `within ${window.days} ${window.days === 1 ? 'day' : 'days'}`, ...token }
  if (window.after === 'first seen') return [{ text: ' ' }, { ...within, text: `${within.text} after first seen` }]
  return [
    { text: ' ' },
    within,
    { text: ' after first doing ' },
    ...pickParts(window.after, words, 'window.after.', ' after'),
  ]
}

function sequenceParts({ steps, within, not }: SequenceCondition, words: Words): SentencePart[] {
  const parts = leadParts(not)
  steps.forEach((step, index) => {
    if (index > 0) parts.push({ text: ', then ' })
    parts.push(...pickParts(step, words, `steps.${index}.`, ` ${index}`))
  })
  return [...parts, { text: ' within ' }, { text: limitWords(within), token: 'within', tone: 'hazel', path: 'within' }]
}

function timeParts({ asked, event, where, when }: TimeCondition, words: Words): SentencePart[] {
  const token = { token: 'when', tone: 'hazel', path: 'when' } as const
  const day = (text: string) => formatDay(text, words.thisYear)
  const said: SentencePart[] =
    'before' in when
      ? [{ text: ' ' }, { text: `before ${day(when.before)}`, ...token }]
      : 'after' in when
        ? [{ text: ' ' }, { text: `after ${day(when.after)}`, ...token }]
        : when.last === 1
          ? [{ text: ' ' }, { text: lastWords(1, when.unit), ...token }]
          : [{ text: ' in ' }, { text: lastWords(when.last, when.unit), ...token }]
  const which = { token: 'asked', tone: 'water', path: 'asked' } as const
  if (asked === 'first seen' || asked === 'last seen') return [{ text: 'were ' }, { text: asked, ...which }, ...said]
  const pick = event ? pickParts(where ? { event, where } : { event }, words) : [{ text: '…', token: 'event' }]
  return [{ text: 'did ' }, ...pick, { text: ' for ' }, { text: `the ${asked}`, ...which }, ...said]
}

function memberParts({ segment, since, not }: MemberCondition, words: Words): SentencePart[] {
  const name = segmentName(segment, words)
  const who: SentencePart = {
    text: words.full ? quoted(name) : name,
    ...{ token: 'segment', tone: 'water', path: 'segment' },
  }
  const negated = not ? 'not ' : ''
  if (since === undefined) return [{ text: `who are ${negated}in ` }, who]
  return [
    { text: `who were ${negated}in ` },
    who,
    { text: ' at any time since ' },
    { text: formatDay(since, words.thisYear), token: 'since', tone: 'hazel', path: 'since' },
  ]
}

/** A condition as plain text, as it stands after "People". */
export function conditionText(condition: SegmentCondition, words: Words, studyWords: StudyWords): string {
  return conditionParts(condition, words, studyWords)
    .map(({ text }) => text)
    .join('')
}

/**
 * Who the people of a rule are, after "people": *who are in Regulars*, *for whom 3 conditions hold*. In full every
 * condition is said, groups in parentheses.
 */
export function ruleWords(rule: Rule, words: Words, studyWords: StudyWords): string {
  if (words.full) return `(${exactRule(rule, words, studyWords)})`
  const said = conditionsIn(rule).filter(({ condition }) => !condition.off)
  if (said.length === 0) return 'of every kind'
  if (said.length > 1 || (isGroup(rule) && rule.hold === 'none')) return holdWords(said.length, rule)
  return who(conditionText(said[0].condition, words, studyWords))
}

/** Who the people of a short rule are, each condition said: *who are in Regulars, but not those who did Ride completed*. */
export function saidWords(rule: Rule, words: Words, studyWords: StudyWords): string | null {
  if (!isGroup(rule) || rule.hold !== 'all' || rule.of.length < 2 || rule.of.length > 3) return null
  const said: string[] = []
  for (const each of rule.of) {
    const alone = isGroup(each) && each.of.length === 1 ? each.of[0] : each
    if (each.off || isGroup(alone) || alone.off) return null
    const text = who(conditionText(alone, words, studyWords))
    const not = isGroup(each) && each.hold === 'none'
    said.push(said.length === 0 ? (not ? `not those ${text}` : text) : not ? `but not those ${text}` : `and ${text}`)
  }
  return said.join(', ')
}

function holdWords(many: number, rule: Rule): string {
  const hold = isGroup(rule) ? rule.hold : 'all'
  if (hold === 'any') return `for whom any of ${many} conditions holds`
  if (hold === 'none')
    return many === 1 ? 'for whom a condition does not hold' : `for whom none of ${many} conditions holds`
  return `for whom ${many} conditions hold`
}

/** "did …" and "were …" stand after "who"; "whose …" by itself. */
function who(text: string): string {
  return text.startsWith('who') ? text : `who ${text}`
}

/** Every condition, so that the very rule can be read back; what says nothing is left out. */
function exactRule(rule: Rule, words: Words, studyWords: StudyWords): string {
  if (!isGroup(rule)) return conditionText(rule, words, studyWords)
  const of = rule.of.filter((inner) => !inner.off && (!isGroup(inner) || inner.of.length > 0))
  if (of.length === 0) return 'everybody'
  const inner = of.map((each) => {
    const said = exactRule(each, words, studyWords)
    return isGroup(each) ? `(${said})` : said
  })
  return `${rule.hold} of: ${inner.join('; ')}`
}
