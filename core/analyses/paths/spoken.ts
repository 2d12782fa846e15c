import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import type { SpokenKind } from '../kind.js'
import type { PathsMark } from './marks.js'
import type { PathsQuestion } from './question.js'
import { pathsSentence } from './sentence.js'
import { exactPathMark, pathMarkWords, pickWords } from './words.js'

export const spokenPaths: SpokenKind<PathsQuestion, PathsMark> = {
  kind: 'paths',
  name: 'Paths',
  sentence: pathsSentence,
  readAsOf: () => 'when each way began',
  marks: {
    kinds: ['anchor', 'node', 'way', 'loop'],
    words: pathMarkWords,
    exact: exactPathMark,
    places: ({ start, end }, words) => [
      { key: 'began', label: `Did ${pickWords(start, words)}`, value: { kind: 'anchor' } },
      ...(end
        ? [
            {
              key: 'got',
              label: `Got to ${pickWords(end, words)}`,
              value: { kind: 'anchor' as const, got: true },
            },
            {
              key: 'not',
              label: `Did not get to ${pickWords(end, words)}`,
              value: { kind: 'anchor' as const, got: false },
            },
          ]
        : [
            {
              key: 'ends',
              label: 'Did nothing more',
              value: { kind: 'node' as const, step: 1, place: { ends: true as const } },
            },
          ]),
    ],
    timed: () => false,
    forGood: (mark) =>
      (mark.kind === 'anchor' && mark.got === false) || (mark.kind === 'node' && 'ends' in mark.place)
        ? { ...mark, forGood: true }
        : mark,
    plain: (study) => ({ ...study, show: { form: 'stream' } }),
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
}
