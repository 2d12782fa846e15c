import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { Blocker } from 'react-router'

/** Asks before a page is left with changes that were not kept. */
export function LeaveDialog({ blocker }: { blocker: Blocker }) {
  return (
    <Dialog open={blocker.state === 'blocked'} onClose={() => blocker.reset?.()} aria-labelledby="leave-title">
      <DialogTitle id="leave-title">Leave without keeping the changes?</DialogTitle>
      <DialogContent>What was changed on this page is lost then.</DialogContent>
      <DialogActions>
        <Button onClick={() => blocker.reset?.()}>Stay</Button>
        <Button variant="contained" color="error" onClick={() => blocker.proceed?.()}>
          Leave
        </Button>
      </DialogActions>
    </Dialog>
  )
}
