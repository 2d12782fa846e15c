import type { SentencePart } from '../../words/sentence.js'
import { joinWords } from '../../words/format.js'
import { rangeWords, sideWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { figureParts } from '../trend/sentence.js'
import type { OverlapQuestion } from './question.js'

/** "How do App buyers, Kiosk buyers and Website buyers overlap, with the sum of Price in Pass bought over the last 12 weeks?" */
export function overlapSentence(question: OverlapQuestion, words: Words): SentencePart[] {
  const { figure } = question
  const parts: SentencePart[] = [
    { text: 'How do ' },
    {
      text: joinWords(
        question.sides.map((side) => sideWords(side, words)),
        'and',
      ),
      ...{ token: 'sides', tone: 'water', path: 'sides' },
    },
    { text: ' overlap' },
  ]
  if (figure) {
    const range = rangeWords(question.range, words)
    parts.push(
      { text: ', with the figure ' },
      ...figureParts(figure, words),
      { text: ` ${range.lead}` },
      { text: range.text, token: 'range', tone: 'hazel', path: 'range' },
    )
  }
  return [...parts, ...amongParts(question, words), { text: '?' }]
}
