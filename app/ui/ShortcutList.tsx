import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { Link } from 'react-router'

const LIST: [string, string][] = [
  ['/', 'To the question field'],
  ['n', 'New study'],
  ['s', 'Save what the page shows'],
  ['t', 'To the table, and back to the chart'],
  ['Enter', 'Open the word that has the focus, or choose'],
  ['Esc', 'Close what is open, or let the selection go'],
  ['Arrows', 'Move in charts and tables; with Alt, move a step of a funnel'],
  ['Shift or Ctrl', 'with a click: select several'],
  ['Ctrl Z', 'Undo the last change of the question'],
  ['Ctrl Shift Z', 'Redo'],
  ['?', 'This list'],
]

/** The keys that work on every page. */
export function ShortcutList({ open, onClose }: { open: boolean; onClose: () => void }) {
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
        <p>
          <Link to="/asking" onClick={onClose}>
            What can be asked in words
          </Link>
        </p>
      </DialogContent>
    </Dialog>
  )
}
