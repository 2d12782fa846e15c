import { own } from '../../core/names.js'
import ContentCopyIcon from '@mui/icons-material/ContentCopy'
import PauseIcon from '@mui/icons-material/Pause'
import PlayArrowIcon from '@mui/icons-material/PlayArrow'
import SkipNextIcon from '@mui/icons-material/SkipNext'
import SkipPreviousIcon from '@mui/icons-material/SkipPrevious'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { PeopleRef } from '../../core/analyses/people.js'
import { peopleWords } from '../analyses/words.js'
import { isRefusal, placeOf, stopAt, timelineOf } from '../../core/retrace/timeline.js'
import { countOf, formatDuration, formatMoment, formatNumber } from '../../core/words/format.js'
import { peopleParams } from '../address/address.js'
import { personAddress } from '../people/personAddress.js'
import { valueText } from '../people/valueText.js'
import { Segmented } from '../ui/Segmented.js'
import { isTyping } from '../ui/Shortcuts.js'
import { useAddress } from '../ui/useAddress.js'
import { useWorkspace } from '../page/workspace.js'
import { MomentNotes } from './MomentNotes.js'
import { PlaceSketch } from './PlaceSketch.js'
import { TimelineBar } from './TimelineBar.js'
import type { Retraced } from './retraced.js'

const SPEEDS = [1, 5, 10, 30, 60] as const

/** Walks through one person's session step by step, or plays it; from a list also on to the next person. */
export function Retrace(props: {
  found: Retraced
  of: PeopleRef | null
  neighbours: {
    before: { id: string; anonymous: boolean } | null
    after: { id: string; anonymous: boolean } | null
    place: number
    count: number
  } | null
}) {
  const { found, of, neighbours } = props
  const { events, notes, session, sessions } = found
  const { zone, thisYear, words } = useWorkspace()
  const [, change] = useAddress()
  const [shorten, setShorten] = useState(true)
  const line = useMemo(
    () =>
      timelineOf(
        events.map(({ timeMs }) => timeMs),
        shorten,
      ),
    [events, shorten],
  )
  const first = Math.max(
    0,
    events.findIndex(({ seq }) => seq === found.at),
  )
  const [step, setStep] = useState(first)
  const [along, setAlong] = useState(line.stops[first]?.along ?? 0)
  const [playing, setPlaying] = useState(false)
  const [speed, setSpeed] = useState<number>(10)
  const list = useRef<HTMLOListElement>(null)

  const goTo = useCallback(
    (index: number) => {
      const next = Math.min(events.length - 1, Math.max(0, index))
      setStep(next)
      setAlong(line.stops[next].along)
      setPlaying(false)
    },
    [events.length, line],
  )
  useEffect(() => setAlong(line.stops[step]?.along ?? 0), [line, step])
  // While it plays the place on the line moves with the clock; the step follows.
  useEffect(() => {
    if (!playing) return
    let frame = 0
    let before = performance.now()
    let place = along >= line.length ? 0 : along
    const tick = (now: number) => {
      place += (now - before) * speed
      before = now
      setStep(stopAt(line, place))
      if (place >= line.length) {
        setAlong(line.length)
        setPlaying(false)
        return
      }
      setAlong(place)
      frame = requestAnimationFrame(tick)
    }
    frame = requestAnimationFrame(tick)
    return () => cancelAnimationFrame(frame)
    // It goes on from where it stands when it is begun, so `along` is not among these.
  }, [playing, speed, line])
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return
      if (
        event.target instanceof HTMLElement &&
        event.target.closest('[role="radiogroup"], [role="menu"], [role="listbox"]')
      )
        return
      const act: Record<string, () => void> = {
        ArrowRight: () => goTo(step + 1),
        ArrowDown: () => goTo(step + 1),
        ArrowLeft: () => goTo(step - 1),
        ArrowUp: () => goTo(step - 1),
        Home: () => goTo(0),
        End: () => goTo(events.length - 1),
        ' ': () => setPlaying((on) => !on),
      }
      // A button that has the focus keeps the space bar to itself.
      if (event.key === ' ' && event.target instanceof HTMLButtonElement) return
      const move = own(act, event.key)
      if (!move) return
      event.preventDefault()
      move()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [goTo, step, events.length])
  useEffect(() => {
    list.current?.children[step]?.scrollIntoView({ block: 'nearest' })
  }, [step])

  const event = events[step]
  const stop = line.stops[step]
  const place = placeOf(event.properties)
  const refused = isRefusal(event.event, event.properties)
  const start = events[0].timeMs
  const keep = new URLSearchParams(of ? { of: JSON.stringify(of) } : {})
  const retraceOf = (person: { id: string; anonymous: boolean }) =>
    `${personAddress(person)}/retrace?${keep.toString()}`
  const toSession = (number: number) =>
    change(
      (next) => {
        next.delete('at')
        next.set('session', String(number))
      },
      { preventScrollReset: false },
    )
  const eventName = own(words.labels?.events, event.event) ?? event.event
  return (
    <main className="page retrace">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to={of ? `/people?${peopleParams(of)}` : '/people'}>People</Link>
          <span aria-hidden="true">›</span>
          <Link to={personAddress(found)}>{found.id}</Link>
          <span aria-hidden="true">›</span>
          <strong>Retrace</strong>
        </nav>
        <div className="page-actions">
          {neighbours && (
            <>
              {neighbours.before ? (
                <Button variant="outlined" component={Link} to={retraceOf(neighbours.before)}>
                  Person before
                </Button>
              ) : null}
              <span className="soft">
                {formatNumber(neighbours.place)} of {countOf(neighbours.count, 'person', 'people')}
              </span>
              {neighbours.after ? (
                <Button variant="outlined" component={Link} to={retraceOf(neighbours.after)}>
                  Next person
                </Button>
              ) : null}
            </>
          )}
        </div>
      </div>
      <h1 className="question">
        <strong>{found.id}</strong>, session{' '}
        <strong>
          {formatNumber(session)} of {formatNumber(sessions.length)}
        </strong>
        : {countOf(events.length, 'event', 'events')} in {formatDuration(events.at(-1)!.timeMs - start)} on{' '}
        {formatMoment(start, zone, thisYear)}
      </h1>
      {of && <p className="soft retrace-list">One of the people {peopleWords(of, words)}.</p>}
      <section className="sheet pad retrace-line" aria-label="The session as a line">
        <TimelineBar line={line} events={events} notes={notes} step={step} along={along} onStep={goTo} />
        <div className="row between wrap retrace-controls">
          <div className="row">
            <IconButton aria-label="Step before" onClick={() => goTo(step - 1)} disabled={step === 0}>
              <SkipPreviousIcon />
            </IconButton>
            <IconButton
              className="play"
              aria-label={playing ? 'Pause' : 'Play'}
              onClick={() => setPlaying(!playing)}
              disabled={events.length < 2}
            >
              {playing ? <PauseIcon /> : <PlayArrowIcon />}
            </IconButton>
            <IconButton aria-label="Next step" onClick={() => goTo(step + 1)} disabled={step === events.length - 1}>
              <SkipNextIcon />
            </IconButton>
            <Select value={speed} aria-label="Speed" onChange={(change) => setSpeed(Number(change.target.value))}>
              {SPEEDS.map((each) => (
                <MenuItem key={each} value={each}>
                  {each} ×
                </MenuItem>
              ))}
            </Select>
            <span className="soft" aria-live="polite">
              step {formatNumber(step + 1)} of {formatNumber(events.length)}
            </span>
          </div>
          <Segmented
            label="Pauses"
            value={shorten ? 'short' : 'scale'}
            options={[
              { value: 'short', label: 'Long pauses shortened' },
              { value: 'scale', label: 'All to scale' },
            ]}
            onChange={(value) => setShorten(value === 'short')}
          />
        </div>
      </section>
      <div className="retrace-grid">
        <section className="sheet retrace-steps" aria-label="Its steps">
          <ol ref={list}>
            {events.map((each, index) => (
              <li key={each.seq}>
                {line.stops[index].pauseMs > 60_000 && (
                  <span className="pause">pause of {formatDuration(line.stops[index].pauseMs)}</span>
                )}
                <button
                  type="button"
                  className={isRefusal(each.event, each.properties) ? 'refused' : ''}
                  aria-current={index === step ? 'step' : undefined}
                  onClick={() => goTo(index)}
                >
                  <span className="when">+{formatDuration(each.timeMs - start)}</span>
                  <span>{own(words.labels?.events, each.event) ?? each.event}</span>
                  {notes.some(({ eventId }) => eventId === each.id) && <span className="has-note">note</span>}
                </button>
              </li>
            ))}
          </ol>
        </section>
        <section className="sheet pad retrace-event" aria-label="The step">
          <div className="row between">
            <h2 className={refused ? 'refused' : ''}>{eventName}</h2>
            <Button
              startIcon={<ContentCopyIcon fontSize="small" />}
              onClick={() => {
                const link = new URL(window.location.href)
                link.search = new URLSearchParams({ at: event.id }).toString()
                void navigator.clipboard?.writeText(link.toString())
              }}
            >
              Copy a link to this moment
            </Button>
          </div>
          <p className="soft">
            {formatMoment(event.timeMs, zone, thisYear)}
            {stop.pauseMs > 0 && `, ${formatDuration(stop.pauseMs)} after the step before`}
            {event.source && ` · ${event.source}`}
            {refused && <span className="loss"> · something was refused or went wrong here</span>}
          </p>
          <div className="retrace-body">
            {place && <PlaceSketch place={place} refused={refused} />}
            <dl className="facts">
              {Object.keys(event.properties).length === 0 && <p className="soft">It carries no properties.</p>}
              {Object.entries(event.properties).map(([name, value]) => (
                <div key={name}>
                  <dt>{name}</dt>
                  <dd>{valueText(value, thisYear)}</dd>
                </div>
              ))}
            </dl>
          </div>
          <MomentNotes eventId={event.id} notes={notes.filter(({ eventId }) => eventId === event.id)} />
        </section>
        <section className="sheet pad retrace-sessions" aria-label="Their sessions">
          <h2 className="overline">Their sessions</h2>
          <ol reversed>
            {[...sessions.keys()].reverse().map((index) => (
              <li key={index}>
                <button
                  type="button"
                  aria-current={index + 1 === session ? 'true' : undefined}
                  onClick={() => toSession(index + 1)}
                >
                  {formatMoment(sessions[index].firstMs, zone, thisYear)}
                  <span className="soft">
                    {' '}
                    {countOf(sessions[index].events, 'event', 'events')},{' '}
                    {formatDuration(sessions[index].lastMs - sessions[index].firstMs)}
                  </span>
                </button>
              </li>
            ))}
          </ol>
        </section>
      </div>
    </main>
  )
}
