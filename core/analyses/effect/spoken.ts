import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import type { SpokenKind } from '../kind.js'
import type { EffectMark } from './marks.js'
import type { EffectQuestion } from './question.js'
import { effectSentence } from './sentence.js'
import { effectMarkWords, exactEffect } from './words.js'

export const spokenEffect: SpokenKind<EffectQuestion, EffectMark> = {
  kind: 'effect',
  name: 'Effect of a message',
  sentence: effectSentence,
  readAsOf: () => 'when people came in',
  marks: {
    kinds: ['came'],
    words: effectMarkWords,
    exact: (_study, mark) => exactEffect(mark),
    places: ({ variants, nobodyAlone }) => [
      ...variants.map((variant) => ({
        ...{ key: `variant ${variant}`, label: `Came in, “${variant}”` },
        value: { kind: 'came', step: 'entered', variant } as const,
      })),
      ...(nobodyAlone
        ? []
        : [
            {
              ...{ key: 'alone', label: 'Came in, and left alone' },
              value: { kind: 'came', step: 'entered', alone: true } as const,
            },
          ]),
      { key: 'goal', label: 'Did what it is for', value: { kind: 'came', step: 'goal' } },
      { key: 'no goal', label: 'Did not do what it is for', value: { kind: 'came', step: 'no goal' } },
    ],
    timed: () => false,
    plain: (study) => ({ ...study, show: { form: 'effect' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
