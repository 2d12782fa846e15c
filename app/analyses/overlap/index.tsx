import type { OverlapQuestion } from '../../../core/analyses/overlap/question.js'
import type { OverlapMark } from '../../../core/analyses/overlap/marks.js'
import type { OverlapResult } from '../../../core/analyses/overlap/finish.js'
import { spokenOverlap } from '../../../core/analyses/overlap/spoken.js'
import { shownKind } from '../view.js'

export const overlap = shownKind<OverlapQuestion, OverlapMark, OverlapResult>({
  ...spokenOverlap,
  asks: 'Who is in several segments?',
  apart: true,
  additions: ({ figure }) => {
    if (!figure) return [{ token: 'figure', label: '+ with a figure…' }]
    return figure.where ? [] : [{ token: 'where', label: '+ only where…' }]
  },
  load: async () => (await import('./OverlapView.js')).view,
  explain: async () => (await import('../../../core/analyses/overlap/explain.js')).explainOverlap,
  editor: async () => (await import('./OverlapEditor.js')).OverlapEditor,
  leads: async () => (await import('./leads.js')).leads,
})
