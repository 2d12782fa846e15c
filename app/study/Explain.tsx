import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useState } from 'react'
import { explainOf } from '../analyses/words.js'
import type { Question } from '../../core/analyses/registry.js'
import { useWorkspace } from '../page/workspace.js'

/** "How is this counted?": the exact definition in words, with the settings in force. */
export function Explain({ question, zone }: { question: Question; zone: string }) {
  const { words } = useWorkspace()
  const [open, setOpen] = useState(false)
  const text = explainOf(question, zone, words)
  return (
    <>
      <button type="button" className="link-button" onClick={() => setOpen(true)}>
        How is this counted?
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="explain-title">
        <DialogTitle id="explain-title">How this is counted</DialogTitle>
        <DialogContent className="prose">
          {text.map((line) => (
            <p key={line}>{line}</p>
          ))}
          {question.among && (
            <p>Only the people named after “among” are counted. Who they are is worked out anew each time.</p>
          )}
        </DialogContent>
      </Dialog>
    </>
  )
}
