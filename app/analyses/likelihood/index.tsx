import type { LikelihoodResult } from '../../../core/analyses/likelihood/finish.js'
import type { LikelihoodMark } from '../../../core/analyses/likelihood/marks.js'
import type { LikelihoodQuestion } from '../../../core/analyses/likelihood/question.js'
import { spokenLikelihood } from '../../../core/analyses/likelihood/spoken.js'
import { shownKind } from '../view.js'

export const likelihood = shownKind<LikelihoodQuestion, LikelihoodMark, LikelihoodResult>({
  ...spokenLikelihood,
  asks: 'Who is likely to?',
  noSvg: true,
  compact: true,
  glyph: (
    <>
      <path d="M0,33 C18,32 24,6 44,5 S70,29 100,31 S130,33 140,33 Z" fill="var(--water)" opacity="0.3" />
      <path d="M92,2 V33" stroke="var(--hazel)" strokeWidth="2" />
    </>
  ),
  additions: ({ goal, again, back, lately, retrain }) => [
    ...(goal.where ? [] : [{ token: 'where', label: '+ only where…' }]),
    ...(lately ? [] : [{ token: 'lately', label: '+ only seen lately' }]),
    ...(back === undefined ? [{ token: 'back', label: '+ from their last…' }] : []),
    ...(again ? [] : [{ token: 'again', label: '+ who did it before too' }]),
    ...(retrain ? [] : [{ token: 'retrain', label: '+ trained by hand' }]),
  ],
  load: async () => (await import('./LikelihoodView.js')).view,
  explain: async () => (await import('../../../core/analyses/likelihood/explain.js')).explainLikelihood,
  editor: async () => (await import('./LikelihoodEditor.js')).LikelihoodEditor,
  leads: async () => (await import('./leads.js')).leads,
})
