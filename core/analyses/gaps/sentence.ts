import type { SentencePart } from '../../words/sentence.js'
import { eventWords, filterWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts } from '../splitParts.js'
import type { GapsQuestion } from './question.js'

/** "How often do people naturally do X, over the last 26 weeks?" */
export function gapsSentence(question: GapsQuestion, words: Words): SentencePart[] {
  const { start } = question
  const range = rangeWords(question.range, words)
  const parts: SentencePart[] = [
    { text: 'How often do people naturally do ' },
    { text: eventWords(start.event, words), token: 'event', tone: 'water', path: 'start.event' },
  ]
  if (start.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(start.where, words), token: 'where', tone: 'water', path: 'start.where' },
    )
  parts.push({ text: `, ${range.lead}` }, { text: range.text, token: 'range', tone: 'hazel', path: 'range' })
  return [...parts, ...breakdownParts(question.breakdowns, words), ...amongParts(question, words), { text: '?' }]
}
