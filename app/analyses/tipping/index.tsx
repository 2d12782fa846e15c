import type { TippingResult } from '../../../core/analyses/tipping/finish.js'
import type { TippingMark } from '../../../core/analyses/tipping/marks.js'
import type { TippingQuestion } from '../../../core/analyses/tipping/question.js'
import { spokenTipping } from '../../../core/analyses/tipping/spoken.js'
import { shownKind } from '../view.js'

export const tipping = shownKind<TippingQuestion, TippingMark, TippingResult>({
  ...spokenTipping,
  asks: 'What goes with staying?',
  noSvg: true,
  compact: true,
  glyph: [0, 1, 2].map((row) => (
    <g key={row}>
      {Array.from({ length: 10 - row * 2 }, (_, i) => (
        <rect
          key={i}
          x={i * 12}
          y={row * 11}
          width="10"
          height="8"
          rx="1"
          fill="var(--water)"
          opacity={Math.max(0.12, 0.9 - row * 0.25 - Math.abs(i - 2) * 0.14)}
        />
      ))}
    </g>
  )),
  additions: ({ start, goal, leftOut, open, count }) => [
    ...(start.where ? [] : [{ token: 'where', label: '+ only where…' }]),
    ...(goal.where || 'activity' in goal.event ? [] : [{ token: 'where goal', label: '+ outcome only where…' }]),
    ...(leftOut ? [] : [{ token: 'leftOut', label: '+ leave out…' }]),
    ...(open ? [] : [{ token: 'open', label: '+ by values…' }]),
    ...(count ? [] : [{ token: 'count', label: '+ count days…' }]),
  ],
  load: async () => (await import('./TippingView.js')).view,
  explain: async () => (await import('../../../core/analyses/tipping/explain.js')).explainTipping,
  editor: async () => (await import('./TippingEditor.js')).TippingEditor,
  leads: async () => (await import('./leads.js')).leads,
})
