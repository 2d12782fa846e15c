import { MOST_FORMULAS, MOST_SERIES, handleOf, type TrendQuestion } from '../../../core/analyses/trend/question.js'
import { tokenOf } from '../../../core/analyses/splitParts.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import { spokenTrend } from '../../../core/analyses/trend/spoken.js'
import { bucketLabel } from '../../charts/bucketLabel.js'
import type { Words } from '../../../core/words/words.js'
import { breakdownAddition } from '../additions.js'
import { shownKind, type Choice } from '../view.js'

export const trend = shownKind<TrendQuestion, TrendMark, TrendResult>({
  ...spokenTrend,
  asks: 'How many?',
  home: true,
  glyph: (
    <polyline
      points="0,30 20,26 40,28 60,18 80,20 100,11 120,14 140,4"
      fill="none"
      stroke="var(--water)"
      strokeWidth="2"
    />
  ),
  additions,
  choices: () => Promise.resolve(differences),
  load: async () => (await import('./TrendView.js')).view,
  explain: async () => (await import('../../../core/analyses/trend/explain.js')).explainTrend,
  editor: async () => (await import('./TrendEditor.js')).TrendEditor,
  leads: async () => (await import('./leads.js')).leads,
})

function additions(question: TrendQuestion): { token: string; label: string }[] {
  const { series, formulas = [] } = question
  const several = series.length > 1 || formulas.length > 0
  const list: { token: string; label: string }[] = []
  if (series.length < MOST_SERIES) list.push({ token: 'another event', label: '+ and another event' })
  series.forEach((each, index) => {
    if (!each.where && (index === 0 || series.length <= 3))
      list.push({
        token: tokenOf('where', index),
        label: several ? `+ ${handleOf(question, index)} only where…` : '+ only where…',
      })
  })
  list.push(...breakdownAddition(question))
  if (!question.compare) list.push({ token: 'compare', label: '+ compared with…' })
  if (formulas.length < MOST_FORMULAS) list.push({ token: tokenOf('formula', formulas.length), label: '+ formula' })
  if (!question.smooth) list.push({ token: 'smooth', label: '+ smoothed' })
  return list
}

/** Two points of one line: who is counted in the one and not in the other. */
function differences(
  question: TrendQuestion,
  marks: readonly TrendMark[],
  words: Words,
): Choice<TrendQuestion, TrendMark>[] {
  const [a, b] = marks
  if (marks.length !== 2) return []
  const { bucket: first, ...line } = a
  const { bucket: second, ...other } = b
  if (first === undefined || second === undefined || a.before || JSON.stringify(line) !== JSON.stringify(other))
    return []
  const only = (bucket: string, not: string) => ({
    label: `In ${bucketLabel(bucket, question.every, words)}, not ${bucketLabel(not, question.every, words)}`,
    mark: { ...line, bucket, not } as TrendMark,
  })
  return [only(first, second), only(second, first)]
}
