import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import { OptionList } from '../editors/OptionList.js'

/** Name and description, to save a study under. */
export function SaveDialog(props: {
  open: boolean
  name: string
  description: string
  /** a saved study can also be kept, and this saved as another */
  canSaveAsNew: boolean
  onClose: () => void
  onSave: (study: { name: string; description: string; asNew: boolean }) => void
}) {
  const { open, canSaveAsNew, onClose, onSave } = props
  const [name, setName] = useState(props.name)
  const [description, setDescription] = useState(props.description)
  useEffect(() => {
    if (!open) return
    setName(props.name)
    setDescription(props.description)
  }, [open, props.name, props.description])
  const missing = name.trim() === ''
  const save = (asNew: boolean) => !missing && onSave({ name: name.trim(), description: description.trim(), asNew })
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="save-title">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          save(!canSaveAsNew)
        }}
      >
        <DialogTitle id="save-title">Save the study</DialogTitle>
        <DialogContent className="stack">
          <TextField
            autoFocus
            label="Name"
            value={name}
            error={missing}
            helperText={missing ? 'Give it a name that others will find it by.' : undefined}
            slotProps={{ htmlInput: { maxLength: 120 } }}
            onChange={(event) => setName(event.target.value)}
            margin="dense"
            fullWidth
          />
          <TextField
            label="Description"
            value={description}
            multiline
            minRows={2}
            slotProps={{ htmlInput: { maxLength: 2000 } }}
            onChange={(event) => setDescription(event.target.value)}
            margin="dense"
            fullWidth
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          {canSaveAsNew && (
            <Button variant="outlined" disabled={missing} onClick={() => save(true)}>
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

/** Chooses a dashboard, or makes one, for a card of the study. */
export function BoardDialog(props: {
  open: boolean
  onClose: () => void
  onChoose: (dashboard: { id: string } | { name: string }) => void
}) {
  const { open, onClose, onChoose } = props
  const { dashboards } = useWorkspace()
  const [name, setName] = useState('')
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="board-title">
      <DialogTitle id="board-title">Add to a dashboard</DialogTitle>
      <DialogContent className="stack">
        {dashboards.length > 0 && (
          <OptionList
            label="Dashboards"
            options={dashboards.map(({ id, name: label }) => ({ key: id, label, value: id }))}
            onChoose={(id) => onChoose({ id })}
          />
        )}
        <form
          className="row"
          onSubmit={(event) => {
            event.preventDefault()
            if (name.trim()) onChoose({ name: name.trim() })
          }}
        >
          <TextField
            label="A new dashboard"
            value={name}
            fullWidth
            margin="dense"
            slotProps={{ htmlInput: { maxLength: 120 } }}
            onChange={(event) => setName(event.target.value)}
          />
          <Button variant="contained" type="submit" disabled={name.trim() === ''}>
            Make it
          </Button>
        </form>
      </DialogContent>
    </Dialog>
  )
}

interface LinkInfo {
  token: string
  createdMs: number
  endsMs: number | null
}

/** Links that show something read-only to whoever has them: made, copied, ended. */
export function ShareDialog(props: {
  open: boolean
  kind: 'study' | 'dashboard'
  target: string
  onClose: () => void
}) {
  const { open, kind, target, onClose } = props
  const { zone, thisYear } = useWorkspace()
  const fetcher = useFetcher<{ links: LinkInfo[] }>()
  const [ends, setEnds] = useState('')
  const [copied, setCopied] = useState<string | null>(null)
  const { load } = fetcher
  useEffect(() => {
    if (open) void load(`/ask/links?${new URLSearchParams({ kind, target }).toString()}`)
  }, [open, load, kind, target])
  const links = fetcher.data?.links ?? []
  const addressOf = (token: string) => `${window.location.origin}/shared/${token}`
  const send = (values: Record<string, string>) =>
    void fetcher.submit({ kind, target, ...values }, { method: 'post', action: '/ask/links' })
  const today = new Date().toISOString().slice(0, 10)
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="share-title">
      <DialogTitle id="share-title">Share by a link</DialogTitle>
      <DialogContent className="stack">
        <p>
          Whoever has the link sees this {kind} as it is now and will be, read-only and without signing in. People
          behind the numbers are not shown.
        </p>
        {links.length === 0 && fetcher.state === 'idle' && (
          <Alert severity="info">There is no link to this {kind} yet.</Alert>
        )}
        {links.map(({ token, createdMs, endsMs }) => (
          <div className="shared-link" key={token}>
            <TextField
              fullWidth
              value={open ? addressOf(token) : ''}
              slotProps={{ htmlInput: { readOnly: true, 'aria-label': 'Shared link', 'data-shared-link': '' } }}
              onFocus={(event) => event.target.select()}
              helperText={`Made ${formatMoment(createdMs, zone, thisYear)} · ${endsMs === null ? 'no end' : `ends ${formatMoment(endsMs - 1, zone, thisYear)}`}`}
            />
            <Button
              variant="outlined"
              onClick={() => {
                void navigator.clipboard.writeText(addressOf(token))
                setCopied(token)
              }}
            >
              {copied === token ? 'Copied' : 'Copy'}
            </Button>
            <Button color="error" onClick={() => send({ intent: 'revoke', token })}>
              Revoke
            </Button>
          </div>
        ))}
        <div className="row">
          <TextField
            type="date"
            label="Last day it works"
            value={ends}
            helperText="Empty: no end"
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: today } }}
            onChange={(event) => setEnds(event.target.value)}
          />
          <Button variant="contained" onClick={() => send({ intent: 'make', ends })}>
            Make a link
          </Button>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
