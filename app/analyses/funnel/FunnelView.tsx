import { memo } from 'react'
import { eventWords } from '../../../core/words/words.js'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { FunnelResult } from '../../../core/analyses/funnel/finish.js'
import { BreakdownEditor } from '../../editors/BreakdownEditor.js'
import { RangeEditor } from '../../editors/RangeEditor.js'
import type { AnalysisView, EditorProps } from '../view.js'
import { useWorkspace } from '../../workspace.js'
import { FunnelRows } from './FunnelRows.js'
import { FunnelTable } from './FunnelTable.js'
import { WindowEditor } from './WindowEditor.js'

function FunnelEditor({ token, question, edit, close }: EditorProps<FunnelQuestion>) {
  const { words } = useWorkspace()
  switch (token) {
    case 'window':
      return <WindowEditor value={question.window} onChange={(window, how) => edit({ ...question, window }, how)} />
    case 'range':
      return <RangeEditor value={question.range} onChange={(range, how) => edit({ ...question, range }, how)} />
    case 'breakdown':
      return (
        <>
          <p className="hint">
            A property of the event is read at step 1, {eventWords(question.steps[0].event, words)}.
          </p>
          <BreakdownEditor
            events={[question.steps[0].event]}
            value={question.breakdowns?.[0]}
            onChange={(breakdown, how) => {
              const { breakdowns: _before, ...rest } = question
              edit(breakdown ? { ...rest, breakdowns: [breakdown] } : rest, how)
            }}
            onDone={close}
          />
        </>
      )
    default:
      return null
  }
}

export const funnelView: AnalysisView<FunnelQuestion, FunnelResult> = {
  name: 'Funnel',
  Body: memo(FunnelRows),
  Numbers: memo(FunnelTable),
  Editor: FunnelEditor,
  additions: (question) => (question.breakdowns ? [] : [{ token: 'breakdown', label: '+ for each…' }]),
}
