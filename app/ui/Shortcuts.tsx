import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'

const LIST: [string, string][] = [
  ['/', 'To the question field'],
  ['n', 'New study'],
  ['s', 'Save the study'],
  ['t', 'To the table, and back to the chart'],
  ['Enter', 'Open the word that has the focus, or choose'],
  ['Esc', 'Close what is open, or let the selection go'],
  ['Arrows', 'Move in charts and tables; with Alt, move a step of a funnel'],
  ['Shift or Ctrl', 'with a click: select several'],
  ['Ctrl Z', 'Undo the last change of the question'],
  ['Ctrl Shift Z', 'Redo'],
  ['?', 'This list'],
]

/** Whether a key press belongs to something that is being typed into. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement
  return target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)
}

/** The keys that work on every page; a page adds its own. */
export function useShortcuts() {
  const [open, setOpen] = useState(false)
  const navigate = useNavigate()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key === '?') setOpen(true)
      else if (event.key === 'n') void navigate('/studies/new?kind=trend')
      else if (event.key === '/') {
        const fields = [...document.querySelectorAll<HTMLInputElement>('[data-ask] input')]
        const field = fields.find((input) => input.offsetParent !== null)
        if (!field) return
        event.preventDefault()
        field.focus()
      }
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [navigate])
  return { open, show: () => setOpen(true), hide: () => setOpen(false) }
}

export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="shortcuts-title">
      <DialogTitle id="shortcuts-title">Keyboard shortcuts</DialogTitle>
      <DialogContent>
        <dl className="shortcuts">
          {LIST.map(([key, what]) => (
            <div key={key}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </DialogContent>
    </Dialog>
  )
}
