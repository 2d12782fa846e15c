import { BROKEN_DOWN, breakdownSplits, withoutBreakdowns } from '../breakdowns.js'
import type { SpokenKind } from '../kind.js'
import type { SessionsMark } from './marks.js'
import { USUAL_OVER, type SessionsQuestion } from './question.js'
import { sessionsSentence } from './sentence.js'
import { exactSessionsMark, sessionsMarkWords } from './words.js'

export const spokenSessions: SpokenKind<SessionsQuestion, SessionsMark> = {
  kind: 'sessions',
  name: 'Sessions',
  sentence: sessionsSentence,
  readAsOf: () => 'when each session began',
  marks: {
    kinds: ['session'],
    words: sessionsMarkWords,
    exact: exactSessionsMark,
    places: () => [
      { key: 'any', label: 'Had a session', value: { kind: 'session' } },
      { key: 'single', label: 'Had a session of one event only', value: { kind: 'session', single: true } },
      {
        key: 'over',
        label: `Had a session of over ${USUAL_OVER} minutes`,
        value: { kind: 'session', over: USUAL_OVER },
      },
    ],
    timed: ({ bucket }) => bucket !== undefined,
    plain: (study) => ({ ...study, show: { form: 'over time' } }),
  },
  lists: 'sessions',
  splits: breakdownSplits,
  rest: { parts: BROKEN_DOWN, without: withoutBreakdowns },
  // What part lasts longer is counted by what is shown.
  counted: ({ show, ...rest }) => ({ ...rest, over: show.over ?? USUAL_OVER }),
}
