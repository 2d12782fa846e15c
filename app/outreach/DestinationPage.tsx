import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useEffect, useState } from 'react'
import { Link, useRevalidator } from 'react-router'
import { isChannel, KIND_WORDS, type Behaviour, type DestinationSetup } from '../../core/outreach/destination.js'
import { useSaveKey } from '../editors/useSaveKey.js'
import { CHANGE_WORDS } from '../../core/outreach/words.js'
import { own } from '../../core/names.js'
import { countOf, formatMoment, formatNumber } from '../../core/words/format.js'
import { Segmented } from '../ui/Segmented.js'
import { useWorkspace } from '../page/workspace.js'
import type { DestinationData } from './destinationData.js'
import { Knob } from './Knob.js'
import { ReactionsEditor } from './ReactionsEditor.js'
import { kindsOf, MESSAGE_STATES, STATE_WORDS } from './stateWords.js'
import { useTold } from './useTold.js'

const LOOK_MS = 4000

/** Where people are sent to: set up, tried, and what has come of it. */
export function DestinationPage({ data }: { data: DestinationData }) {
  return data.setup ? <OneDestination data={data} setup={data.setup} /> : <KindChoice />
}

function KindChoice() {
  return (
    <main className="page narrow">
      <Head name="New destination" />
      <h1 className="question">Where are people to go?</h1>
      <section className="sheet list">
        <ul className="kind-list">
          {kindsOf.map(([kind, { name, does }]) => (
            <li key={kind}>
              <Link to={`?kind=${kind}`} className="list-name">
                {name}
              </Link>
              <span className="soft">{does}</span>
            </li>
          ))}
        </ul>
      </section>
      <p className="hint">
        All but a webhook to a host of your own are stand-ins that ship with Dowser: they take people as an outside
        service would, slowly and not always, and nothing leaves this machine.
      </p>
    </main>
  )
}

function Head({ name, children }: { name: string; children?: React.ReactNode }) {
  return (
    <div className="page-head">
      <nav className="crumbs" aria-label="Breadcrumbs">
        <Link to="/outreach">Outreach</Link>
        <span aria-hidden="true">›</span>
        <span>Destinations</span>
        <span aria-hidden="true">›</span>
        <strong>{name}</strong>
      </nav>
      {children && <div className="page-actions">{children}</div>}
    </div>
  )
}

function OneDestination({ data, setup: before }: { data: DestinationData; setup: DestinationSetup }) {
  const { saved, kept, webhookHosts, folder } = data
  const { zone, thisYear } = useWorkspace()
  const [name, setName] = useState(saved?.name ?? KIND_WORDS[before.kind].name)
  const [setup, setSetup] = useState(before)
  const { send, busy, acted, told } = useTold()
  const { revalidate } = useRevalidator()
  useEffect(() => {
    if (!saved) return
    const timer = setInterval(() => void revalidate(), LOOK_MS)
    return () => clearInterval(timer)
  }, [saved, revalidate])
  const saveButton = useSaveKey()
  const id: Record<string, string> = saved ? { id: saved.id } : {}
  const isChanged = !saved || name !== saved.name || JSON.stringify(setup) !== JSON.stringify(saved.setup)
  const set = (behaviour: Partial<Behaviour>) => setSetup({ ...setup, behaviour: { ...setup.behaviour, ...behaviour } })
  const secret = acted && 'secret' in acted ? acted : null
  const words = KIND_WORDS[setup.kind]
  const isStandIn = setup.kind !== 'folder' && !(setup.kind === 'webhook' && setup.address !== undefined)
  return (
    <main className="page outreach">
      <Head name={saved?.name ?? `New: ${words.name}`}>
        {saved && (
          <>
            <Button disabled={busy} color="error" onClick={() => send({ intent: 'delete', ...id })}>
              Delete
            </Button>
            <Button variant="outlined" disabled={busy || isChanged} onClick={() => send({ intent: 'try', ...id })}>
              Test it
            </Button>
          </>
        )}
        <Button
          ref={saveButton}
          variant="contained"
          disabled={busy || !isChanged || name.trim() === '' || secret !== null}
          onClick={() => send({ intent: 'save', ...id, name, setup: JSON.stringify(setup) })}
        >
          {saved ? 'Save' : 'Set it up'}
        </Button>
      </Head>
      <h1 className="question">{words.name}</h1>
      {secret && (
        <Alert
          severity="success"
          action={
            <Button component={Link} to={`/outreach/destinations/${secret.id}`} reloadDocument={false}>
              I have copied it
            </Button>
          }
        >
          Calls are signed with <code>{secret.secret}</code>. It is shown this once, and kept sealed.
        </Alert>
      )}
      {acted && 'tookMs' in acted && (
        <Alert severity={acted.why === null ? 'success' : 'error'}>
          {acted.why === null
            ? `It answered after ${formatNumber(Math.round(acted.tookMs))} ms. Nobody was sent.`
            : `It could not be reached: ${acted.why}.`}
        </Alert>
      )}
      <div className="outreach-grid">
        <div className="stack">
          {saved && (
            <section className="sheet" aria-label="Kept in step">
              <div className="row between wrap pad-head">
                <h2 className="panel-title">Kept in step with it</h2>
                <Button component={Link} to={`/outreach/kept/new?to=${saved.id}`}>
                  Keep a segment in step
                </Button>
              </div>
              {kept.length === 0 ? (
                <p className="pad soft">Nothing yet.</p>
              ) : (
                <ul className="plain-rows">
                  {kept.map((each) => (
                    <li key={each.id}>
                      <Link to={`/outreach/kept/${each.id}`}>{each.name}</Link>
                      <span className={each.state === 'running' ? 'state-chip live' : 'state-chip'}>
                        {STATE_WORDS[each.state]}
                      </span>
                      <span className="soft">{countOf(each.there, 'person', 'people')} there</span>
                    </li>
                  ))}
                </ul>
              )}
            </section>
          )}
          {saved && isChannel(setup.kind) && (
            <section className="sheet" aria-label="Messages">
              <div className="row between wrap pad-head">
                <h2 className="panel-title">Messages through it</h2>
                <Button component={Link} to="/outreach/messages/new">
                  New message
                </Button>
              </div>
              {data.messages.length === 0 ? (
                <p className="pad soft">None yet.</p>
              ) : (
                <ul className="plain-rows">
                  {data.messages.map((each) => (
                    <li key={each.id}>
                      <Link to={`/outreach/messages/${each.id}`}>{each.name}</Link>
                      <span className={each.state === 'running' ? 'state-chip live' : 'state-chip'}>
                        {MESSAGE_STATES[each.state]}
                      </span>
                    </li>
                  ))}
                </ul>
              )}
            </section>
          )}
          {data.standIn && <StandIn standIn={data.standIn} kind={setup.kind} />}
          {saved && (
            <section className="sheet" aria-label="Log">
              <h2 className="panel-title pad-head">Log</h2>
              {data.log.length === 0 ? (
                <p className="pad soft">It has not been called yet.</p>
              ) : (
                <div className="table-scroll" tabIndex={0} role="region" aria-label="Calls">
                  <table className="catalog-table">
                    <thead>
                      <tr>
                        <th scope="col">When</th>
                        <th scope="col">For</th>
                        <th scope="col" className="number">
                          People
                        </th>
                        <th scope="col" className="number">
                          Took
                        </th>
                        <th scope="col">What it said</th>
                      </tr>
                    </thead>
                    <tbody>
                      {data.log.map((line, index) => (
                        <tr key={index}>
                          <td>{formatMoment(line.atMs, zone, thisYear)}</td>
                          <td>
                            {line.sync === null
                              ? 'a test'
                              : ([...kept, ...data.messages].find((each) => each.id === line.sync)?.name ??
                                'what is not there any more')}
                          </td>
                          <td className="number">{formatNumber(line.people)}</td>
                          <td className="number">{formatNumber(line.tookMs)} ms</td>
                          <td className={line.why ? 'loss' : ''}>{line.why ?? 'taken'}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                </div>
              )}
            </section>
          )}
        </div>
        <aside className="stack">
          <section className="sheet pad stack">
            <h2 className="overline">What is set up</h2>
            <p className="soft">{words.does}</p>
            <TextField
              label="Name"
              value={name}
              onChange={(event) => setName(event.target.value)}
              slotProps={{ htmlInput: { maxLength: 100 } }}
            />
            {setup.kind === 'webhook' && (
              <>
                <TextField
                  label="Address"
                  placeholder="the receiver that ships with it"
                  value={setup.address ?? ''}
                  onChange={({ target: { value } }) => {
                    const { address: _, ...rest } = setup
                    setSetup(value.trim() === '' ? rest : { ...rest, address: value.trim() })
                  }}
                  helperText={
                    setup.address
                      ? webhookHosts.length > 0
                        ? `Hosts that may be called: ${webhookHosts.join(', ')}.`
                        : 'No host of your own may be called yet: list it under Workspace.'
                      : 'Left empty, calls go to the receiver that ships with Dowser; what arrives is shown here.'
                  }
                  slotProps={{ inputLabel: { shrink: true } }}
                />
                <p className="hint">
                  Each call carries <code>webhook-id</code>, <code>webhook-timestamp</code> and{' '}
                  <code>webhook-signature</code>, an HMAC with SHA-256 over both and the body.
                </p>
                {saved && (
                  <Button disabled={busy} onClick={() => send({ intent: 'new secret', ...id })}>
                    Make a new secret
                  </Button>
                )}
              </>
            )}
            {setup.kind === 'folder' && (
              <>
                <Segmented
                  label="Format"
                  value={setup.format}
                  options={[
                    { value: 'csv', label: 'CSV' },
                    { value: 'jsonl', label: 'JSON Lines' },
                  ]}
                  onChange={(format) => setSetup({ ...setup, format })}
                />
                {folder && (
                  <p className="hint">
                    Files are put in <code>{folder}</code>
                  </p>
                )}
              </>
            )}
          </section>
          {'people' in setup || isChannel(setup.kind) ? (
            <ReactionsEditor
              value={'people' in setup ? setup.people : undefined}
              onChange={(people) => setSetup({ ...setup, people } as DestinationSetup)}
            />
          ) : null}
          {isStandIn && (
            <section className="sheet pad stack">
              <h2 className="overline">How the stand-in behaves</h2>
              <Knob
                label="It answers after about"
                unit="ms"
                most={60_000}
                value={setup.behaviour.latencyMs}
                onChange={(latencyMs) => set({ latencyMs })}
              />
              <Knob
                label="Calls it answers with a failure"
                unit="%"
                value={setup.behaviour.failing}
                onChange={(failing) => set({ failing })}
              />
              <Knob
                label="Calls it takes and never answers"
                unit="%"
                value={setup.behaviour.silent}
                onChange={(silent) => set({ silent })}
              />
              <Knob
                label="People it will not take"
                unit="%"
                value={setup.behaviour.refused}
                onChange={(refused) => set({ refused })}
              />
              <p className="hint">What fails is tried again by itself, and nobody is taken twice.</p>
            </section>
          )}
        </aside>
      </div>
      {told}
    </main>
  )
}

function StandIn({
  standIn,
  kind,
}: {
  standIn: NonNullable<DestinationData['standIn']>
  kind: DestinationSetup['kind']
}) {
  const { zone, thisYear } = useWorkspace()
  const { people, taken, repeats, twice, matched, newest, arrived, messages } = standIn
  return (
    <section className="sheet" aria-label="What it has">
      <div className="pad-head">
        <h2 className="panel-title">What it has</h2>
        <p>
          <strong>{formatNumber(people)}</strong> {people === 1 ? 'person' : 'people'}
          {matched !== null && people > 0 ? `, of whom it knows about ${formatNumber(matched)}` : ''};{' '}
          {countOf(taken - messages, 'change', 'changes')}
          {messages > 0 ? ` and ${countOf(messages, 'message', 'messages')}` : ''} taken.{' '}
          {repeats > 0 && `${countOf(repeats, 'change', 'changes')} came again and were known by their key. `}
          {twice > 0 ? (
            <span className="loss">{countOf(twice, 'change', 'changes')} came twice.</span>
          ) : (
            'Nothing came twice.'
          )}
        </p>
      </div>
      {kind === 'webhook' ? (
        arrived.length > 0 && (
          <details className="pad">
            <summary>
              {arrived.length === 1
                ? 'The last call as it arrived'
                : `The last ${arrived.length} calls as they arrived`}
            </summary>
            {arrived.map((each) => (
              <article key={`${each.id} ${each.atMs}`} className="arrival">
                <p>
                  {formatMoment(each.atMs, zone, thisYear)} · <code>{each.id}</code> ·{' '}
                  {each.verified ? 'signature right' : <span className="loss">signature not right: refused</span>} ·{' '}
                  {countOf(each.people, 'person', 'people')}
                </p>
                <pre>{each.body}</pre>
              </article>
            ))}
          </details>
        )
      ) : newest.length > 0 ? (
        <table className="catalog-table">
          <thead>
            <tr>
              <th scope="col">Newest</th>
              <th scope="col">What</th>
              <th scope="col">Went along</th>
              <th scope="col">When</th>
            </tr>
          </thead>
          <tbody>
            {newest.slice(0, 8).map((each, index) => (
              <tr key={index}>
                <td>{each.person}</td>
                <td>{own(CHANGE_WORDS, each.change) ?? 'a message'}</td>
                <td className="soft">
                  {Object.entries(each.properties)
                    .map(([name, value]) => `${name} ${String(value)}`)
                    .join(', ') || '–'}
                </td>
                <td>{formatMoment(each.atMs, zone, thisYear)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
    </section>
  )
}
