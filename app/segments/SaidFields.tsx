import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { TagsField } from '../editors/TagsField.js'

interface Said {
  name: string
  description: string
  tags: string[]
}

/** Name, description and tags while they are typed; they start anew each time the dialog opens. */
export function useSaid(open: boolean, start: Said) {
  const [said, setSaid] = useState(start)
  useEffect(() => {
    if (open) setSaid(start)
    // What is typed stays while the dialog is open, whatever `start` becomes.
  }, [open])
  const { name, description, tags } = said
  return {
    said,
    setSaid,
    /** as a form sends them */
    fields: { name: name.trim(), description: description.trim(), tags: JSON.stringify(tags) },
  }
}

export function SaidFields({ said: { said, setSaid } }: { said: ReturnType<typeof useSaid> }) {
  const missing = said.name.trim() === ''
  return (
    <>
      <TextField
        autoFocus
        label="Name"
        value={said.name}
        helperText={missing ? 'A name that others will find it by.' : undefined}
        slotProps={{ htmlInput: { maxLength: 120 } }}
        onChange={(event) => setSaid({ ...said, name: event.target.value })}
        margin="dense"
        fullWidth
      />
      <TextField
        label="Description"
        value={said.description}
        multiline
        minRows={2}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(event) => setSaid({ ...said, description: event.target.value })}
        fullWidth
      />
      <TagsField value={said.tags} most={20} onChange={(tags) => setSaid({ ...said, tags })} />
    </>
  )
}
