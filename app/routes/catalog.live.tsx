import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Autocomplete from '@mui/material/Autocomplete'
import { useEffect, useRef, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import { formatDay, formatMoment, formatNumber } from '../../core/words/format.js'
import type { LiveEvent } from '../../server/index.js'
import { clockIn } from '../catalog/days.js'
import { personAddress } from '../catalog/EventSample.js'
import { SimulatorSwitch } from '../catalog/SimulatorSwitch.js'
import { dowser } from '../door/dowser.server.js'
import { put, useAddress } from '../ui/useAddress.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.live'

const SHOWN = 100

export function loader({ request }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams
  const filter = Object.fromEntries(
    (['event', 'source', 'person'] as const).flatMap((name) => (params.get(name) ? [[name, params.get(name)!]] : [])),
  )
  return { events: dowser().live(filter, SHOWN), simulator: dowser().simulator.state() }
}

/** How often the page asks for what is new. */
const EVERY_MS = 1000

export default function CatalogLive({ loaderData }: Route.ComponentProps) {
  const { catalog, status } = useWorkspace()
  const [params, change] = useAddress()
  const [paused, setPaused] = useState(false)
  const fetcher = useFetcher<typeof loader>()
  const { load, state, data } = fetcher
  const search = params.toString()
  useEffect(() => {
    if (paused) return
    const timer = setInterval(() => {
      if (document.visibilityState === 'visible' && state === 'idle') void load(`/catalog/live?${search}`)
    }, EVERY_MS)
    return () => clearInterval(timer)
  }, [paused, search, load, state])
  const { events, simulator } = data ?? loaderData
  const say = (name: string, value: string | null) => change((next) => put(next, name, value), { replace: true })
  const sources = catalog.properties.find(({ property }) => property.of === 'source')?.samples ?? []
  const person = params.get('person')
  const wrong = events.filter(({ verdict }) => verdict.length > 0).length
  return (
    <>
      <div className="row wrap catalog-bar">
        <PersonField value={person ?? ''} onChange={(value) => say('person', value)} />
        <Autocomplete
          size="small"
          className="live-filter"
          options={catalog.events.filter(({ combined }) => !combined).map(({ name }) => name)}
          value={params.get('event')}
          onChange={(_event, value) => say('event', value)}
          renderInput={(field) => <TextField {...field} label="Event" />}
        />
        <Autocomplete
          size="small"
          className="live-filter"
          options={sources}
          value={params.get('source')}
          onChange={(_event, value) => say('source', value)}
          renderInput={(field) => <TextField {...field} label="Source" />}
        />
        <Button variant="outlined" onClick={() => setPaused(!paused)}>
          {paused ? 'Go on' : 'Pause'}
        </Button>
        <SimulatorSwitch state={simulator} />
      </div>
      <p className="soft" aria-live="polite">
        {person && events.length === 0
          ? `Nothing by “${person}” among the last events. Do something in the app: it shows here within a second or two.`
          : `${formatNumber(events.length)} events, newest first${wrong > 0 ? `; ${formatNumber(wrong)} do not fit the plan` : ''}. ${paused ? 'Paused.' : ''}`}
      </p>
      <section className="sheet">
        {events.length === 0 ? (
          <p className="pad soft">
            {status.events === 0 ? (
              <>
                Events would appear here as they arrive. <Link to="/catalog/sending">See how to send them.</Link>
              </>
            ) : (
              'No event among the last ones fits that.'
            )}
          </p>
        ) : (
          <ul className="samples live">
            {events.map((event) => (
              <LiveRow key={event.seq} event={event} />
            ))}
          </ul>
        )}
      </section>
    </>
  )
}

/** "Is my event arriving?": a person's own id, typed. */
function PersonField({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const [draft, setDraft] = useState(value)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  return (
    <TextField
      label="Is my event arriving? Your id"
      className="live-person"
      value={draft}
      slotProps={{ htmlInput: { autoComplete: 'off', spellCheck: false } }}
      onChange={(event) => {
        setDraft(event.target.value)
        if (timer.current) clearTimeout(timer.current)
        timer.current = setTimeout(() => onChange(event.target.value.trim()), 250)
      }}
    />
  )
}

function LiveRow({ event }: { event: LiveEvent }) {
  const { zone, thisYear, status } = useWorkspace()
  const { day, time } = clockIn(event.timeMs, zone, status.now)
  const fits = event.verdict.length === 0
  return (
    <li className="sample">
      <span className="sample-when" title={`received ${formatMoment(event.receivedMs, zone, thisYear)}`}>
        {day && `${formatDay(day, thisYear)} `}
        {time}
      </span>
      <span className="sample-main">
        <span className="row wrap">
          {event.test ? (
            <>
              <strong>{event.event}</strong>
              <span>{event.person ?? event.anonymous}</span>
              <span className="state planned">test, counted nowhere</span>
            </>
          ) : (
            <>
              <Link to={`/catalog/events/${encodeURIComponent(event.event)}`}>
                <strong>{event.event}</strong>
              </Link>
              <Link to={personAddress(event)}>{event.person ?? event.anonymous}</Link>
            </>
          )}
          {event.source && <span className="soft">{event.source}</span>}
          <span className={`state ${fits ? 'live' : 'deprecated'}`}>{fits ? 'fits' : 'does not fit'}</span>
        </span>
        {!fits && <span className="hazel">{event.verdict.join('; ')}</span>}
        <code className="sample-properties">
          {Object.entries(event.properties).map(([key, value]) => (
            <span key={key}>
              <b>{key}</b> {JSON.stringify(value)}
            </span>
          ))}
        </code>
      </span>
    </li>
  )
}
