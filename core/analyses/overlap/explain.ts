import { rangeWords, type Words } from '../../words/words.js'
import { explainSeries } from '../trend/explain.js'
import type { OverlapQuestion } from './question.js'

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
