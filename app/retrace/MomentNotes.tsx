import CloseIcon from '@mui/icons-material/Close'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import type { Retraced } from './retraced.js'

/** Remarks on one moment; a link to the moment shows them to others. */
export function MomentNotes({ eventId, notes }: { eventId: string; notes: Retraced['notes'] }) {
  const fetcher = useFetcher<{ problem: string | null }>()
  const { zone, thisYear } = useWorkspace()
  const [text, setText] = useState('')
  useEffect(() => setText(''), [eventId])
  const send = (values: Record<string, string>) => void fetcher.submit(values, { method: 'post' })
  return (
    <div className="moment-notes">
      {notes.map((note) => (
        <p key={note.id} className="caution">
          {note.text} <span className="soft">{formatMoment(note.createdMs, zone, thisYear)}</span>
          <IconButton
            size="small"
            aria-label="Remove this note"
            onClick={() => send({ intent: 'remove note', id: note.id })}
          >
            <CloseIcon fontSize="inherit" />
          </IconButton>
        </p>
      ))}
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim() === '') return
          send({ intent: 'note', event: eventId, text })
          setText('')
        }}
      >
        <TextField
          fullWidth
          value={text}
          placeholder="Note on this moment"
          slotProps={{ htmlInput: { 'aria-label': 'Note on this moment', maxLength: 1000 } }}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" variant="outlined" disabled={text.trim() === ''}>
          Keep it
        </Button>
      </form>
      {fetcher.data?.problem && <p className="loss">{fetcher.data.problem}</p>}
    </div>
  )
}
