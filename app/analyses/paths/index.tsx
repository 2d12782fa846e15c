import type { PathsResult } from '../../../core/analyses/paths/finish.js'
import type { PathsMark } from '../../../core/analyses/paths/marks.js'
import type { PathsQuestion } from '../../../core/analyses/paths/question.js'
import { spokenPaths } from '../../../core/analyses/paths/spoken.js'
import { shownKind } from '../view.js'

const STREAM = [
  'M6 12 C40 12 40 7 70 7 S110 6 134 6',
  'M6 18 C40 18 40 19 70 19 S110 11 134 11',
  'M6 24 C40 24 40 28 70 28 S110 22 134 22',
]

export const paths = shownKind<PathsQuestion, PathsMark, PathsResult>({
  ...spokenPaths,
  asks: 'Which way do they go?',
  home: true,
  glyph: (
    <>
      {STREAM.map((d, i) => (
        <path key={d} d={d} fill="none" stroke="var(--water)" strokeWidth={[7, 5, 3][i]} opacity={[0.8, 0.5, 0.3][i]} />
      ))}
      <rect x="0" y="6" width="5" height="22" rx="1" fill="var(--ink)" />
    </>
  ),
  additions: ({ start, end, backward, leaveOut, contains, lacks, open, session, breakdowns }) => [
    ...(start.where ? [] : [{ token: 'where', label: '+ only where…' }]),
    ...(end || backward ? [] : [{ token: 'end', label: '+ up to…' }]),
    ...(leaveOut ? [] : [{ token: 'leaveOut', label: '+ leave out…' }]),
    ...(contains ? [] : [{ token: 'contains', label: '+ must contain…' }]),
    ...(lacks ? [] : [{ token: 'lacks', label: '+ must not contain…' }]),
    ...(open ? [] : [{ token: 'open', label: '+ open by…' }]),
    ...(session ? [] : [{ token: 'session', label: '+ within one session' }]),
    ...(breakdowns ? [] : [{ token: 'breakdown', label: '+ two groups' }]),
  ],
  choices: async () => (await import('./onward.js')).onward,
  load: async () => (await import('./PathsView.js')).view,
  explain: async () => (await import('../../../core/analyses/paths/explain.js')).explainPaths,
  editor: async () => (await import('./PathsEditor.js')).PathsEditor,
  leads: async () => (await import('./leads.js')).leads,
})
