import { MOST_ROW_LEVELS, type CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import { tokenOf } from '../../../core/analyses/splitParts.js'
import type { CrosstabMark } from '../../../core/analyses/crosstab/marks.js'
import type { CrosstabResult } from '../../../core/analyses/crosstab/finish.js'
import { spokenCrosstab } from '../../../core/analyses/crosstab/spoken.js'
import { shownKind } from '../view.js'

export const crosstab = shownKind<CrosstabQuestion, CrosstabMark, CrosstabResult>({
  ...spokenCrosstab,
  asks: 'How many of each, in rows and columns?',
  wide: true,
  additions,
  load: async () => (await import('./CrosstabView.js')).view,
  explain: async () => (await import('../../../core/analyses/crosstab/explain.js')).explainCrosstab,
  editor: async () => (await import('./CrosstabEditor.js')).CrosstabEditor,
  leads: async () => (await import('./leads.js')).leads,
})

/** What is not yet part of the question. */
function additions(question: CrosstabQuestion): { token: string; label: string }[] {
  const { series, rows, column } = question
  const list: { token: string; label: string }[] = []
  if (!column && series.length < 8) list.push({ token: 'another event', label: '+ and another measure' })
  series.forEach((each, index) => {
    if (!each.where && (index === 0 || series.length <= 3))
      list.push({
        token: tokenOf('where', index),
        label: series.length > 1 ? `+ ${each.name ?? 'abcdefgh'[index]} only where…` : '+ only where…',
      })
  })
  if (rows.length < MOST_ROW_LEVELS) list.push({ token: tokenOf('row', rows.length), label: '+ within each row…' })
  if (!column && series.length === 1) list.push({ token: 'column', label: '+ a column for each…' })
  return list
}
