import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import { spokenFunnel } from '../../../core/analyses/funnel/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind, type Choice } from '../view.js'

export const funnel = shownKind<FunnelQuestion, FunnelMark, FunnelResult>({
  ...spokenFunnel,
  asks: 'How far do they get?',
  home: true,
  glyph: [140, 94, 52, 48, 42].map((width, i) => (
    <rect key={width} x="0" y={i * 7} width={width} height="5" rx="1" fill="var(--water)" opacity={1 - i * 0.16} />
  )),
  noSvg: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.compare ? [] : [{ token: 'compare', label: '+ compared with…' }]),
    ...(question.same ? [] : [{ token: 'same', label: '+ same … all the way' }]),
    ...(question.first ? [] : [{ token: 'first', label: '+ first time ever' }]),
    ...(question.target === undefined ? [{ token: 'target', label: '+ target…' }] : []),
  ],
  choices: () => Promise.resolve(instead),
  load: async () => (await import('./FunnelView.js')).view,
  explain: async () => (await import('../../../core/analyses/funnel/explain.js')).explainFunnel,
  editor: async () => (await import('./FunnelEditor.js')).FunnelEditor,
  leads: async () => (await import('./leads.js')).leads,
})

/** Those lost at a step in the time asked about, or a part of them: the study of what they did instead. */
function instead(question: FunnelQuestion, marks: readonly FunnelMark[]): Choice<FunnelQuestion, FunnelMark>[] {
  const [mark] = marks
  if (marks.length !== 1 || mark.kind !== 'step' || mark.before) return []
  // Who may still go on has done nothing instead yet.
  if (mark.what !== 'lost' && mark.what !== 'gone') return []
  const whole = mark.group === undefined && mark.bucket === undefined
  const asked: FunnelQuestion = {
    ...question,
    // A part of the lost is asked about by itself.
    ...(whole ? {} : { among: { study: question, marks: [...marks] } }),
    show: { form: 'after', step: mark.step, within: { count: 1, unit: 'hour' } },
  }
  return [{ label: 'What they did instead', question: asked }]
}
