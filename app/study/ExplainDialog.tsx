import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { Question } from '../../core/analyses/registry.js'
import { explainOf } from '../analyses/words.js'
import { useWorkspace } from '../page/workspace.js'

/** The exact definition in words, with the settings in force. */
export function ExplainDialog(props: { question: Question; zone: string; open: boolean; onClose: () => void }) {
  const { question, zone, open, onClose } = props
  const { words } = useWorkspace()
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="explain-title">
      <DialogTitle id="explain-title">How this is counted</DialogTitle>
      <DialogContent className="prose">
        {explainOf(question, zone, words).map((line) => (
          <p key={line}>{line}</p>
        ))}
        {question.among && (
          <p>Only the people named after “among” are counted. Who they are is worked out anew each time.</p>
        )}
      </DialogContent>
    </Dialog>
  )
}
