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

/** Exactly how the numbers are counted, with the settings in force. */
export function explainHabit(question: HabitQuestion, zone: string, words: Words): string[] {
  const { period, breakdowns, start } = question
  const { unit } = HABIT_UNITS[period]
  const event = eventWords(start.event, words)
  const one = period === 'day' || period === 'week' || period === 'month' ? period : 'span of weeks'
  const text = [
    `For every ${one} in the time asked about that is over and whole, and every person who did ${event} in it: on how many different ${unit}s they did. One person in one ${one} is a person-${one}; shares are of those, over all ${one}s together.`,
    period === '4 weeks' || period === '8 weeks'
      ? `The weeks are put together ${period.slice(0, 1)} by ${period.slice(0, 1)} from the last whole one backwards; a shorter first piece is left out.`
      : `A ${one} that is still running, or that the time asked about cuts, is left out.`,
    `${unit === 'hour' ? 'Hours' : unit === 'day' ? 'Days' : 'Weeks'} are cut in ${zone}. At least 1 is everybody who turned up at all: 100 %.`,
    'The people of a bar are those with at least one such period: they are fewer than the person-periods, for one person has several.',
  ]
  if (breakdowns?.length)
    text.push(
      'A property of the event is read from each event counted, so a person may be in several groups, each with its own days; a profile property is read as of the end of each period. Groups are ranked by person-periods.',
    )
  return text
}
