import { eventWords, type Words } from '../../words/words.js'
import { HABIT_UNITS, type HabitQuestion } from './question.js'

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
