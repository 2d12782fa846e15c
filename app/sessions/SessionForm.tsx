import Alert from '@mui/material/Alert'
import Autocomplete from '@mui/material/Autocomplete'
import Button from '@mui/material/Button'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Switch from '@mui/material/Switch'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { useFetcher } from 'react-router'
import type { SessionFigures } from '../../core/sessions/each.js'
import { MOST_MINUTES, type CutSettings } from '../../core/sessions/settings.js'
import { formatDuration, formatNumber, formatPercent, MISSING } from '../../core/words/format.js'
import type { SessionSettings } from '../../server/doors/sessions.js'
import { NumberField } from '../editors/NumberField.js'
import { put, unlessEmpty } from '../editors/put.js'
import { useWorkspace } from '../page/workspace.js'

/** What saving gives, and what the figures are asked for. */
export type SaveReply = { problem: string } | { saved: true; before: SessionSettings }
export type FiguresReply = { asked: string } & ({ problem: string } | { now: SessionFigures; then: SessionFigures })

const NO_SOURCE = 'no source'

/** The settings, and beside what they give now what they would give. */
export function SessionForm({ settings, sources }: { settings: SessionSettings; sources: string[] }) {
  const { catalog } = useWorkspace()
  const [next, setNext] = useState(settings)
  // What was saved is what is edited from now on.
  const saved = JSON.stringify(settings)
  useEffect(() => setNext(JSON.parse(saved) as SessionSettings), [saved])
  const saving = useFetcher<SaveReply>()
  const { minutes, cuts } = next
  const { bySource = [], starts = [], ends = [] } = cuts
  const edit = (change: Partial<CutSettings>) =>
    setNext({
      ...next,
      cuts: (Object.keys(change) as (keyof CutSettings)[]).reduce((all, key) => put(all, key, change[key]), cuts),
    })
  const names = catalog.events.filter(({ combined }) => !combined).map(({ name }) => name)
  const left = [...sources, null].filter((source) => !bySource.some((each) => each.source === source))
  const changed = JSON.stringify(next) !== saved
  const save = (what: SessionSettings) => void saving.submit({ settings: JSON.stringify(what) }, { method: 'post' })
  const done = saving.data
  return (
    <section className="sheet pad stack session-form">
      <div className="row wrap">
        A session ends after
        <NumberField
          label="Minutes without an event"
          value={minutes}
          min={1}
          max={MOST_MINUTES}
          whole
          onChange={(value) => setNext({ ...next, minutes: value })}
        />
        minutes without an event. A gap of exactly that long still belongs to it.
      </div>
      {bySource.map((each, index) => (
        <div key={each.source ?? NO_SOURCE} className="row wrap">
          After events of <strong>{each.source ?? NO_SOURCE}</strong> it ends after
          <NumberField
            label={`Minutes after ${each.source ?? NO_SOURCE}`}
            value={each.minutes}
            min={1}
            max={MOST_MINUTES}
            whole
            onChange={(value) => edit({ bySource: bySource.with(index, { ...each, minutes: value }) })}
          />
          minutes.
          <Button onClick={() => edit({ bySource: unlessEmpty(bySource.toSpliced(index, 1)) })}>As all others</Button>
        </div>
      ))}
      {left.length > 0 && sources.length > 0 && (
        <TextField
          select
          label="Another time-out for one source"
          value=""
          sx={{ maxWidth: 320 }}
          onChange={(event) =>
            edit({
              bySource: [
                ...bySource,
                { source: event.target.value === NO_SOURCE ? null : event.target.value, minutes },
              ],
            })
          }
        >
          {left.map((source) => (
            <MenuItem key={source ?? NO_SOURCE} value={source ?? NO_SOURCE}>
              {source ?? NO_SOURCE}
            </MenuItem>
          ))}
        </TextField>
      )}
      <EventsField
        label="Events that begin a session, whatever the gap"
        names={names}
        value={starts}
        onChange={(value) => edit({ starts: unlessEmpty(value) })}
      />
      <EventsField
        label="Events that end one"
        names={names}
        value={ends}
        onChange={(value) => edit({ ends: unlessEmpty(value) })}
      />
      <FormControlLabel
        control={
          <Switch
            checked={cuts.onSource === true}
            onChange={(_event, on) => edit({ onSource: on ? true : undefined })}
          />
        }
        label="An event of another source begins a new session"
      />
      <Comparison next={next} changed={changed} />
      <p className="hint">
        No event is changed. Every study, segment and page counts by it from the moment that it is saved, the past
        included.
      </p>
      {done && 'problem' in done && <Alert severity="error">{done.problem}</Alert>}
      {done && 'saved' in done && !changed && (
        <Alert
          severity="success"
          action={
            <Button color="inherit" onClick={() => save(done.before)}>
              Undo
            </Button>
          }
        >
          Saved. All numbers are counted by it now.
        </Alert>
      )}
      <div className="row">
        <Button variant="contained" disabled={!changed || saving.state !== 'idle'} onClick={() => save(next)}>
          Save
        </Button>
        {changed && <Button onClick={() => setNext(settings)}>Leave it as it was</Button>}
      </div>
    </section>
  )
}

function EventsField(props: { label: string; names: string[]; value: string[]; onChange: (value: string[]) => void }) {
  const { label, names, value, onChange } = props
  return (
    <Autocomplete
      multiple
      options={names}
      value={value}
      onChange={(_event, next) => onChange(next)}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  )
}

/** How many sessions there are and how long, as they are cut now and as they would be. */
function Comparison({ next, changed }: { next: SessionSettings; changed: boolean }) {
  const fetcher = useFetcher<FiguresReply>({ key: 'session figures' })
  const { load, data } = fetcher
  const asked = JSON.stringify(next)
  useEffect(() => {
    const timer = setTimeout(
      () => void load(`/ask/sessions?${new URLSearchParams({ settings: asked }).toString()}`),
      250,
    )
    return () => clearTimeout(timer)
  }, [load, asked])
  const found = data && 'now' in data ? data : null
  if (data && 'problem' in data && data.asked === asked) return <Alert severity="error">{data.problem}</Alert>
  const stale = !found || found.asked !== asked
  return (
    <table className={`numbers session-figures${stale ? ' dimmed' : ''}`} aria-busy={stale}>
      <caption className="overline">What it makes of everything that happened so far</caption>
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col" className="number">
            as it is
          </th>
          {changed && (
            <th scope="col" className="number">
              as it would be
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {ROWS.map(({ label, said }) => (
          <tr key={label}>
            <th scope="row">{label}</th>
            <td className="number">{found ? said(found.now) : MISSING}</td>
            {changed && <td className="number">{found ? said(found.then) : MISSING}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const duration = (ms: number | null) => (ms === null ? MISSING : formatDuration(ms))
const ROWS: { label: string; said: (figures: SessionFigures) => string }[] = [
  { label: 'Sessions', said: ({ sessions }) => formatNumber(sessions) },
  {
    label: 'Sessions a person',
    said: ({ sessions, people }) => (people > 0 ? formatNumber(sessions / people) : MISSING),
  },
  { label: 'Typical length (median)', said: ({ median }) => duration(median) },
  { label: 'Average length', said: ({ average }) => duration(average) },
  {
    label: 'Of one event only',
    said: ({ sessions, open, single }) => (sessions > open ? formatPercent(single / (sessions - open)) : MISSING),
  },
]
