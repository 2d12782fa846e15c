import { bucketWords } from '../../words/words.js'
import { breakdownSplits, withoutBreakdowns, BROKEN_DOWN } from '../breakdowns.js'
import type { Place, SpokenKind } from '../kind.js'
import { exactBucket, exactDetails, exactGroup } from '../markWords.js'
import type { RetentionMark } from './marks.js'
import type { RetentionQuestion } from './question.js'
import { retentionSentence } from './sentence.js'
import { cohortMarkWords, duringWords, exactCohort } from './words.js'

export const spokenRetention: SpokenKind<RetentionQuestion, RetentionMark> = {
  kind: 'retention',
  name: 'Retention',
  sentence: retentionSentence,
  readAsOf: () => 'when each person started',
  marks: {
    kinds: ['cohort'],
    words: (study, mark, words) => cohortMarkWords(study, mark, (key) => bucketWords(key, study.every, words), words),
    exact: (study, mark, words) =>
      exactCohort(mark, (key) => exactBucket(key, study.every, words)) +
      exactDetails(mark.group && exactGroup(mark.group)),
    places(study) {
      const periods = study.brackets ?? Array.from({ length: study.upTo ?? 8 }, (_, k): [number, number] => [k, k])
      return [
        { key: 'started', label: 'Started in the time asked about', value: { kind: 'cohort', what: 'started' } },
        ...periods.flatMap((period, k): Place<RetentionMark>[] => [
          {
            key: `returned ${k}`,
            label: `Came back ${duringWords(study, period)}`,
            value: { kind: 'cohort', period: k, what: 'returned' },
          },
          {
            key: `gone ${k}`,
            label: `Did not come back ${duringWords(study, period)}, which is over for them`,
            value: { kind: 'cohort', period: k, what: 'gone' },
          },
        ]),
      ]
    },
    forGood: (mark) => (mark.what === 'not' ? { ...mark, what: 'gone' } : mark),
    timed: ({ cohort }) => cohort !== undefined,
    plain: (study) => ({ ...study, show: { form: 'curve' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
