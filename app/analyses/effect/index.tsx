import type { EffectMark } from '../../../core/analyses/effect/marks.js'
import type { EffectQuestion } from '../../../core/analyses/effect/question.js'
import type { EffectResult } from '../../../core/analyses/effect/finish.js'
import { spokenEffect } from '../../../core/analyses/effect/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const effect = shownKind<EffectQuestion, EffectMark, EffectResult>({
  ...spokenEffect,
  asks: 'What does a message bring?',
  apart: true,
  noSvg: true,
  compact: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.goal.where || 'activity' in question.goal.event
      ? []
      : [{ token: 'goalWhere', label: '+ only where…' }]),
  ],
  load: async () => (await import('./EffectView.js')).view,
  explain: async () => (await import('../../../core/analyses/effect/explain.js')).explainEffect,
  editor: async () => (await import('./EffectEditor.js')).EffectEditor,
  leads: async () => (await import('./leads.js')).leads,
})
