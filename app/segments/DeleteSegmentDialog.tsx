import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useFetcher, useNavigate } from 'react-router'
import type { SegmentUses } from '../../server/doors/segments.js'
import { placesOf } from './segment.js'
import { UsesList } from './UsesList.js'

/** Says what a segment's end means for what uses it, before it is deleted. It can be brought back. */
export function DeleteSegmentDialog(props: {
  segment: { id: string; name: string } | null
  uses: SegmentUses | null
  /** leads away from the segment's own page */
  leave?: boolean
  onClose: () => void
}) {
  const { segment, uses, leave = false, onClose } = props
  const fetcher = useFetcher()
  const navigate = useNavigate()
  const used = uses && placesOf(uses) > 0
  return (
    <Dialog open={segment !== null} onClose={onClose} aria-labelledby="delete-segment-title">
      <DialogTitle id="delete-segment-title">Delete “{segment?.name}”?</DialogTitle>
      <DialogContent>
        {used ? (
          <>
            <p>What uses it has no answer until it is brought back or another is chosen there:</p>
            <UsesList uses={uses} />
          </>
        ) : (
          <p>Nothing uses it. It can be brought back from the list of segments.</p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Do not delete it</Button>
        <Button
          variant="contained"
          color="error"
          onClick={() => {
            void fetcher
              .submit({ intent: 'delete', id: segment!.id }, { method: 'post', action: '/people/segments' })
              .then(() => leave && navigate('/people/segments'))
            onClose()
          }}
        >
          Delete
        </Button>
      </DialogActions>
    </Dialog>
  )
}
