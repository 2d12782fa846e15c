import { bucketWords } from '../../words/words.js'
import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import { exactDetails, exactGroup } from '../markWords.js'
import type { SpokenKind } from '../kind.js'
import type { GrowthMark } from './marks.js'
import { growthStates, type GrowthQuestion } from './question.js'
import { growthSentence } from './sentence.js'
import { exactState, intervalName, stateMarkWords } from './words.js'

export const spokenGrowth: SpokenKind<GrowthQuestion, GrowthMark> = {
  kind: 'growth',
  name: 'Growth accounting',
  sentence: growthSentence,
  readAsOf: () => 'at the end of each interval, or now, so that one person can stand in two groups, and groups overlap',
  marks: {
    kinds: ['state'],
    words(study, mark, words) {
      const { interval } = study
      const bucket = (key: string) =>
        'unit' in interval
          ? bucketWords(key, interval.unit, words)
          : `the interval from ${bucketWords(key, 'day', words)}`
      return stateMarkWords(study, mark, bucket, words)
    },
    exact: (_study, mark, words) =>
      exactState(mark, (key) => bucketWords(key, 'day', words)) + exactDetails(mark.group && exactGroup(mark.group)),
    places: ({ interval }) =>
      growthStates.map((state) => ({
        key: state,
        label: `Is ${state} in the last full ${intervalName(interval)}`,
        value: { kind: 'state', states: [state] },
      })),
    timed: ({ interval }) => interval !== undefined,
    plain: (study) => ({ ...study, show: { form: 'states' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
