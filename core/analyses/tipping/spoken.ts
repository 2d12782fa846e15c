import { eventWords } from '../../words/words.js'
import type { SpokenKind } from '../kind.js'
import type { TippingMark } from './marks.js'
import type { TippingQuestion } from './question.js'
import { tippingSentence } from './sentence.js'
import { exactTippingMark, outcomeWords, tippingMarkWords } from './words.js'

export const spokenTipping: SpokenKind<TippingQuestion, TippingMark> = {
  kind: 'tipping',
  name: 'Tipping point',
  sentence: tippingSentence,
  readAsOf: () => 'when each person started',
  marks: {
    kinds: ['early'],
    words: tippingMarkWords,
    exact: (_study, mark) => exactTippingMark(mark),
    places: ({ goal, outcome }, words) => {
      const after = `${eventWords(goal.event, words)} ${outcomeWords(outcome)}`
      return [
        { key: 'all', label: 'All whose outcome is known', value: { kind: 'early' } },
        { key: 'came', label: `Did ${after}`, value: { kind: 'early', outcome: 'came' } },
        { key: 'not', label: `Did not do ${after}`, value: { kind: 'early', outcome: 'did not come' } },
      ]
    },
    timed: () => false,
    plain: ({ show: _show, ...study }) => ({ ...study, show: { form: 'strips' } }),
  },
  splits: () => [],
}
