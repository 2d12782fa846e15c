import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import type { Mend } from './mend.server.js'
import { useMend } from './useMend.js'

/** Merging an old name into the right one, or taking that back. */
export function MergeField(props: {
  what: 'event' | 'property'
  of?: 'event' | 'person'
  from: string
  into: string | null
  choices: readonly string[]
  /** already chosen, for a remedy that proposes one */
  proposed?: string
}) {
  const { what, of = 'event', from, into, choices, proposed = null } = props
  const { mend, busy } = useMend()
  const [target, setTarget] = useState<string | null>(proposed)
  const [problem, setProblem] = useState<string | null>(null)
  const change = (next: string | null): Mend =>
    what === 'event' ? { do: 'merge event', from, into: next } : { do: 'merge property', of, from, into: next }
  const send = (next: string | null) =>
    void mend(change(next)).then(({ problems }) => setProblem(problems[0]?.message ?? null))
  if (into !== null)
    return (
      <div className="row wrap merge-field">
        <span>
          {what === 'event' ? 'Counts as' : 'Is read as'} <strong>{into}</strong>, past events too.
        </span>
        <Button disabled={busy} onClick={() => send(null)}>
          Take it back
        </Button>
      </div>
    )
  return (
    <div className="row wrap merge-field">
      <Autocomplete
        size="small"
        options={[...choices]}
        value={target}
        onChange={(_event, next) => setTarget(next)}
        renderInput={(params) => (
          <TextField
            {...params}
            label={what === 'event' ? 'An old name of' : 'Another spelling of'}
            error={problem !== null}
            helperText={problem}
          />
        )}
      />
      <Button variant="outlined" disabled={target === null || busy} onClick={() => send(target)}>
        Merge
      </Button>
    </div>
  )
}
