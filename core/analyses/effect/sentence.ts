import { joinWords } from '../../words/format.js'
import { quoted } from '../../words/exact.js'
import { limitWords } from '../../words/limitWords.js'
import type { SentencePart } from '../../words/sentence.js'
import { rangeWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { pickParts } from '../pickParts.js'
import { breakdownParts } from '../splitParts.js'
import type { EffectQuestion } from './question.js'

export const AGAINST = ', against those left alone'
export const MOVING = ', under a split that moves'

/** "Does the message “Third ride” (“One ride to go” and “Your bike waits”) bring Ride completed within 3 days, …?" */
export function effectSentence(question: EffectQuestion, words: Words): SentencePart[] {
  const { message, variants, nobodyAlone, moving, goal, within } = question
  const range = rangeWords(question.range, words)
  return [
    { text: 'Does the message ' },
    { text: quoted(message), token: 'message', tone: 'water', path: 'message' },
    { text: ` (${joinWords(variants.map(quoted), 'and')}) bring ` },
    ...pickParts(goal, 'goal', 'goalWhere', 'goal', words),
    { text: ' within ' },
    { text: limitWords(within), token: 'within', tone: 'hazel', path: 'within' },
    { text: `${nobodyAlone ? '' : AGAINST}${moving ? MOVING : ''}, of those who came in ${range.lead}` },
    { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    ...breakdownParts(question.breakdowns, words),
    ...amongParts(question, words),
    { text: '?' },
  ]
}
