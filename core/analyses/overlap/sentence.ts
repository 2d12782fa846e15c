import type { SentencePart } from '../../words/sentence.js'
import { joinWords } from '../../words/format.js'
import { rangeWords, sideWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { explainSeries, figureParts } from '../trend/sentence.js'
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

/** Exactly how the numbers are counted, with the settings in force. */
export function explainOverlap(question: OverlapQuestion, zone: string, words: Words): string[] {
  const text = [
    'Everybody is in exactly one part: that of all the segments they are in now. Ids known to be the same person are one person, so somebody who bought at a kiosk and in the app is in both.',
    'Two or three segments are drawn as circles whose areas, and those of their parts, are in proportion to the people. Where circles cannot show all parts exactly, the page says how far off they are.',
  ]
  if (question.figure) {
    const range = rangeWords(question.range, words)
    text.push(
      `${explainSeries(question.figure, 'part', words)} It is worked out for each part ${range.lead}${range.text} in ${zone}; who is in which part is as of now.`,
    )
  }
  return text
}
