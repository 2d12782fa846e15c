import CloseIcon from '@mui/icons-material/Close'
import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import IconButton from '@mui/material/IconButton'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Link } from 'react-router'
import { compilePattern } from '../../core/filters/pattern.js'
import { planKinds, policies, type PlanEvent, type PlanProperty, type Policy } from '../../core/plan/plan.js'
import { KIND_WORDS } from './kindWords.js'
import { LeaveDialog } from './LeaveDialog.js'
import { useDraft } from './useDraft.js'
import { useMend } from './useMend.js'

/** One event of the tracking plan: what it means, and what it is meant to carry. */
export function PlanEventEditor(props: {
  event: PlanEvent
  isNew: boolean
  isPlanned: boolean
  /** what has arrived under that name, in the plan's form */
  seen: PlanEvent | null
  policy: Policy
  taken: readonly string[]
}) {
  const { event: before, isNew, isPlanned, seen, policy, taken } = props
  const { mend, busy } = useMend()
  const { draft, setDraft, changed, blocker, leave } = useDraft(before, '/catalog/plan')
  const [problem, setProblem] = useState<string | null>(null)
  const set = (more: Partial<PlanEvent>) => {
    setProblem(null)
    setDraft({ ...draft, ...more })
  }
  const setProperty = (index: number, property: PlanProperty) =>
    set({ properties: draft.properties.with(index, property) })
  const finish = (result: { problems: { message: string }[] }) => {
    setProblem(result.problems[0]?.message ?? null)
    if (result.problems.length === 0) leave()
  }
  const fault = faultOf(draft, isNew ? taken : [])
  const missingSeen = seen?.properties.filter(({ name }) => !draft.properties.some((each) => each.name === name)) ?? []
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/catalog">Catalog</Link>
          <span aria-hidden="true">›</span>
          <Link to="/catalog/plan">Tracking plan</Link>
          <span aria-hidden="true">›</span>
          <strong>{isNew ? 'New event' : before.name}</strong>
        </nav>
        <div className="page-actions">
          {isPlanned && (
            <Button
              color="error"
              disabled={busy}
              onClick={() => void mend({ do: 'unplan', event: before.name }).then(finish)}
            >
              Take out of the plan
            </Button>
          )}
          <Button component={Link} to="/catalog/plan">
            Cancel
          </Button>
          <Button
            variant="contained"
            disabled={busy || fault !== null || (!changed && isPlanned)}
            onClick={() => void mend({ do: 'plan', events: [{ ...draft, name: draft.name.trim() }] }).then(finish)}
          >
            Keep it
          </Button>
        </div>
      </div>
      <h1 className="question">{isNew ? 'Plan an event' : <strong>{before.name}</strong>}</h1>
      <section className="sheet pad stack">
        <div className="row wrap">
          {isNew && (
            <TextField
              label="Name, as it will be sent"
              autoFocus
              value={draft.name}
              slotProps={{ htmlInput: { maxLength: 200 } }}
              onChange={(event) => set({ name: event.target.value })}
            />
          )}
          <TextField
            label="What it means"
            className="grow"
            value={draft.description}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
            onChange={(event) => set({ description: event.target.value })}
          />
          <TextField
            label="Owner"
            value={draft.owner}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            onChange={(event) => set({ owner: event.target.value })}
          />
        </div>
        <div className="row wrap">
          One that does not fit:
          <Select
            value={draft.policy ?? 'workspace'}
            aria-label="What happens to one that does not fit"
            onChange={(event) => {
              const { policy: _before, ...rest } = draft
              const next = event.target.value
              setProblem(null)
              setDraft(next === 'workspace' ? rest : { ...rest, policy: next as Policy })
            }}
          >
            <MenuItem value="workspace">as the workspace: {policy}</MenuItem>
            {policies.map((each) => (
              <MenuItem key={each} value={each}>
                {each}
              </MenuItem>
            ))}
          </Select>
        </div>
        <h2 className="overline">Properties</h2>
        {draft.properties.length === 0 && <p className="soft">It carries nothing so far.</p>}
        {draft.properties.length > 0 && (
          <div className="table-scroll" tabIndex={0} role="region" aria-label="Properties">
            <table className="catalog-table plan-table">
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">Type</th>
                  <th scope="col">Required</th>
                  <th scope="col">Only these values</th>
                  <th scope="col">Pattern</th>
                  <th scope="col">
                    <span className="sr-only">Remove</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {draft.properties.map((property, i) => (
                  <PropertyRow
                    key={i}
                    property={property}
                    onChange={(next) => setProperty(i, next)}
                    onRemove={() => set({ properties: draft.properties.toSpliced(i, 1) })}
                  />
                ))}
              </tbody>
            </table>
          </div>
        )}
        <p className="additions">
          <button
            type="button"
            className="addition"
            onClick={() =>
              set({
                properties: [...draft.properties, { name: '', kind: 'text', required: true, description: '' }],
              })
            }
          >
            + property
          </button>
          {missingSeen.map((property) => (
            <button
              key={property.name}
              type="button"
              className="addition"
              title="It arrives, and is not in the plan"
              onClick={() => set({ properties: [...draft.properties, property] })}
            >
              + {property.name}
            </button>
          ))}
        </p>
        {(problem ?? (changed ? fault : null)) && (
          <p className="faults" role="alert">
            {problem ?? fault}
          </p>
        )}
      </section>
      <LeaveDialog blocker={blocker} />
    </main>
  )
}

function PropertyRow(props: { property: PlanProperty; onChange: (p: PlanProperty) => void; onRemove: () => void }) {
  const { property, onChange, onRemove } = props
  const { allowed: _allowed, pattern: _pattern, ...bare } = property
  const pattern = property.pattern ? compilePattern(property.pattern, false) : null
  const keep = {
    ...(property.allowed ? { allowed: property.allowed } : {}),
    ...(property.pattern ? { pattern: property.pattern } : {}),
  }
  return (
    <tr>
      <td>
        <TextField
          value={property.name}
          slotProps={{ htmlInput: { 'aria-label': 'Property name', maxLength: 200 } }}
          onChange={(event) => onChange({ ...property, name: event.target.value })}
        />
      </td>
      <td>
        <Select
          value={property.kind}
          aria-label={`Type of ${property.name}`}
          onChange={(event) => onChange({ ...property, kind: event.target.value })}
        >
          {planKinds.map((kind) => (
            <MenuItem key={kind} value={kind}>
              {KIND_WORDS[kind]}
            </MenuItem>
          ))}
        </Select>
      </td>
      <td>
        <Checkbox
          size="small"
          checked={property.required}
          slotProps={{ input: { 'aria-label': `${property.name} is required` } }}
          onChange={(_event, required) => onChange({ ...property, required })}
        />
      </td>
      <td className="allowed">
        <Autocomplete
          multiple
          freeSolo
          autoSelect
          size="small"
          options={[]}
          value={property.allowed ?? []}
          onChange={(_event, next) => {
            const { allowed: _before, ...rest } = { ...bare, ...keep }
            onChange(next.length > 0 ? { ...rest, allowed: next } : rest)
          }}
          renderInput={(params) => (
            <TextField
              {...params}
              placeholder={property.allowed ? '' : 'any'}
              slotProps={{
                ...params.slotProps,
                htmlInput: { ...params.slotProps.htmlInput, 'aria-label': `Values ${property.name} may have` },
              }}
            />
          )}
        />
      </td>
      <td>
        <TextField
          value={property.pattern ?? ''}
          placeholder="none"
          error={pattern !== null && 'problem' in pattern}
          helperText={pattern && 'problem' in pattern ? pattern.problem : undefined}
          slotProps={{ htmlInput: { 'aria-label': `Pattern of ${property.name}`, maxLength: 1000 } }}
          onChange={(event) => {
            const { pattern: _before, ...rest } = { ...bare, ...keep }
            onChange(event.target.value ? { ...rest, pattern: event.target.value } : rest)
          }}
        />
      </td>
      <td>
        <IconButton size="small" aria-label={`Remove ${property.name || 'this property'}`} onClick={onRemove}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </td>
    </tr>
  )
}

/** What keeps the event from being kept; null when nothing does. */
function faultOf({ name, properties }: PlanEvent, taken: readonly string[]): string | null {
  if (name.trim() === '') return 'Give the event a name.'
  if (taken.includes(name.trim())) return `“${name.trim()}” is in the plan already: change it there.`
  const names = properties.map((property) => property.name.trim())
  if (names.includes('')) return 'Give each property a name, or remove it.'
  const twice = names.find((each, i) => names.indexOf(each) !== i)
  if (twice) return `“${twice}” is there twice.`
  const bad = properties.find(({ pattern }) => pattern && 'problem' in compilePattern(pattern, false))
  return bad ? `The pattern of “${bad.name}” cannot be read.` : null
}
