import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { useRef } from 'react'
import { Link, useFetcher, useSearchParams } from 'react-router'
import { planEventSchema, type PlanEvent } from '../../core/plan/plan.js'
import { countOf, formatNumber, MISSING } from '../../core/words/format.js'
import { PlanEventEditor } from '../catalog/PlanEventEditor.js'
import { useMend } from '../catalog/useMend.js'
import { dowser } from '../door/dowser.server.js'
import type { Route } from './+types/plan'

export async function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams
  const plan = dowser().plan.get()
  const { events, properties } = await dowser().catalogDetail()
  const seenPlan = (name: string): PlanEvent | null => {
    const event = events.find((each) => each.name === name)
    if (!event) return null
    return planEventSchema.parse({
      ...{ name, description: event.description, owner: event.owner },
      properties: event.properties.map((carried) => {
        const property = properties.find((each) => each.of === 'event' && each.name === carried.name)
        const several = (property?.kinds.length ?? 0) > 1
        return {
          name: carried.name,
          kind: several ? 'any' : (property?.kind ?? 'any'),
          // What every single event carries is taken as required.
          required: carried.events === event.events,
        }
      }),
    })
  }
  const unplanned = events.filter(
    (event) => !event.planned && !event.mergedInto && event.events > 0 && event.state === 'live',
  )
  const asked = params.get('event')
  return {
    policy: plan.policy,
    events: plan.events.map((event) => ({
      event,
      arrived: events.find((each) => each.name === event.name)?.recent ?? 0,
    })),
    unplanned: unplanned.map(({ name }) => seenPlan(name)!),
    editing:
      asked !== null
        ? (plan.events.find(({ name }) => name === asked) ?? seenPlan(asked))
        : params.has('new')
          ? planEventSchema.parse({ name: 'x' })
          : null,
    seen: asked === null ? null : seenPlan(asked),
  }
}

/** A plan from a file: what could be read of it, to be looked at before it is kept. */
export async function action({ request }: Route.ActionArgs) {
  const form = await request.formData()
  const file = form.get('file')
  if (!(file instanceof File) || file.size === 0) return { problem: 'Choose a file: CSV or JSON Schema.' }
  if (file.size > 5_000_000) return { problem: 'The file is larger than 5 MB: that is no tracking plan.' }
  return { read: dowser().plan.readFile(await file.text()) }
}

export const meta = () => [{ title: 'Tracking plan · Dowser' }]

export default function PlanPage({ loaderData }: Route.ComponentProps) {
  const { policy, events, unplanned, editing, seen } = loaderData
  const [params] = useSearchParams()
  const { mend, busy } = useMend()
  const upload = useFetcher<typeof action>()
  const input = useRef<HTMLInputElement>(null)
  const isNew = params.has('new')
  if (editing)
    return (
      <PlanEventEditor
        key={params.toString()}
        event={isNew ? { ...editing, name: '' } : editing}
        isNew={isNew}
        isPlanned={events.some(({ event }) => event.name === editing.name)}
        seen={seen}
        policy={policy}
        taken={events.map(({ event }) => event.name)}
      />
    )
  const read = upload.data && 'read' in upload.data ? upload.data.read : null
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/catalog">Catalog</Link>
          <span aria-hidden="true">›</span>
          <strong>Tracking plan</strong>
        </nav>
        <div className="page-actions">
          <Button variant="outlined" onClick={() => input.current?.click()}>
            Bring in a plan
          </Button>
          <Button variant="outlined" component="a" href="/download/plan.csv" download>
            Download CSV
          </Button>
          <Button variant="outlined" component="a" href="/download/plan.schema.json" download>
            Download JSON Schema
          </Button>
          <Button variant="contained" component={Link} to="/catalog/plan?new">
            Plan an event
          </Button>
          <input
            ref={input}
            type="file"
            hidden
            data-plan-file=""
            accept=".csv,.json,.txt"
            aria-label="File with a plan"
            onChange={(event) => {
              const file = event.target.files?.[0]
              if (!file) return
              const form = new FormData()
              form.set('file', file)
              void upload.submit(form, { method: 'post', encType: 'multipart/form-data' })
              event.target.value = ''
            }}
          />
        </div>
      </div>
      <h1 className="question">What is meant to arrive</h1>
      {upload.data && 'problem' in upload.data && <Alert severity="error">{upload.data.problem}</Alert>}
      {read && (
        <section className="sheet pad stack">
          <p>
            The file plans <strong>{countOf(read.events.length, 'event', 'events')}</strong>
            {read.problems.length > 0 && `; ${countOf(read.problems.length, 'line', 'lines')} could not be read`}.
          </p>
          {read.problems.length > 0 && (
            <ul className="faults">
              {read.problems.slice(0, 20).map(({ line, reason }) => (
                <li key={`${line} ${reason}`}>
                  line {line}: {reason}
                </li>
              ))}
              {read.problems.length > 20 && <li>and {read.problems.length - 20} more</li>}
            </ul>
          )}
          <div className="row">
            <Button
              variant="contained"
              disabled={read.events.length === 0 || busy}
              onClick={() => void mend({ do: 'plan', events: read.events }).then(() => upload.load('/catalog/plan'))}
            >
              Take {countOf(read.events.length, 'event', 'events')} into the plan
            </Button>
            <span className="hint">Events of the same name are replaced, the others stay.</span>
          </div>
        </section>
      )}
      {unplanned.length > 0 && (
        <section className="sheet pad row between wrap plan-note">
          <p>
            {countOf(unplanned.length, 'event arrives', 'events arrive')} that {unplanned.length === 1 ? 'is' : 'are'}{' '}
            not in the plan:{' '}
            {unplanned
              .slice(0, 4)
              .map(({ name }) => name)
              .join(', ')}
            {unplanned.length > 4 && ` and ${unplanned.length - 4} more`}.
          </p>
          <Button variant="outlined" disabled={busy} onClick={() => void mend({ do: 'plan', events: unplanned })}>
            Take over what has been seen
          </Button>
        </section>
      )}
      <section className="sheet">
        {events.length === 0 ? (
          <p className="pad soft">
            Planned events would be listed here, each with the properties it is meant to carry. Write them by hand, take
            over what has been seen, or bring in a file.
          </p>
        ) : (
          <div className="table-scroll" tabIndex={0} role="region" aria-label="Planned events">
            <table className="catalog-table">
              <thead>
                <tr>
                  <th scope="col">Event</th>
                  <th scope="col">Meaning</th>
                  <th scope="col">Required</th>
                  <th scope="col">Optional</th>
                  <th scope="col">Owner</th>
                  <th scope="col">What does not fit</th>
                  <th scope="col" className="number">
                    30 days
                  </th>
                </tr>
              </thead>
              <tbody>
                {events.map(({ event, arrived }) => (
                  <tr key={event.name}>
                    <td className="no-wrap">
                      <Link className="name-link" to={`/catalog/plan?event=${encodeURIComponent(event.name)}`}>
                        {event.name}
                      </Link>
                    </td>
                    <td className="soft">{event.description || MISSING}</td>
                    <td>{namesOf(event, true)}</td>
                    <td className="soft">{namesOf(event, false)}</td>
                    <td className="soft">{event.owner || MISSING}</td>
                    <td className="soft">{event.policy ?? policy}</td>
                    <td className="number">{arrived === 0 ? MISSING : formatNumber(arrived)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </section>
    </main>
  )
}

function namesOf({ properties }: PlanEvent, required: boolean): string {
  const names = properties.filter((property) => property.required === required).map(({ name }) => name)
  return names.join(', ') || MISSING
}
