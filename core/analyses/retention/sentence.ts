import type { SentencePart } from '../../words/sentence.js'
import { joinWords } from '../../words/format.js'
import { propertyWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import { breakdownParts } from '../splitParts.js'
import type { RetentionMeasure, RetentionQuestion } from './question.js'

/** The measure, and what leads from it to what counts as coming back. */
export const MEASURE_WORDS: Record<RetentionMeasure, { measure: string; lead: string }> = {
  share: { measure: 'what share', lead: ' did ' },
  people: { measure: 'how many', lead: ' did ' },
  events: { measure: 'how many times', lead: ' did they do ' },
  'events per person': { measure: 'how often', lead: ' did each who came back do ' },
  sum: { measure: 'what sum', lead: ' came with ' },
  'per person': { measure: 'how much', lead: ' per person came with ' },
}

/** What a measure is called on a page. */
export function measureName({ measure, of }: RetentionQuestion, words: Words): string {
  const property = of ? propertyWords(of, words) : 'a property'
  switch (measure) {
    case undefined:
      return 'People, %'
    case 'people':
      return 'People'
    case 'events':
      return 'Times'
    case 'events per person':
      return 'Times per returning person'
    case 'sum':
      return `Sum of ${property}`
    case 'per person':
      return `${property} per person`
  }
}

/** "Of people whose first ever X fell in a week of the last 12 weeks, what share did it again in each later week?" */
export function retentionSentence(question: RetentionQuestion, words: Words): SentencePart[] {
  const { every, start, back, first, by, breakdowns, of } = question
  const measure = question.measure ?? 'share'
  const range = rangeWords(question.range, words)
  const lead = 'last' in question.range ? 'of ' : range.lead
  const parts: SentencePart[] = [
    { text: 'Of people whose ' },
    { text: first ? 'first ever' : 'first', token: 'first', tone: 'water', path: 'first' },
    { text: ' ' },
    ...pickParts(start, 'event', 'where', 'start', words),
    { text: first ? ' fell in ' : ' in this time fell in ' },
    { text: `${every === 'hour' ? 'an' : 'a'} ${every}`, token: 'every', tone: 'hazel', path: 'every' },
    { text: ` ${lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    { text: ', ' },
    { text: MEASURE_WORDS[measure].measure, token: 'measure', tone: 'water', path: 'measure' },
  ]
  if (measure === 'sum' || measure === 'per person')
    parts.push(
      { text: measure === 'sum' ? ' of ' : ' ' },
      { text: of ? propertyWords(of, words) : 'a property', token: 'of', tone: 'water', path: 'of' },
    )
  parts.push({ text: MEASURE_WORDS[measure].lead })
  if (back) parts.push(...pickParts(back, 'back', 'where back', 'back', words))
  else parts.push({ text: 'it again', token: 'back', tone: 'water', path: 'back' })
  parts.push({ text: ' ' }, { text: whenWords(question), token: 'when', tone: 'hazel', path: 'when' })
  if (by) parts.push({ text: ', ' }, { text: 'counted from the very moment', token: 'by', tone: 'hazel', path: 'by' })
  return [...parts, ...breakdownParts(breakdowns, words), ...amongParts(question, words), { text: '?' }]
}

/** "in each later week", "by the end of each later week up to week 8", "in days 0 to 7 and 8 to 30 or after them". */
export function whenWords({ every, brackets, count, cumulated, upTo }: RetentionQuestion): string {
  const onward = count === 'from'
  const lead = cumulated ? 'by the end of' : 'in'
  if (brackets) {
    const spans = brackets.map(([low, high]) => (low === high ? String(low) : `${low} to ${high}`))
    return `${lead} days ${joinWords(spans, 'and')}${onward ? ' or after them' : ''}`
  }
  const last = upTo === undefined ? '' : ` up to ${every} ${upTo}`
  return `${lead} each later ${every}${onward ? ' or after it' : ''}${last}`
}

/** What a period means for somebody who started late in theirs; said wherever the calendar may surprise. */
export function periodMeaning({ every, by, brackets }: RetentionQuestion, lastWeekday: string): string {
  const unit = brackets ? 'day' : every
  const first = brackets
    ? 'Day 0'
    : `${unit === 'hour' ? 'Hour' : unit === 'day' ? 'Day' : unit === 'week' ? 'Week' : 'Month'} 1`
  if (by === 'clock') {
    const length = { hour: '60 minutes', day: '24 hours', week: '7 × 24 hours', month: '30 × 24 hours' }[unit]
    return brackets
      ? `Day 0 is each person’s first 24 hours, day 1 the 24 hours after those.`
      : `${first} is the ${length} after each person’s first ${length}, whatever the calendar says.`
  }
  if (brackets) return 'Day 0 is the calendar day of the start, day 1 the day after it.'
  const late = {
    hour: 'who started in the last minute of an hour it begins a minute later',
    day: 'who started late in the evening it begins at midnight',
    week: `who started on a ${lastWeekday} it begins the next day`,
    month: 'who started on the last day of a month it begins the next day',
  }[unit]
  return `${first} is the calendar ${unit} after the one of the start: for someone ${late}.`
}
