import { joinWords } from '../../words/format.js'
import type { SentencePart } from '../../words/sentence.js'
import { rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import type { TippingQuestion } from './question.js'
import { daysWords, leftOutWords, openedWords, outcomeWords } from './words.js'

/** "Of people whose first ever X fell in the last 6 months, what done in the first 7 days goes with Y in week 4?" */
export function tippingSentence(question: TippingQuestion, words: Words): SentencePart[] {
  const { start, goal, days, outcome, leftOut, open, count } = question
  const range = rangeWords(question.range, words)
  return [
    { text: 'Of people whose first ever ' },
    ...pickParts(start, 'event', 'where', 'start', words),
    { text: ` fell ${'last' in question.range ? 'in ' : range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    { text: ', what done in ' },
    { text: daysWords(days), token: 'days', tone: 'hazel', path: 'days' },
    { text: ' goes with ' },
    ...pickParts(goal, 'goal', 'where goal', 'goal', words),
    { text: ' ' },
    { text: outcomeWords(outcome), token: 'outcome', tone: 'hazel', path: 'outcome' },
    ...(leftOut
      ? [
          { text: ', leaving out ' },
          { text: leftOutWords(leftOut, words), token: 'leftOut', tone: 'water' as const, path: 'leftOut' },
        ]
      : []),
    ...(open
      ? [
          { text: ', also by ' },
          {
            text: joinWords(
              open.map((each) => openedWords(each, words)),
              'and',
            ),
            token: 'open',
            tone: 'water' as const,
            path: 'open',
          },
        ]
      : []),
    ...(count
      ? [{ text: ', ' }, { text: 'counted in days', token: 'count', tone: 'hazel' as const, path: 'count' }]
      : []),
    ...amongParts(question, words),
    { text: '?' },
  ]
}
