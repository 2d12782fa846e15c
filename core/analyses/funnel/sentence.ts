import { readsEvent } from '../../questions/groupedBy.js'
import { type SentencePart, sentenceText } from '../../words/sentence.js'
import { joinWords } from '../../words/format.js'
import {
  groupWords,
  eventWords,
  filterWords,
  propertyWords,
  rangeWords,
  type Words,
  compareWords,
} from '../../words/words.js'
import { limitWords } from '../../words/limitWords.js'
import { exactNumber } from '../../words/exact.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts, breakdownText } from '../splitParts.js'
import type { EntryTest, Forbidden, FunnelQuestion, FunnelStep } from './question.js'

export const ORDER_WORDS = {
  'one after another': 'one after another',
  'back to back': 'back to back',
  'any order': 'whatever the order',
} as const

/** The question in plain words. The steps themselves, and what must not happen, are the rows of the chart, and stand there. */
export function funnelSentence(question: FunnelQuestion, words: Words): SentencePart[] {
  const range = rangeWords(question.range, words)
  const parts: SentencePart[] = [
    { text: 'How many ' },
    { text: question.count ?? 'people', token: 'count', tone: 'water', path: 'count' },
    { text: ' get through these steps, ' },
    { text: ORDER_WORDS[question.order ?? 'one after another'], token: 'order', tone: 'water', path: 'order' },
    { text: ', within ' },
    { text: limitWords(question.window), token: 'window', tone: 'hazel', path: 'window' },
    { text: `, starting ${startLead(range.lead)}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
  ]
  const { first, same, compare, target } = question
  if (first)
    parts.push({ text: ' for ' }, { text: 'the first time ever', token: 'first', tone: 'water', path: 'first' })
  if (same)
    parts.push(
      { text: ', with the same ' },
      { text: propertyWords(same, words), token: 'same', tone: 'water', path: 'same' },
      { text: ' all the way' },
    )
  if (compare)
    parts.push(
      { text: ', compared with ' },
      { text: compareWords(compare, words), token: 'compare', tone: 'hazel', path: 'compare' },
    )
  parts.push(...breakdownParts(question.breakdowns, words))
  const read = readWords(question)
  if (read) parts.push({ text: ' ' }, { text: read.trim(), token: 'breakdown', tone: 'water', path: 'readAt' })
  parts.push(...amongParts(question, words))
  if (target !== undefined)
    parts.push({ text: ', aiming at ' }, { text: targetWords(target), token: 'target', tone: 'hazel', path: 'target' })
  parts.push({ text: '?' })
  return parts
}

function readWords({ breakdowns, readAt }: FunnelQuestion): string {
  return readAt && readsEvent(breakdowns) ? ` at step ${readAt + 1}` : ''
}

export function targetWords(target: number): string {
  return `${exactNumber(Number((target * 100).toPrecision(12)))} %`
}

/** Entries start on or after a day, not since it. */
function startLead(lead: string): string {
  return lead === 'since ' ? 'on or after ' : lead === 'from ' ? '' : lead
}

/** Where the steps are not drawn beside it, the sentence names them. */
export function funnelCaption(question: FunnelQuestion, words: Words): string {
  const { steps, order, first, same, forbidden, compare, target } = question
  const said = steps.map((step) => wholeStep(step, words))
  const range = rangeWords(question.range, words)
  return [
    `How many ${question.count ?? 'people'} get ${said.length > 1 ? 'from ' : 'to '}${said.join(' to ')}`,
    ` within ${limitWords(question.window)}`,
    order ? `, ${ORDER_WORDS[order]}` : '',
    `, starting ${startLead(range.lead)}${range.text}`,
    first ? ' for the first time ever' : '',
    same ? `, with the same ${propertyWords(same, words)} all the way` : '',
    forbidden?.length
      ? `, without ${joinWords(
          forbidden.map((each) => forbiddenWords(each, words)),
          'and',
        )}`
      : '',
    compare ? `, compared with ${compareWords(compare, words)}` : '',
    breakdownText(question.breakdowns, words) + readWords(question),
    sentenceText(amongParts(question, words)),
    target === undefined ? '' : `, aiming at ${targetWords(target)}`,
    '?',
  ].join('')
}

/** `Ride completed where Minutes > 5 with Dock = Dock at the start (optional)`. */
function wholeStep(step: FunnelStep, words: Words): string {
  const { event, where, entry } = stepWords(step, words)
  return [event, where, entry, step.optional ? '(optional)' : null].filter((part) => part !== null).join(' ')
}

/** `Card refused (after step 2)`. */
export function forbiddenWords({ event, where, after }: Forbidden, words: Words): string {
  const said = `${eventWords(event, words)}${where ? ` where ${filterWords(where, words)}` : ''}`
  return after === undefined ? said : `${said} (after step ${after + 1})`
}

export function entryWords({ property, op, entry }: EntryTest, words: Words): string {
  return `${propertyWords(property, words)} ${op} ${propertyWords(entry, words)} at the start`
}

export function stepWords(
  step: FunnelStep,
  words: Words,
): { event: string; where: string | null; entry: string | null } {
  return {
    event: eventWords(step.event, words),
    where: step.where ? `where ${filterWords(step.where, words)}` : null,
    entry: step.entry?.length
      ? `with ${joinWords(
          step.entry.map((test) => entryWords(test, words)),
          'and',
        )}`
      : null,
  }
}

/** What a step is called where it stands alone. */
export function stepName({ steps }: FunnelQuestion, step: number, words: Words): string {
  return steps[step] ? eventWords(steps[step].event, words) : `step ${step + 1}`
}

/** A group's name in a funnel's legend and table. */
export function rowName(key: Parameters<typeof groupWords>[0] | null, rest: number): string {
  return key === null ? 'All' : groupWords(key, rest)
}
