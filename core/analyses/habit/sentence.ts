import type { SentencePart } from '../../words/sentence.js'
import { quoted } from '../../words/exact.js'
import { eventWords, filterWords, rangeWords, type Words } from '../../words/words.js'
import type { Unit } from '../../time/range.js'
import { periodPhrase, daysPhrase } from './words.js'
import { amongParts } from '../peopleWords.js'
import { breakdownParts } from '../splitParts.js'
import { HABIT_UNITS, type HabitQuestion } from './question.js'

/** "How many days in a week do people do X over the last 12 weeks?" */
export function habitSentence(question: HabitQuestion, words: Words): SentencePart[] {
  const { start, period, core, breakdowns } = question
  const range = rangeWords(question.range, words)
  const { unit } = HABIT_UNITS[period]
  const parts: SentencePart[] = [
    { text: 'How many ' },
    { text: `${unit}s in ${periodPhrase(period)}`, token: 'period', tone: 'hazel', path: 'period' },
    { text: ' do people do ' },
    { text: eventWords(start.event, words), token: 'event', tone: 'water', path: 'start.event' },
  ]
  if (start.where)
    parts.push(
      { text: ' where ' },
      { text: filterWords(start.where, words), token: 'where', tone: 'water', path: 'start.where' },
    )
  parts.push({ text: ` ${range.lead}` }, { text: range.text, token: 'range', tone: 'hazel', path: 'range' })
  if (core)
    parts.push(
      { text: ', with ' },
      {
        text: `${words.full ? quoted(core.name) : `“${core.name}”`} at ${daysPhrase(core.days, unit, true)}`,
        token: 'core',
        tone: 'hazel',
        path: 'core',
      },
    )
  return [...parts, ...breakdownParts(breakdowns, words), ...amongParts(question, words), { text: '?' }]
}

/** By what a period's key is said. */
export function bucketUnit(period: HabitQuestion['period']): Unit {
  return period === '4 weeks' || period === '8 weeks' ? 'week' : period
}
