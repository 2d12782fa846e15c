import type { RetentionQuestion } from '../../../core/analyses/retention/question.js'
import type { RetentionMark } from '../../../core/analyses/retention/marks.js'
import type { RetentionResult } from '../../../core/analyses/retention/finish.js'
import { spokenRetention } from '../../../core/analyses/retention/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind, type Choice } from '../view.js'

export const retention = shownKind<RetentionQuestion, RetentionMark, RetentionResult>({
  ...spokenRetention,
  asks: 'Do they come back?',
  home: { looks: 5 },
  glyph: <path d="M0,2 C10,24 26,29 60,30 S110,31 140,31" fill="none" stroke="var(--water)" strokeWidth="2" />,
  compact: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.start.where ? [] : [{ token: 'where', label: '+ starts only where…' }]),
    ...(question.back?.where ? [] : [{ token: 'where back', label: '+ returns only where…' }]),
    ...(question.count || question.cumulated ? [] : [{ token: 'onward', label: '+ or later' }]),
    ...(question.brackets ? [] : [{ token: 'brackets', label: '+ own brackets of days' }]),
    ...(question.by ? [] : [{ token: 'by', label: '+ from the very moment' }]),
    ...(question.measure && question.measure !== 'people' && question.measure !== 'events'
      ? []
      : [{ token: 'measure', label: 'money, or another measure…' }]),
  ],
  choices: () => Promise.resolve(others),
  load: async () => (await import('./RetentionView.js')).view,
  explain: async () => (await import('../../../core/analyses/retention/explain.js')).explainRetention,
  editor: async () => (await import('./RetentionEditor.js')).RetentionEditor,
  leads: async () => (await import('./leads.js')).leads,
})

/** Of people who came back in a period: those of them who did not; and the other way round. */
function others(
  _question: RetentionQuestion,
  marks: readonly RetentionMark[],
): Choice<RetentionQuestion, RetentionMark>[] {
  const [mark] = marks
  if (marks.length !== 1 || mark.period === undefined || mark.what === 'started') return []
  const { period: _period, ...cohort } = mark
  return [
    mark.what === 'returned'
      ? { label: 'Those who did not', mark: { ...mark, what: 'not' } }
      : { label: 'Those who came back', mark: { ...mark, what: 'returned' } },
    // All of a period are those of the cohorts where it is complete: not the same as everybody who started.
    ...(mark.cohort === undefined ? [] : [{ label: 'All who started', mark: { ...cohort, what: 'started' as const } }]),
  ]
}
