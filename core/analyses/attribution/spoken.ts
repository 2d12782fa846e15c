import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import type { SpokenKind } from '../kind.js'
import type { AttributionMark } from './marks.js'
import { isOfAll, type AttributionQuestion } from './question.js'
import { attributionSentence } from './sentence.js'
import { attributionMarkWords, exactAttributionMark, pickedWords } from './words.js'

export const spokenAttribution: SpokenKind<AttributionQuestion, AttributionMark> = {
  kind: 'attribution',
  name: 'Attribution',
  lists: 'conversions',
  sentence: attributionSentence,
  readAsOf: () => 'when each conversion happened',
  marks: {
    kinds: ['credit', 'touches'],
    words: attributionMarkWords,
    exact: exactAttributionMark,
    places: ({ goals }, words) => [
      ...goals.map((goal, index) => ({
        key: `goal ${index}`,
        label: `Did ${pickedWords(goal, words)}`,
        value: { kind: 'credit' as const, ...(index > 0 ? { goal: index } : {}) },
      })),
      { key: 'none', label: 'Did it with no touch found', value: { kind: 'credit', none: true } },
    ],
    timed: (mark) => mark.kind === 'credit' && mark.bucket !== undefined,
    plain: (study) => ({ ...study, show: { form: 'table' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
  // Another model is arithmetic on the same counts, but for those that look at everybody's ways.
  counted: ({ show, models, ...rest }) => ({
    ...rest,
    models: models.filter(isOfAll).sort(),
    ways: show.form === 'touches',
  }),
}
