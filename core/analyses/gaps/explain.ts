import { eventWords, type Words } from '../../words/words.js'
import type { GapsQuestion } from './question.js'

export function explainGaps(question: GapsQuestion, zone: string, words: Words): string[] {
  const event = eventWords(question.start.event, words)
  return [
    `A gap is the number of days from one day on which a person did ${event} to the next on which they did: 1 is the next day. Several on the same day count as one. Days are cut in ${zone}.`,
    'Only gaps that begin and end in the time asked about are known: whoever has not come back yet has no last gap, so a short time makes people look more frequent than they are.',
    '80 % of returns happen within so many days: the least number of days that at least 80 % of all gaps do not exceed. People who come often have many gaps and weigh more in it.',
    'Each person by their median gap counts once; the median of those medians is what a typical person does.',
    ...(question.breakdowns?.length
      ? [
          'A profile property is read as of the end of the time asked about. Groups are ranked by how many people did it at all.',
        ]
      : []),
  ]
}
