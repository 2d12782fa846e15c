import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import { exactDetails, exactGroup } from '../markWords.js'
import type { SpokenKind } from '../kind.js'
import type { GapsMark } from './marks.js'
import type { GapsQuestion } from './question.js'
import { gapsSentence } from './sentence.js'
import { exactGap, gapMarkWords } from './words.js'

export const spokenGaps: SpokenKind<GapsQuestion, GapsMark> = {
  kind: 'gaps',
  name: 'Usage interval',
  sentence: gapsSentence,
  readAsOf: () => 'at the end of the time asked about',
  marks: {
    kinds: ['gap'],
    words: gapMarkWords,
    exact: (_study, mark) => exactGap(mark) + exactDetails(mark.group && exactGroup(mark.group)),
    places: () => [
      { key: 'once', label: 'Came on one day only', value: { kind: 'gap', least: 0, of: 'once' } },
      {
        key: 'median',
        label: 'Mostly comes back within 7 days',
        value: { kind: 'gap', least: 1, most: 7, of: 'median' },
      },
    ],
    timed: () => false,
    plain: (study) => ({ ...study, show: { form: 'gaps' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
