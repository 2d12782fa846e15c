import AddIcon from '@mui/icons-material/Add'
import Button from '@mui/material/Button'
import { Form, Link } from 'react-router'
import { isChannel, KIND_WORDS } from '../../core/outreach/destination.js'
import { messageText } from '../../core/outreach/messageWords.js'
import { syncSentence } from '../../core/outreach/words.js'
import { sentenceText } from '../../core/words/sentence.js'
import { countOf, formatMoment, formatNumber } from '../../core/words/format.js'
import { dowser } from '../door/dowser.server.js'
import { actOnClock } from '../outreach/actOnClock.server.js'
import { ClockBar } from '../outreach/ClockBar.js'
import { MESSAGE_STATES, nextWords, STATE_WORDS } from '../outreach/stateWords.js'
import { useOutreachNames } from '../outreach/useOutreachNames.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/outreach'

export async function loader() {
  const { syncs, destinations, messages, clock } = dowser()
  const { ready } = await dowser().status()
  const told = messages.list().map((message) => {
    const place = destinations.list().find(({ id }) => id === message.definition.destination)
    const channel = place && isChannel(place.setup.kind) ? place.setup.kind : null
    return { ...message, channel, counts: messages.counts(message.id) }
  })
  const kept = syncs.list().map((sync) => ({
    ...sync,
    last: syncs.runs(sync.id, 1)[0] ?? null,
    there: syncs.members(sync.id),
  }))
  const places = destinations.list().map((destination) => ({
    ...destination,
    last: destinations.log(destination.id, 1)[0] ?? null,
    kept: kept.filter(({ definition }) => definition.destination === destination.id).length,
  }))
  return {
    ...{ kept, places, told, clock: ready ? await clock.state() : null },
    deleted: { kept: syncs.deleted(), places: destinations.deleted(), messages: messages.deleted() },
  }
}

export async function action({ request }: Route.ActionArgs) {
  return actOnClock(await request.formData())
}

export const meta = () => [{ title: 'Outreach · Dowser' }]

/** Who is kept in step with what. */
export default function Outreach({ loaderData }: Route.ComponentProps) {
  const { kept, places, told, clock, deleted } = loaderData
  const { zone, thisYear, words } = useWorkspace()
  const names = useOutreachNames(places)
  return (
    <main className="page outreach-home">
      <div className="page-head">
        <h1 className="question">Outreach</h1>
        <div className="page-actions">
          <Button variant="outlined" component={Link} to="/outreach/destinations/new">
            New destination
          </Button>
          <Button variant="outlined" component={Link} to="/outreach/kept/new">
            Keep a segment in step
          </Button>
          <Button variant="contained" startIcon={<AddIcon />} component={Link} to="/outreach/messages/new">
            New message
          </Button>
        </div>
      </div>
      {clock && clock.speed !== null && <ClockBar state={clock} />}
      <h2 className="overline">Messages</h2>
      {told.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            What people are told would be here: when they come into a segment or do something, in variants, with some
            left alone, so that what it brings can be measured.
          </p>
          <Button variant="contained" component={Link} to="/outreach/messages/new">
            Write the first message
          </Button>
        </section>
      ) : (
        <section className="sheet list outreach-list">
          <ul>
            {told.map(({ id, definition, state, why, startedMs, endedMs, channel, counts }) => (
              <li key={id}>
                <div className="list-main">
                  <Link to={`/outreach/messages/${id}`} className="list-name">
                    {definition.name}
                  </Link>
                  <span className="list-question">
                    {messageText(definition, channel, names, words)}
                    {tagWords(definition)}
                  </span>
                </div>
                <span className={state === 'running' ? 'state-chip live' : 'state-chip'}>{MESSAGE_STATES[state]}</span>
                <span className="list-figure">
                  {counts.entered === 0 ? (
                    <span className="soft">nobody came in yet</span>
                  ) : (
                    <>
                      <strong>{formatNumber(counts.entered)}</strong> came in
                    </>
                  )}
                </span>
                <span className="soft list-when">
                  {why ??
                    (startedMs === null
                      ? ''
                      : endedMs === null
                        ? `since ${formatMoment(startedMs, zone, thisYear)}`
                        : `ended ${formatMoment(endedMs, zone, thisYear)}`)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <h2 className="overline">Kept in step</h2>
      {kept.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            Segments that are sent somewhere would be here: who comes in is added there, who goes out is taken out, by
            the hour, daily, or at each change. Nobody who wants none of it is ever sent.
          </p>
          <Button variant="contained" component={Link} to="/outreach/kept/new">
            Keep the first one in step
          </Button>
        </section>
      ) : (
        <section className="sheet list outreach-list">
          <ul>
            {kept.map((sync) => (
              <li key={sync.id}>
                <div className="list-main">
                  <Link to={`/outreach/kept/${sync.id}`} className="list-name">
                    {sync.definition.name}
                  </Link>
                  <span className="list-question">
                    {sentenceText(syncSentence(sync.definition, names))}
                    {tagWords(sync.definition)}
                  </span>
                </div>
                <span className={sync.state === 'running' ? 'state-chip live' : 'state-chip'}>
                  {STATE_WORDS[sync.state]}
                </span>
                <span className="list-figure">
                  <strong>{formatNumber(sync.there.in + sync.there.kept)}</strong> people there
                  {sync.there.parked > 0 && <small className="loss">{formatNumber(sync.there.parked)} set aside</small>}
                </span>
                <span className="soft list-when">
                  {sync.why ?? nextWords(sync, zone, thisYear)}
                  {!sync.why && sync.state !== 'running' && sync.last
                    ? `last look ${formatMoment(sync.last.startedMs, zone, thisYear)}`
                    : ''}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <h2 className="overline">Destinations</h2>
      {places.length === 0 ? (
        <section className="sheet pad empty">
          <p>
            Where people can go would be here: push notices, mail, text messages, an advertising list, a webhook, files.
            Each is a stand-in that ships with Dowser, so that all of it can be tried without sending anything to
            anybody.
          </p>
          <Button variant="outlined" component={Link} to="/outreach/destinations/new">
            Set up the first one
          </Button>
        </section>
      ) : (
        <section className="sheet list outreach-list">
          <ul>
            {places.map((place) => (
              <li key={place.id}>
                <div className="list-main">
                  <Link to={`/outreach/destinations/${place.id}`} className="list-name">
                    {place.name}
                  </Link>
                  <span className="list-question">{KIND_WORDS[place.setup.kind].does}</span>
                </div>
                <span className="state-chip">
                  {place.setup.kind === 'folder'
                    ? 'files'
                    : place.setup.kind === 'webhook' && place.setup.address
                      ? 'HTTP'
                      : 'simulated'}
                </span>
                <span className="list-figure">
                  {place.kept === 0 ? (
                    <span className="soft">nothing kept in step yet</span>
                  ) : (
                    <>
                      <strong>{place.kept}</strong> kept in step
                    </>
                  )}
                </span>
                <span className={place.last?.why ? 'loss list-when' : 'soft list-when'}>
                  {place.last
                    ? (place.last.why ??
                      `${countOf(place.last.people, 'person', 'people')} taken ${formatMoment(place.last.atMs, zone, thisYear)}`)
                    : 'never called'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Deleted deleted={deleted.messages} words={['message', 'messages']} to="/outreach/messages/" />
      <Deleted
        deleted={deleted.kept}
        words={['thing that was kept in step', 'things that were kept in step']}
        to="/outreach/kept/"
      />
      <Deleted deleted={deleted.places} words={['destination', 'destinations']} to="/outreach/destinations/" />
    </main>
  )
}

/** What was deleted can be brought back. */
function Deleted(props: {
  deleted: readonly { id: string; name: string; deletedMs: number }[]
  words: [one: string, many: string]
  to: string
}) {
  const { deleted, words, to } = props
  const { zone, thisYear } = useWorkspace()
  if (deleted.length === 0) return null
  return (
    <details className="deleted">
      <summary>{countOf(deleted.length, ...words)} deleted</summary>
      <ul>
        {deleted.map(({ id, name, deletedMs }) => (
          <li key={id}>
            {name} <span className="soft">deleted {formatMoment(deletedMs, zone, thisYear)}</span>
            <Form method="post" action={`${to}${id}`}>
              <input type="hidden" name="id" value={id} />
              <Button type="submit" name="intent" value="bring back">
                Bring back
              </Button>
            </Form>
          </li>
        ))}
      </ul>
    </details>
  )
}

/** ` · autumn · winning back`. */
const tagWords = ({ tags }: { tags: readonly string[] }) => tags.map((tag) => ` · ${tag}`).join('')
