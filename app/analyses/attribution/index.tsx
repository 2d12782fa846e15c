import type { AttributionResult } from '../../../core/analyses/attribution/finish.js'
import type { AttributionMark } from '../../../core/analyses/attribution/marks.js'
import { MOST_GOALS, type AttributionQuestion } from '../../../core/analyses/attribution/question.js'
import { spokenAttribution } from '../../../core/analyses/attribution/spoken.js'
import { tokenOf } from '../../../core/analyses/splitParts.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const attribution = shownKind<AttributionQuestion, AttributionMark, AttributionResult>({
  ...spokenAttribution,
  asks: 'What brought them?',
  home: true,
  glyph: [
    [0, 40, 26],
    [1, 26, 40],
    [2, 58, 8],
    [3, 16, 20],
  ].map(([row, begins, closes]) => (
    <g key={row}>
      <rect x="0" y={row * 9} width={begins} height="6" rx="1" fill="var(--series-2)" opacity="0.75" />
      <rect x={begins + 2} y={row * 9} width={closes + 24} height="6" rx="1" fill="var(--water)" />
    </g>
  )),
  additions: ({ goals, models, worth, first, touches, leftOut, direct, halfLife, every, breakdowns, costs }) => {
    const bare = goals.findIndex(({ where }) => !where)
    return [
      ...(bare >= 0 ? [{ token: tokenOf('where', bare), label: '+ only where…' }] : []),
      ...(worth === undefined ? [{ token: 'worth', label: '+ count people, or add up…' }] : []),
      ...(goals.length < MOST_GOALS ? [{ token: tokenOf('goal', goals.length), label: '+ another conversion' }] : []),
      ...(touches ? [] : [{ token: 'touches', label: '+ only touches…' }]),
      ...(leftOut ? [] : [{ token: 'leftOut', label: '+ leave out…' }]),
      ...(direct ? [] : [{ token: 'direct', label: '+ direct is…' }]),
      ...(models.includes('decay') && halfLife === undefined ? [{ token: 'halfLife', label: '+ half-life…' }] : []),
      ...(first ? [] : [{ token: 'first', label: '+ only their first' }]),
      ...(costs ? [] : [{ token: 'costs', label: '+ what it cost…' }]),
      ...(every ? [] : [{ token: 'every', label: '+ over time…' }]),
      ...breakdownAddition({ breakdowns }, 1),
    ]
  },
  load: async () => (await import('./AttributionView.js')).view,
  explain: async () => (await import('../../../core/analyses/attribution/explain.js')).explainAttribution,
  editor: async () => (await import('./AttributionEditor.js')).AttributionEditor,
  leads: async () => (await import('./leads.js')).leads,
})
