import type { GapsQuestion } from '../../../core/analyses/gaps/question.js'
import type { GapsMark } from '../../../core/analyses/gaps/marks.js'
import type { GapsResult } from '../../../core/analyses/gaps/finish.js'
import { spokenGaps } from '../../../core/analyses/gaps/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const gaps = shownKind<GapsQuestion, GapsMark, GapsResult>({
  ...spokenGaps,
  asks: 'How long between two times?',
  compact: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.start.where ? [] : [{ token: 'where', label: '+ only where…' }]),
  ],
  load: async () => (await import('./GapsView.js')).view,
  explain: async () => (await import('../../../core/analyses/gaps/explain.js')).explainGaps,
  editor: async () => (await import('./GapsEditor.js')).GapsEditor,
  leads: async () => (await import('./leads.js')).leads,
})
