import type { SentencePart } from '../../words/sentence.js'
import type { Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import type { LikelihoodQuestion } from './question.js'
import { backWords, daysWords, keptWords, latelyWords } from './words.js'

/** "How likely is each person to do X in the next 14 days, from their last 60 days, among …?" */
export function likelihoodSentence(question: LikelihoodQuestion, words: Words): SentencePart[] {
  const { goal, days, back, again, lately, keep, retrain } = question
  return [
    { text: 'How likely is each person to do ' },
    ...pickParts(goal, 'goal', 'where', 'goal', words),
    { text: ' in ' },
    { text: daysWords(days), token: 'days', tone: 'hazel', path: 'days' },
    ...(again
      ? [{ text: ', ' }, { text: 'also who did it before', token: 'again', tone: 'water' as const, path: 'again' }]
      : []),
    ...(back === undefined
      ? []
      : [{ text: ', from ' }, { text: backWords(back), token: 'back', tone: 'hazel' as const, path: 'back' }]),
    ...(lately
      ? [{ text: ', ' }, { text: latelyWords(question), token: 'lately', tone: 'water' as const, path: 'lately' }]
      : []),
    ...(keep
      ? [{ text: ', knowing ' }, { text: keptWords(keep, words), token: 'keep', tone: 'water' as const, path: 'keep' }]
      : []),
    ...(retrain
      ? [{ text: ', ' }, { text: 'trained anew by hand', token: 'retrain', tone: 'water' as const, path: 'retrain' }]
      : []),
    ...amongParts(question, words),
    { text: '?' },
  ]
}
