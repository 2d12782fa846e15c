import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { SegmentUses } from '../../server/doors/segments.js'
import type { Segment } from '../../server/store/segments.js'
import { SaidFields, useSaid } from './SaidFields.js'
import { placesOf } from './segment.js'
import { UsesList } from './UsesList.js'

/** Name, description and tags of a segment; and a word of what a changed rule changes elsewhere. */
export function SaveSegmentDialog(props: {
  open: boolean
  saved: Segment | null
  /** where its changed rule is used; null where the rule is not changed */
  uses: SegmentUses | null
  onClose: () => void
  onSave: (what: { fields: ReturnType<typeof useSaid>['fields']; asNew: boolean }) => void
}) {
  const { open, saved, uses, onClose, onSave } = props
  const said = useSaid(open, {
    name: saved?.name ?? '',
    description: saved?.description ?? '',
    tags: saved?.tags ?? [],
  })
  const { fields } = said
  const missing = fields.name === ''
  const used = uses && placesOf(uses) > 0
  const frozen = typeof saved?.frozenMs === 'number'
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="save-segment-title">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (!missing) onSave({ fields, asNew: false })
        }}
      >
        <DialogTitle id="save-segment-title">{frozen ? 'Name the list' : 'Save the segment'}</DialogTitle>
        <DialogContent className="stack">
          <SaidFields said={said} />
          {used && (
            <Alert severity="warning">
              Its rule has changed, and with it the numbers of what uses it:
              <UsesList uses={uses} />
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          {saved && !frozen && (
            <Button
              variant="outlined"
              disabled={missing || fields.name === saved.name}
              title={fields.name === saved.name ? 'Give it another name first' : undefined}
              onClick={() => onSave({ fields, asNew: true })}
            >
              Save as another
            </Button>
          )}
          <Button variant="contained" type="submit" disabled={missing}>
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
