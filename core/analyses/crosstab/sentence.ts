import { choiceWords, tokenOf } from '../splitParts.js'
import { isClock, isPlain } from '../../questions/groupedBy.js'
import type { SentencePart } from '../../words/sentence.js'
import type { Split } from '../../questions/split.js'
import { eventWords, propertyWords, rangeWords, splitWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { MEASURES } from '../trend/measures.js'
import { handleOf } from '../trend/question.js'
import { askParts, explainSeries, leadParts, lineParts, measureWords, timeParts } from '../trend/sentence.js'
import { countedSeries, type CrosstabQuestion } from './question.js'

/** The question in plain words; several measures have a line each. */
export function crosstabSentence(question: CrosstabQuestion, words: Words): SentencePart[] {
  const series = countedSeries(question)
  if (series.length === 1)
    return [
      ...askParts(series[0], words),
      ...timeParts(question, words),
      ...layoutParts(question, words),
      ...amongParts(question, words),
      { text: '?' },
    ]
  return [
    ...leadParts(question, words),
    ...layoutParts(question, words),
    ...amongParts(question, words),
    { text: ':' },
    ...lineParts(question, words),
  ]
}

/** "a row for each District and within it each Plan, a column for each Bike type". */
function layoutParts({ rows, column }: CrosstabQuestion, words: Words): SentencePart[] {
  const part = (split: Split, token: string, path: string): SentencePart[] => {
    const same = { token, tone: 'water', path } as const
    const chosen = choiceWords(split, !isClock(split.by), isPlain(split) ? 'size' : 'name', words)
    const name = { text: splitWords(split.by, words), ...same }
    return chosen ? [name, { text: ' ' }, { text: `(${chosen})`, ...same }] : [name]
  }
  return [
    ...rows.flatMap((split, index) => [
      { text: index === 0 ? ', a row for each ' : ' and within it each ' },
      ...part(split, tokenOf('row', index), `rows.${index}`),
    ]),
    ...(column ? [{ text: ', a column for each ' }, ...part(column, 'column', 'column')] : []),
  ]
}

/** A measure's column by name: its own short name, or what it counts. */
export function measureName(question: CrosstabQuestion, index: number, words: Words): string {
  const series = question.series[index]
  if (series.name !== undefined) return series.name
  const event = eventWords(series.event, words)
  if (MEASURES[series.measure].of !== null)
    return `${measureWords(series)} of ${series.of ? propertyWords(series.of, words) : '…'}`
  return series.measure === 'people' ? `people who did ${event}` : `${measureWords(series)}, ${event}`
}

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
