import { bucketWords } from '../../words/words.js'
import type { SpokenKind } from '../kind.js'
import { exactDetails, exactGroup } from '../markWords.js'
import { breakdownSplits, withoutBreakdowns, BROKEN_DOWN } from '../breakdowns.js'
import type { HabitMark } from './marks.js'
import { HABIT_UNITS, type HabitQuestion } from './question.js'
import { habitSentence } from './sentence.js'
import { daysMarkWords, daysPhrase, exactDays, periodPhrase } from './words.js'

/** So many places are offered: more days than these are chosen in the study itself. */
const MOST_PLACES = 14

export const spokenHabit: SpokenKind<HabitQuestion, HabitMark> = {
  kind: 'habit',
  name: 'Habit',
  sentence: habitSentence,
  readAsOf: ({ period }) =>
    `at the end of each ${period}, so that one person can stand in two groups, and groups overlap`,
  marks: {
    kinds: ['days'],
    words: daysMarkWords,
    exact: (_study, mark, words) =>
      exactDays(mark, (key) => bucketWords(key, 'day', words)) + exactDetails(mark.group && exactGroup(mark.group)),
    places({ period }) {
      const { unit, most } = HABIT_UNITS[period]
      return Array.from({ length: Math.min(most, MOST_PLACES) }, (_, d) => ({
        key: `days ${d}`,
        label: `Turned up on ${daysPhrase(d + 1, unit, true)} in ${periodPhrase(period)}, in any of the time asked about`,
        value: { kind: 'days', days: d + 1, more: true },
      }))
    },
    timed: ({ bucket }) => bucket !== undefined,
    plain: (study) => ({ ...study, show: { form: 'at least' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
