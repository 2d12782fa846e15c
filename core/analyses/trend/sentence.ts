import { eventWords, filterWords, propertyWords, rangeWords, type Words } from '../../words/words.js'
import type { SentencePart } from '../analysis.js'
import { amongWords } from '../peopleWords.js'
import type { TrendQuestion } from './question.js'

/** The question in plain words; its tokens are edited where they stand. */
export function trendSentence(question: TrendQuestion, words: Words): SentencePart[] {
  const [series] = question.series
  const range = rangeWords(question.range, words)
  const measure = { people: 'people', events: 'times', 'events per person': 'times per person' }[series.measure]
  const parts: SentencePart[] = [
    { text: 'How many ' },
    { text: measure, token: 'measure', tone: 'water', path: 'series.0.measure' },
    { text: series.measure === 'people' ? ' did ' : ' did people do ' },
    { text: eventWords(series.event, words), token: 'event', tone: 'water', path: 'series.0.event' },
  ]
  if (series.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(series.where, words), token: 'where', tone: 'water', path: 'series.0.where' },
    )
  parts.push(
    { text: ' ' },
    { text: `each ${question.every}`, token: 'every', tone: 'water', path: 'every' },
    { text: ` ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
  )
  const breakdown = question.breakdowns?.[0]
  if (breakdown)
    parts.push(
      { text: ', for each ' },
      { text: propertyWords(breakdown.by, words), token: 'breakdown', tone: 'water', path: 'breakdowns' },
      ...(breakdown.keep === 10
        ? []
        : [{ text: ` (the ${breakdown.keep} largest)`, token: 'breakdown', tone: 'water' } as const]),
    )
  if (question.among)
    parts.push(
      { text: ', among ' },
      { text: amongWords(question.among, words), token: 'among', tone: 'water', path: 'among' },
    )
  parts.push({ text: '?' })
  return parts
}

/** Exactly how the numbers are counted, with the settings in force. */
export function explainTrend(question: TrendQuestion, zone: string, words: Words): string[] {
  const [series] = question.series
  const event = eventWords(series.event, words)
  const lines = {
    people: `A person counts once in each ${question.every} in which they did ${event} at least once. Ids known to be the same person are one person.`,
    events: `Every ${event} event counts. An event sent twice with the same id counts once.`,
    'events per person': `${event} events divided by the distinct people who did at least one, in each ${question.every}. Where nobody did, there is a gap, not 0.`,
  }
  const text = [lines[series.measure]]
  text.push(
    `Each ${question.every} is a calendar ${question.every} in ${zone}. One that is not over yet is still open: it is drawn dashed and left out of comparisons.`,
  )
  text.push('The figure for the whole time is worked out on the whole time: it is not the sum of the columns.')
  if (question.breakdowns?.length) {
    text.push(
      'A property of the event is read from the event counted; a profile property is read from the person, at its latest value, also for the past. What carries no value is a group of its own.',
      'The largest groups over the whole time are kept; Everything else counts the others together, each person once.',
    )
    text.push('A share is the group’s number divided by that of all groups together.')
  }
  return text
}
