import { rangeWords, type Words } from '../../words/words.js'
import { handleOf } from '../trend/question.js'
import { explainSeries } from '../trend/explain.js'
import { countedSeries, type CrosstabQuestion } from './question.js'

/** Exactly how the numbers are counted, with the settings in force. */
export function explainCrosstab(question: CrosstabQuestion, zone: string, words: Words): string[] {
  const series = countedSeries(question)
  const range = rangeWords(question.range, words)
  const text = series.map((each, index) => {
    const name = series.length > 1 ? `${handleOf(question, index)}: ` : ''
    return name + explainSeries(each, question.every, words)
  })
  text.push(
    `The figures of the table are worked out on the whole time, ${range.lead}${range.text} in ${zone}; the trend beside it on each ${question.every}.`,
    'Totals are worked out like any other cell, on all that is counted there: a person in two rows counts once in their total, and a median is that of all events together.',
    `A property of the event is read from the event counted; a profile property from the person, as it was then. What carries no value is a row or column of its own.`,
    `The largest rows are kept, within each outer row, by the first measure over the whole time; Everything else counts the others together, each person once.`,
  )
  return text
}
