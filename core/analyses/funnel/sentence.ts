import { type EventPick } from '../../../core/questions/parts.js'
import { eventWords, filterWords, rangeWords, splitWords, type Words } from '../../words/words.js'
import { sentenceText, type SentencePart } from '../analysis.js'
import { limitWords } from '../../words/limitWords.js'
import { amongParts } from '../peopleWords.js'
import type { FunnelQuestion } from './question.js'

/** The question in plain words. The steps themselves are the rows of the chart, and stand there. */
export function funnelSentence(question: FunnelQuestion, words: Words): SentencePart[] {
  const range = rangeWords(question.range, words)
  const parts: SentencePart[] = [
    { text: 'How many people get through these steps, one after another, within ' },
    { text: limitWords(question.window), token: 'window', tone: 'hazel', path: 'window' },
    { text: `, starting ${startLead(range.lead)}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
  ]
  const breakdown = question.breakdowns?.[0]
  if (breakdown)
    parts.push(
      { text: ', for each ' },
      { text: splitWords(breakdown.by, words), token: 'breakdown', tone: 'water', path: 'breakdowns' },
    )
  parts.push(...amongParts(question, words))
  parts.push({ text: '?' })
  return parts
}

/** Entries start on or after a day, not since it. */
function startLead(lead: string): string {
  return lead === 'since ' ? 'on or after ' : lead === 'from ' ? '' : lead
}

/** Where the steps are not drawn beside it, the sentence names them. */
export function funnelCaption(question: FunnelQuestion, words: Words): string {
  const said = question.steps.map((step) => {
    const { event, where } = stepWords(step, words)
    return where ? `${event} ${where}` : event
  })
  const range = rangeWords(question.range, words)
  const breakdown = question.breakdowns?.[0]
  const kept = breakdown && breakdown.keep !== 10 ? ` (the ${breakdown.keep} largest)` : ''
  const each = breakdown ? `, for each ${splitWords(breakdown.by, words)}${kept}` : ''
  const among = sentenceText(amongParts(question, words))
  return `How many people get ${said.length > 1 ? 'from ' : 'to '}${said.join(' to ')} within ${limitWords(question.window)}, starting ${startLead(range.lead)}${range.text}${each}${among}?`
}

export function stepWords(step: EventPick, words: Words): { event: string; where: string | null } {
  return { event: eventWords(step.event, words), where: step.where ? `where ${filterWords(step.where, words)}` : null }
}

/** Exactly how the numbers are counted, with the settings in force. */
export function explainFunnel(question: FunnelQuestion, zone: string): string[] {
  const text = [
    `Every event of step 1 in the time asked about starts an attempt. For each next step the attempt takes the earliest later event that matches, no later than ${limitWords(question.window)} after the start; exactly on the limit counts. Later steps may fall after the end of the time asked about. Anything else may happen in between.`,
    'Each person counts once, by their deepest attempt; of equally deep ones, by the earliest. One event fills one step only.',
    'Rates stand with their 95 % Wilson intervals. Lost here: filled this step and not the next. Median times are from the step before, over the people who got there.',
    'People whose time is not over yet count as not converted, and are told of separately as still open.',
    `Days of the time asked about are cut in ${zone}.`,
  ]
  if (question.breakdowns?.length)
    text.push(
      'A property of the event is read at step 1 of the counted attempt; a profile property at its latest value. Groups are ranked by the people at step 1.',
    )
  return text
}
