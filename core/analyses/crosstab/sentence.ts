import { choiceWords, tokenOf } from '../splitParts.js'
import { isClock, isPlain } from '../../questions/groupedBy.js'
import type { SentencePart } from '../../words/sentence.js'
import type { Split } from '../../questions/split.js'
import { eventWords, propertyWords, splitWords, type Words } from '../../words/words.js'
import { amongParts } from '../peopleWords.js'
import { MEASURES } from '../trend/measures.js'
import { askParts, leadParts, lineParts, measureWords, timeParts } from '../trend/sentence.js'
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
