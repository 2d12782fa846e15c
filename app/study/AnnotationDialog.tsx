import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import type { Annotation } from '../../core/words/words.js'

export type AnnotationDraft = Omit<Annotation, 'id'> & { id?: string }

/** Writes, changes or removes a dated note. */
export function AnnotationDialog(props: {
  draft: AnnotationDraft | null
  /** the saved study that is shown, if any: a note may be for it alone */
  study: { id: string; name: string } | null
  onClose: () => void
}) {
  return props.draft && <Open key={props.draft.id ?? props.draft.day} {...props} draft={props.draft} />
}

function Open({ draft, study, onClose }: Parameters<typeof AnnotationDialog>[0] & { draft: AnnotationDraft }) {
  const fetcher = useFetcher<{ saved?: string; problem?: string }>()
  const [text, setText] = useState(draft.text)
  const [day, setDay] = useState(draft.day)
  const [tags, setTags] = useState(draft.tags.join(', '))
  const [where, setWhere] = useState(draft.study === null ? 'all' : 'one')
  const { data, state } = fetcher
  useEffect(() => {
    if (state === 'idle' && data && !data.problem) onClose()
  }, [data, state, onClose])
  const ready = text.trim() !== '' && day !== ''
  const submit = (values: Record<string, string>) =>
    void fetcher.submit(
      { ...values, ...(draft.id ? { id: draft.id } : {}) },
      { method: 'post', action: '/ask/annotations' },
    )
  const save = () => {
    const list = tags
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean)
    const annotation = { day, text, tags: list, study: where === 'one' ? (draft.study ?? study?.id ?? null) : null }
    submit({ intent: 'save', annotation: JSON.stringify(annotation) })
  }
  return (
    <Dialog open onClose={onClose} aria-labelledby="annotation-title" fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (ready) save()
        }}
      >
        <DialogTitle id="annotation-title">{draft.id ? 'Change the note' : 'A note on the chart'}</DialogTitle>
        <DialogContent className="stack dialog-stack">
          <TextField
            label="What happened"
            value={text}
            autoFocus
            placeholder="Day pass price up"
            slotProps={{ htmlInput: { maxLength: 200 } }}
            onChange={(event) => setText(event.target.value)}
          />
          <TextField
            label="On"
            type="date"
            value={day}
            slotProps={{ inputLabel: { shrink: true } }}
            onChange={(event) => setDay(event.target.value)}
          />
          <TextField
            label="Tags, with commas between (may be left out)"
            value={tags}
            onChange={(event) => setTags(event.target.value)}
          />
          {(study ?? draft.study) && (
            <TextField select label="Shown on" value={where} onChange={(event) => setWhere(event.target.value)}>
              <MenuItem value="all">every study and dashboard</MenuItem>
              <MenuItem value="one">this study only</MenuItem>
            </TextField>
          )}
          {data?.problem && <p className="caution">{data.problem}</p>}
        </DialogContent>
        <DialogActions>
          {draft.id && (
            <Button color="error" onClick={() => submit({ intent: 'remove' })}>
              Remove
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="contained" type="submit" disabled={!ready || state !== 'idle'}>
            {draft.id ? 'Save' : 'Add note'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
