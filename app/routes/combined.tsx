import { own } from '../../core/names.js'
import CloseIcon from '@mui/icons-material/Close'
import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Combined } from '../../core/made/definitions.js'
import { formatNumber } from '../../core/words/format.js'
import { LeaveDialog } from '../catalog/LeaveDialog.js'
import { useDraft } from '../catalog/useDraft.js'
import { useMend } from '../catalog/useMend.js'
import { dowser, missing } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/combined'

export function loader({ request }: Route.LoaderArgs) {
  const name = new URL(request.url).searchParams.get('name')
  if (name === null)
    return { definition: { name: '', description: '', events: [], properties: [] } as Combined, isNew: true }
  const definition = dowser()
    .mending.get()
    .combined.find((each) => each.name === name)
  if (!definition) missing(`There is no combined event “${name}”. It may have been removed.`)
  return { definition, isNew: false }
}

export const meta = ({ data }: Route.MetaArgs) => [{ title: `${data?.definition.name || 'New event'} · Dowser` }]

export default function CombinedPage({ loaderData }: Route.ComponentProps) {
  const { definition: before, isNew } = loaderData
  const { catalog } = useWorkspace()
  const { mend, busy } = useMend()
  const { draft, setDraft, changed, blocker, leave } = useDraft<Combined>(before, '/catalog/made')
  const [problems, setProblems] = useState<{ message: string }[]>([])
  const set = (more: Partial<Combined>) => {
    setProblems([])
    setDraft({ ...draft, ...more })
  }
  const events = catalog.events.filter((event) => !event.combined)
  const carriedBy = (name: string) => events.find((event) => event.name === name)?.properties ?? []
  const total = draft.events.reduce((sum, name) => sum + (events.find((event) => event.name === name)?.recent ?? 0), 0)
  const save = () =>
    void mend({ do: 'save combined', definition: draft, ...(isNew ? {} : { before: before.name }) }).then((result) => {
      setProblems(result.problems)
      if (result.problems.length === 0) leave()
    })
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/catalog">Catalog</Link>
          <span aria-hidden="true">›</span>
          <Link to="/catalog/made">Made here</Link>
          <span aria-hidden="true">›</span>
          <strong>{isNew ? 'New' : before.name}</strong>
        </nav>
        <div className="page-actions">
          <Button component={Link} to="/catalog/made">
            Cancel
          </Button>
          <Button variant="contained" disabled={busy || !changed} onClick={save}>
            {isNew ? 'Keep it' : 'Keep the changes'}
          </Button>
        </div>
      </div>
      <h1 className="question">Several events, counted as one.</h1>
      <section className="sheet pad stack">
        <div className="row wrap">
          <TextField
            label="Name"
            value={draft.name}
            autoFocus={isNew}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            onChange={(event) => set({ name: event.target.value })}
          />
          <TextField
            label="What it means"
            className="grow"
            value={draft.description}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
            onChange={(event) => set({ description: event.target.value })}
          />
        </div>
        <Autocomplete
          multiple
          size="small"
          options={events.map(({ name }) => name)}
          value={draft.events}
          onChange={(_event, next) => set({ events: next })}
          renderInput={(params) => <TextField {...params} label="Events" />}
        />
        {draft.events.length > 0 && (
          <p className="hint">{formatNumber(total)} of them in the last 30 days, all together.</p>
        )}
        <h2 className="overline">Properties of the combined event</h2>
        <p className="hint">
          Properties of the same name need nothing: they are read as they are. Make one here where the events call the
          same thing differently.
        </p>
        {draft.properties.map((property, i) => (
          <div className="combined-property" key={i}>
            <TextField
              label="Property"
              value={property.name}
              onChange={(event) =>
                set({ properties: draft.properties.with(i, { ...property, name: event.target.value }) })
              }
            />
            {draft.events.map((event) => (
              <Autocomplete
                key={event}
                size="small"
                options={carriedBy(event)}
                value={own(property.from, event) ?? null}
                onChange={(_change, next) => {
                  const { [event]: _before, ...from } = property.from
                  const properties = draft.properties.with(i, {
                    ...property,
                    from: next === null ? from : { ...from, [event]: next },
                  })
                  set({ properties })
                }}
                renderInput={(params) => <TextField {...params} label={`from ${event}`} />}
              />
            ))}
            <IconButton
              size="small"
              aria-label={`Remove property ${i + 1}`}
              onClick={() => set({ properties: draft.properties.toSpliced(i, 1) })}
            >
              <CloseIcon fontSize="small" />
            </IconButton>
          </div>
        ))}
        <p className="additions">
          <button
            type="button"
            className="addition"
            disabled={draft.events.length === 0}
            onClick={() => set({ properties: [...draft.properties, { name: '', from: {} }] })}
          >
            + property
          </button>
        </p>
        {problems.map(({ message }) => (
          <p key={message} className="faults" role="alert">
            {message}
          </p>
        ))}
      </section>
      <LeaveDialog blocker={blocker} />
    </main>
  )
}
