import type { SentencePart } from '../../words/sentence.js'
import { compareWords, rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import { breakdownParts } from '../splitParts.js'
import type { SessionsQuestion } from './question.js'
import { ASKED, targetWords } from './words.js'

/** "How long is a typical session each week over the last 12 weeks, only sessions with X?" */
export function sessionsSentence(question: SessionsQuestion, words: Words): SentencePart[] {
  const { measure, every, holds, first, breakdowns, compare, target } = question
  const range = rangeWords(question.range, words)
  return [
    { text: ASKED[measure], token: 'measure', tone: 'water', path: 'measure' },
    { text: ' ' },
    { text: `each ${every}`, token: 'every', tone: 'hazel', path: 'every' },
    { text: ` ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    ...(holds ? [{ text: ', only sessions with ' }, ...pickParts(holds, 'holds', 'where', 'holds', words)] : []),
    ...(first
      ? [
          { text: ', ' },
          { text: 'only the first session of each person', token: 'first', tone: 'water' as const, path: 'first' },
        ]
      : []),
    ...breakdownParts(breakdowns, words),
    ...amongParts(question, words),
    ...(compare
      ? [
          { text: ', compared with ' },
          { text: compareWords(compare, words), token: 'compare', tone: 'hazel' as const, path: 'compare' },
        ]
      : []),
    ...(target === undefined
      ? []
      : [
          { text: ', aiming at ' },
          { text: targetWords(target, measure), token: 'target', tone: 'hazel' as const, path: 'target' },
        ]),
    { text: '?' },
  ]
}
