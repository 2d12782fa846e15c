import { capital } from '../../words/format.js'
import type { SpokenKind } from '../kind.js'
import type { LikelihoodMark } from './marks.js'
import { cutsOf, type LikelihoodQuestion } from './question.js'
import { likelihoodSentence } from './sentence.js'
import { exactLikelihoodMark, likelihoodMarkWords, partWords } from './words.js'

export const spokenLikelihood: SpokenKind<LikelihoodQuestion, LikelihoodMark> = {
  kind: 'likelihood',
  name: 'Likelihood',
  sentence: likelihoodSentence,
  readAsOf: () => 'at the cut-off, and now',
  marks: {
    kinds: ['likely'],
    words: likelihoodMarkWords,
    exact: (_study, mark) => exactLikelihoodMark(mark),
    places: (study) => {
      const edges = [0, ...cutsOf(study), 100]
      return edges.slice(1).map((to, i) => {
        const value: LikelihoodMark = { kind: 'likely', from: edges[i], to }
        return { key: `${edges[i]} ${to}`, label: capital(partWords(value)), value }
      })
    },
    timed: () => false,
    plain: ({ show: _show, ...study }) => ({ ...study, show: { form: 'people' } }),
  },
  splits: () => [],
}
