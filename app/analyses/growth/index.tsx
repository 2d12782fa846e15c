import type { GrowthQuestion } from '../../../core/analyses/growth/question.js'
import type { GrowthMark } from '../../../core/analyses/growth/marks.js'
import type { GrowthResult } from '../../../core/analyses/growth/finish.js'
import { spokenGrowth } from '../../../core/analyses/growth/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const growth = shownKind<GrowthQuestion, GrowthMark, GrowthResult>({
  ...spokenGrowth,
  asks: 'Are we growing or leaking?',
  home: true,
  glyph: [
    [15, 4, 9],
    [16, 3, 7],
    [15, 5, 10],
    [17, 4, 8],
    [18, 4, 7],
    [17, 5, 11],
    [18, 4, 8],
    [19, 5, 7],
  ].map(([kept, fresh, lost], i) => (
    <g key={i}>
      <rect x={i * 17.5} y={24 - kept} width="13" height={kept} fill="var(--water)" />
      <rect x={i * 17.5} y={24 - kept - fresh} width="13" height={fresh} fill="var(--series-1)" />
      <rect x={i * 17.5} y="25" width="13" height={lost} fill="var(--series-3)" />
    </g>
  )),
  compact: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.start.where ? [] : [{ token: 'where', label: '+ only where…' }]),
  ],
  load: async () => (await import('./GrowthView.js')).view,
  explain: async () => (await import('../../../core/analyses/growth/explain.js')).explainGrowth,
  editor: async () => (await import('./GrowthEditor.js')).GrowthEditor,
  leads: async () => (await import('./leads.js')).leads,
})
