import { eventWords } from '../../words/words.js'
import { breakdownSplits, withoutBreakdowns, BROKEN_DOWN } from '../breakdowns.js'
import type { Place, SpokenKind } from '../kind.js'
import type { FunnelMark } from './marks.js'
import { requiredSteps, type FunnelQuestion } from './question.js'
import { funnelCaption, funnelSentence } from './sentence.js'
import { exactStep, stepMarkWords } from './words.js'

/** Marks of what only one look at the funnel shows. */
const LOOKED_AT: ReadonlySet<FunnelMark['kind']> = new Set(['after', 'with', 'way'])

export const spokenFunnel: SpokenKind<FunnelQuestion, FunnelMark> = {
  kind: 'funnel',
  name: 'Funnel',
  sentence: funnelSentence,
  caption: funnelCaption,
  readAsOf: ({ readAt = 0 }) => (readAt > 0 ? `at step ${readAt + 1}` : 'when each attempt began'),
  marks: {
    kinds: ['step', 'took', 'repeats', 'after', 'with', 'way'],
    words: stepMarkWords,
    exact: exactStep,
    places: ({ steps }, words) =>
      steps.flatMap((step, index): Place<FunnelMark>[] => {
        const name = eventWords(step.event, words)
        const reached: Place<FunnelMark> = {
          key: `reached ${index}`,
          label: index === 0 ? `Started: ${name}` : `Reached step ${index + 1}: ${name}`,
          value: { kind: 'step', step: index, what: 'reached' },
        }
        if (step.optional || index === requiredSteps(steps).at(-1)) return [reached]
        const lost: Place<FunnelMark> = {
          key: `lost ${index}`,
          label: `Was lost for good after step ${index + 1}: ${name}`,
          value: { kind: 'step', step: index, what: 'gone' },
        }
        return [reached, lost]
      }),
    forGood: (mark) => (mark.kind === 'step' && mark.what === 'lost' ? { ...mark, what: 'gone' } : mark),
    timed: (mark) => mark.kind === 'step' && (mark.bucket !== undefined || mark.before === true),
    plain(study, marks) {
      if (marks.some((mark) => LOOKED_AT.has(mark.kind) || 'bucket' in mark)) return study
      const { show: _show, ...steps } = study
      return steps
    },
  },
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
  // Each form of a funnel is worked out by itself.
  counted: (question) => question,
}
