import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { useEffect, useRef, useState } from 'react'
import { Link, useFetcher } from 'react-router'
import { formatMoment } from '../../core/words/format.js'
import { KeyList } from '../catalog/KeyList.js'
import { keepWriteKey, keptWriteKey } from '../catalog/writeKey.js'
import { EventSample } from '../catalog/EventSample.js'
import { Segmented } from '../ui/Segmented.js'
import { dowser } from '../door/dowser.server.js'
import type { loader as liveLoader } from './catalog.live.js'
import type { action as keysAction } from './keys.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/catalog.sending'

export function loader({ request }: Route.LoaderArgs) {
  const { origin } = new URL(request.url)
  return { origin, keys: dowser().keys.list() }
}

const WAYS = [
  { value: 'curl', label: 'curl' },
  { value: 'website', label: 'Website' },
  { value: 'file', label: 'File' },
  { value: 'standard', label: 'CloudEvents' },
] as const
type Way = (typeof WAYS)[number]['value']

export default function CatalogSending({ loaderData }: Route.ComponentProps) {
  const { origin, keys } = loaderData
  const [way, setWay] = useState<Way>('curl')
  const maker = useFetcher<typeof keysAction>()
  const fresh = maker.data && 'key' in maker.data && maker.data.scope === 'write' ? (maker.data.key as string) : null
  // Made a moment ago under Keys, it is known here too.
  const [kept, setKept] = useState<string | null>(null)
  useEffect(() => setKept(keptWriteKey()), [])
  useEffect(() => {
    if (fresh) keepWriteKey(fresh)
  }, [fresh])
  // One that was revoked since is of no use, and is not offered.
  const known = kept !== null && keys.some(({ hint }) => kept.startsWith(hint.slice(0, -1))) ? kept : null
  const made = fresh ?? known
  const make = () =>
    void maker.submit(
      { intent: 'make', name: 'Made on the Sending page', scope: 'write' },
      { method: 'post', action: '/keys' },
    )
  const key = made ?? 'YOUR_WRITE_KEY'
  return (
    <div className="sending">
      <div className="stack">
        <section className="sheet pad stack">
          <h2 className="panel-title">1. A key</h2>
          {made ? (
            <Alert
              severity="success"
              action={
                <Button disabled={maker.state !== 'idle'} onClick={make}>
                  Make another
                </Button>
              }
            >
              {fresh ? 'Shown this once, and filled in below' : 'The key you made last, filled in below'}:{' '}
              <code data-key="">{made}</code>
            </Alert>
          ) : (
            <div className="row wrap">
              <Button variant="contained" disabled={maker.state !== 'idle'} onClick={make}>
                Make a write key
              </Button>
              <span className="soft">
                It may send, and nothing else: it can stand in a web page. Only its hash is kept here.
              </span>
            </div>
          )}
        </section>
        <section className="sheet pad stack">
          <div className="row between wrap">
            <h2 className="panel-title">2. Send</h2>
            <Segmented label="How to send" value={way} options={WAYS} onChange={setWay} />
          </div>
          <HowTo way={way} origin={origin} keyText={key} />
        </section>
        <section className="sheet pad stack">
          <h2 className="panel-title">3. See it arrive</h2>
          <TestEvent keyText={made} />
        </section>
      </div>
      <aside className="stack">
        <section className="sheet pad stack">
          <h2 className="overline">Keys</h2>
          <KeyList keys={keys} />
          <Link to="/keys">Make keys of other kinds</Link>
        </section>
        <section className="sheet pad stack">
          <h2 className="overline">Where it is described</h2>
          <a href="/api/v1/openapi.json">The API, as an OpenAPI document</a>
          <Link to="/catalog/plan">What is meant to arrive</Link>
          <Link to="/catalog/live">What is arriving now</Link>
        </section>
      </aside>
    </div>
  )
}

function HowTo({ way, origin, keyText }: { way: Way; origin: string; keyText: string }) {
  switch (way) {
    case 'curl':
      return (
        <>
          <Snippet
            text={`curl ${origin}/api/v1/events \\
  -H "Authorization: Bearer ${keyText}" -H "Content-Type: application/json" \\
  -d '{"test":true,"person":"rider-1","event":"Ride completed","source":"mobile app",
       "properties":{"minutes":14.5,"bike_type":"pedal"}}'`}
          />
          <p className="soft">
            With <code>test</code> it is checked and shown on the page Live, and counted nowhere: leave it out once it
            arrives as it should. One event, an array of them, or JSON Lines, also packed with gzip. Give each an{' '}
            <code>id</code>, and sending again counts nothing twice. The answer says how many were taken, and lists the
            others with their reasons.
          </p>
        </>
      )
    case 'website':
      return (
        <>
          <Snippet
            text={`<script async src="${origin}/dowser.js" data-key="${keyText}"></script>
<script>
  // once you know who it is, e.g. after a sign-in
  dowser.identify('rider-1', { plan: 'Monthly' })
  dowser.track('Pass bought', { plan: 'Monthly', price: 29 })
</script>`}
          />
          <p className="soft">
            Page views, sessions and campaign tags are sent by themselves. What cannot be sent is kept in the browser
            and sent later. <code>dowser.optOut()</code> ends it for a visitor, <code>dowser.reset()</code> forgets who
            it is.
          </p>
        </>
      )
    case 'file':
      return (
        <>
          <Snippet text="npm run import -- events.csv" />
          <p className="soft">
            CSV, TSV, JSON, JSON Lines and Parquet, also packed with gzip. <Link to="/import">Bring in a file</Link> on
            its page to see its first rows and say what each column is; the command line then reads files of the same
            shape the same way.
          </p>
        </>
      )
    case 'standard':
      return (
        <>
          <Snippet
            text={`curl ${origin}/api/v1/events \\
  -H "Authorization: Bearer ${keyText}" -H "Content-Type: application/cloudevents+json" \\
  -d '{"specversion":"1.0","id":"e-1","source":"mobile app","type":"Ride completed",
       "subject":"rider-1","time":"2026-10-08T07:12:03Z","data":{"minutes":14.5}}'`}
          />
          <p className="soft">
            The open JSON event format, one or a batch. The type is the event, the subject the person, the data its
            properties.
          </p>
        </>
      )
  }
}

function Snippet({ text }: { text: string }) {
  const [copied, setCopied] = useState(false)
  return (
    <div className="snippet">
      <pre tabIndex={0}>{text}</pre>
      <Button
        size="small"
        onClick={() => {
          void navigator.clipboard.writeText(text)
          setCopied(true)
        }}
      >
        {copied ? 'Copied' : 'Copy'}
      </Button>
    </div>
  )
}

/** Sends one event with the key that was just made, and waits until it is there. */
function TestEvent({ keyText }: { keyText: string | null }) {
  const [sent, setSent] = useState<{ person: string; ms: number } | { problem: string } | null>(null)
  const live = useFetcher<typeof liveLoader>()
  const { zone, thisYear } = useWorkspace()
  const person = sent && 'person' in sent ? sent.person : null
  const arrived = person ? (live.data?.events ?? []).filter((event) => event.person === person) : []
  const { load, state } = live
  const found = arrived.length > 0
  const started = useRef(0)
  useEffect(() => {
    if (!person || found) return
    const timer = setInterval(() => {
      if (state === 'idle') void load(`/catalog/live?person=${encodeURIComponent(person)}`)
    }, 300)
    return () => clearInterval(timer)
  }, [person, found, load, state])
  const send = async () => {
    const who = `test-${Date.now().toString(36)}`
    started.current = performance.now()
    const response = await fetch('/api/v1/events', {
      method: 'POST',
      headers: { Authorization: `Bearer ${keyText}`, 'Content-Type': 'application/json' },
      body: JSON.stringify({ person: who, test: true, event: 'Test event', source: 'Sending page' }),
    }).catch(() => null)
    if (response?.ok) setSent({ person: who, ms: performance.now() - started.current })
    else setSent({ problem: 'The event was not taken. Is the server still there, and the key not revoked?' })
  }
  return (
    <>
      <div className="row wrap">
        <Button variant="outlined" disabled={keyText === null} onClick={() => void send()}>
          Send one test event
        </Button>
        <span className="soft">
          {keyText === null
            ? 'Make a key first: the test uses it.'
            : 'It is marked as a test: shown here and on the page Live, and counted nowhere.'}
        </span>
      </div>
      {sent && 'problem' in sent && <Alert severity="error">{sent.problem}</Alert>}
      {person && !found && <p className="soft">Sent. Waiting for it to be there …</p>}
      {found && (
        <>
          <p role="status">
            <strong>It has arrived</strong>, received {formatMoment(arrived[0]!.receivedMs, zone, thisYear)}.{' '}
            <Link to={`/catalog/live?person=${encodeURIComponent(person!)}`}>Watch it on the Live page</Link>
          </p>
          <ul className="samples">
            {arrived.map((event) => (
              <EventSample key={event.seq} event={event} name />
            ))}
          </ul>
        </>
      )}
    </>
  )
}
