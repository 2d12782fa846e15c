import { readsEvent } from '../../questions/groupedBy.js'
import { type SentencePart, sentenceText } from '../../words/sentence.js'
import { joinWords } from '../../words/format.js'
import { groupWords, eventWords, filterWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import { limitWords } from '../../words/limitWords.js'
import { exactNumber } from '../../words/exact.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts, breakdownText } from '../splitParts.js'
import { compareWords } from '../trend/sentence.js'
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

/** Exactly how the numbers are counted, with the settings in force. */
export function explainFunnel(question: FunnelQuestion, zone: string, words: Words): string[] {
  const within = limitWords(question.window)
  const { order, count, first, same, forbidden = [], steps, show } = question
  const text: string[] = []
  if (order === 'any order')
    text.push(
      `Every event in the time asked about that fits any step starts an attempt; all other steps must be done within ${within} of it, whatever the order. Step 2 then means two steps done. An event that fits several steps takes the first listed that is not done.`,
    )
  else
    text.push(
      `Every event of step 1 in the time asked about starts an attempt. ${
        order === 'back to back'
          ? 'The very next event of that person must be the next step; events that nobody does on purpose, as the tracking plan says, are passed over unless they are a step themselves.'
          : 'For each next step the attempt takes the earliest later event that matches. Anything else may happen in between.'
      } All within ${within} of the start; exactly on the limit counts. Later steps may fall after the end of the time asked about.`,
    )
  text.push(
    count === 'attempts'
      ? 'Every start counts as an attempt of its own. Attempts share no event: each event is taken by the oldest open attempt that can use it, and is then used up.'
      : 'Each person counts once, by their deepest attempt; of equally deep ones, by the earliest. One event fills one step only.',
  )
  if (first)
    text.push(
      'Only each person’s first start ever begins an attempt; where that lies before the time asked about, the person is not counted.',
    )
  if (same)
    text.push(
      `Every step must carry the ${propertyWords(same, words)} that the start carries; a start without one does not count. Lists are the same when they are equal.`,
    )
  if (forbidden.length > 0)
    text.push(
      'An attempt ends when something that must not happen comes before its next step. An event that fills the next step is not forbidden.',
    )
  if (steps.some((step) => step.optional))
    text.push(
      'An optional step is filled by the first event that fits between the required steps around it, and nobody is lost for lack of it.',
    )
  text.push(
    'Rates stand with their 95 % Wilson intervals. Lost here: filled this step and not the next. Median times are from the required step before, over those who got there.',
    'Those whose time is not over yet count as not converted, and are told of separately as still open.',
    `Days of the time asked about are cut in ${zone}.`,
  )
  if (question.breakdowns?.length)
    text.push(
      `Groups are read at step ${(question.readAt ?? 0) + 1} of the counted attempt, a profile property as it was then. Groups are ranked by how many start. Differences are against all the others together, of segments against the first, with Newcombe’s interval and a two-proportion test adjusted over the groups.`,
    )
  if (show?.form === 'after')
    text.push(
      'After a loss: the events of those lost at the step for good, in the time after their last step filled. Those who may still go on are left out.',
    )
  if (show?.form === 'apart')
    text.push(
      'What sets them apart: events after the start and before getting through, or up to the end of the time limit; by people, at least 10 of whom did it. Ranked by the absolute phi coefficient; p from the pooled two-proportion test, adjusted over all that are told. It is association: it does not say what causes what. Events of the steps, and what goes along with a step for nearly everybody, are left out. Properties with more than 200 different values are not looked at.',
    )
  return text
}

/** A group's name in a funnel's legend and table. */
export function rowName(key: Parameters<typeof groupWords>[0] | null, rest: number): string {
  return key === null ? 'All' : groupWords(key, rest)
}
