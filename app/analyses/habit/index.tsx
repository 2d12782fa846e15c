import type { HabitQuestion } from '../../../core/analyses/habit/question.js'
import type { HabitMark } from '../../../core/analyses/habit/marks.js'
import type { HabitResult } from '../../../core/analyses/habit/finish.js'
import { spokenHabit } from '../../../core/analyses/habit/spoken.js'
import { breakdownAddition } from '../additions.js'
import { shownKind } from '../view.js'

export const habit = shownKind<HabitQuestion, HabitMark, HabitResult>({
  ...spokenHabit,
  asks: 'How often?',
  home: true,
  glyph: [30, 24, 19, 15, 12, 9, 7, 5, 4, 3].map((height, i) => (
    <rect
      key={i}
      x={i * 14}
      y={34 - height}
      width="11"
      height={height}
      rx="1"
      fill="var(--water)"
      opacity={i < 6 ? 0.5 : 1}
    />
  )),
  compact: true,
  additions: (question) => [
    ...breakdownAddition(question),
    ...(question.start.where ? [] : [{ token: 'where', label: '+ only where…' }]),
    ...(question.core ? [] : [{ token: 'core', label: '+ own threshold…' }]),
  ],
  load: async () => (await import('./HabitView.js')).view,
  explain: async () => (await import('../../../core/analyses/habit/explain.js')).explainHabit,
  editor: async () => (await import('./HabitEditor.js')).HabitEditor,
  leads: async () => (await import('./leads.js')).leads,
})
