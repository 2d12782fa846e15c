import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useEffect, useState } from 'react'
import type { Explain } from '../../core/analyses/kind.js'
import type { Question } from '../../core/analyses/registry.js'
import { viewOf } from '../analyses/registry.js'
import { readWhen } from '../analyses/words.js'
import { useWorkspace } from '../page/workspace.js'

/** The exact definition in words, with the settings in force. */
export function ExplainDialog(props: { question: Question; zone: string; open: boolean; onClose: () => void }) {
  const { question, zone, open, onClose } = props
  const { words } = useWorkspace()
  const [explaining, setExplaining] = useState<{ of: string; explain: Explain<Question> } | null>(null)
  const { kind } = question
  useEffect(() => {
    let gone = false
    void viewOf(kind)
      .explain()
      .then((explain) => !gone && setExplaining({ of: kind, explain }))
    return () => {
      gone = true
    }
  }, [kind])
  const lines =
    explaining?.of === kind ? [...explaining.explain(question, zone, words), ...readWhen(question, words)] : []
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="explain-title">
      <DialogTitle id="explain-title">How this is counted</DialogTitle>
      <DialogContent className="prose">
        {lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
        {question.among && (
          <p>Only the people named after “among” are counted. Who they are is worked out anew each time.</p>
        )}
      </DialogContent>
    </Dialog>
  )
}
