import type { SessionsResult } from '../../../core/analyses/sessions/finish.js'
import type { SessionsMark } from '../../../core/analyses/sessions/marks.js'
import type { SessionsQuestion } from '../../../core/analyses/sessions/question.js'
import { spokenSessions } from '../../../core/analyses/sessions/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const sessions = shownKind<SessionsQuestion, SessionsMark, SessionsResult>({
  ...spokenSessions,
  asks: 'How long, and how deep?',
  home: { looks: 6 },
  glyph: [26, 58, 94, 70, 38].map((width, i) => (
    <rect key={i} x="0" y={i * 7} width={width} height="5" rx="1" fill="var(--water)" opacity={i === 2 ? 1 : 0.5} />
  )),
  additions: ({ holds, first, breakdowns, compare, target }) => [
    ...breakdownAddition({ breakdowns }, 2),
    ...(holds
      ? holds.where
        ? []
        : [{ token: 'where', label: '+ only where…' }]
      : [{ token: 'holds', label: '+ only sessions with…' }]),
    ...(first ? [] : [{ token: 'first', label: '+ only their first' }]),
    ...(compare ? [] : [{ token: 'compare', label: '+ compared with…' }]),
    ...(target === undefined ? [{ token: 'target', label: '+ target…' }] : []),
  ],
  load: async () => (await import('./SessionsView.js')).view,
  explain: async () => (await import('../../../core/analyses/sessions/explain.js')).explainSessions,
  editor: async () => (await import('./SessionsEditor.js')).SessionsEditor,
  leads: async () => (await import('./leads.js')).leads,
})
