import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { Link } from 'react-router'
import { countOf, formatMoment, formatNumber, joinWords } from '../../core/words/format.js'
import { propertyWords } from '../../core/words/words.js'
import { TakeBackButton } from '../catalog/TakeBack.js'
import { useMend } from '../catalog/useMend.js'
import { Sparkline } from '../charts/Sparkline.js'
import { dowser, missing } from '../door/dowser.server.js'
import { Chances } from '../people/Chances.js'
import { valueText } from '../people/valueText.js'
import { personAddress } from '../people/personAddress.js'
import { peopleParams } from '../address/address.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import { put, useAddress } from '../ui/useAddress.js'
import { useWorkspace } from '../page/workspace.js'
import { Pager } from '../ui/Pager.js'
import type { Route } from './+types/person'

const PAGE = 100
/** Earlier values of a property that are listed. */
const MOST_HELD = 6

export async function loader({ params, request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const event = search.get('event')
  const page = Math.max(1, Math.floor(Number(search.get('page') ?? '1')) || 1)
  const space = params.space === 'anonymous' ? 'anonymous' : 'known'
  const person = await dowser().person(space, params.id, { event, offset: (page - 1) * PAGE, limit: PAGE })
  if (!person) missing(`Nobody has the ${space === 'known' ? 'id' : 'anonymous id'} “${params.id}”.`)
  return { person, event, page }
}

export const meta = ({ params }: Route.MetaArgs) => [{ title: `${params.id} · Dowser` }]

export default function PersonPage({ loaderData }: Route.ComponentProps) {
  const { person, event, page } = loaderData
  const { zone, thisYear, words } = useWorkspace()
  const [search, change] = useAddress()
  const of = peopleOf(search.get('of'))
  const ofParam = of ? `?${new URLSearchParams({ of: JSON.stringify(of) }).toString()}` : ''
  const pages = Math.max(1, Math.ceil(person.matching / PAGE))
  const profile = Object.entries(person.profile)
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to={of ? `/people?${peopleParams(of)}` : '/people'}>People</Link>
          <span aria-hidden="true">›</span>
          <strong>{person.id}</strong>
        </nav>
        <div className="page-actions">
          {person.events > 0 && (
            <Button variant="contained" component={Link} to={`${personAddress(person)}/retrace${ofParam}`}>
              Retrace
            </Button>
          )}
          <Button variant="outlined" component={Link} to={`/catalog/live?person=${encodeURIComponent(person.id)}`}>
            Watch live
          </Button>
          {person.events > 0 && (
            <TakeBackButton what={`all events of ${person.id}`} choice={{ of: 'person', ...idOf(person) }}>
              Take back …
            </TakeBackButton>
          )}
        </div>
      </div>
      <h1 className="question">
        <strong>{person.id}</strong>
        {person.firstMs !== null && (
          <span>
            , seen first {formatMoment(person.firstMs, zone, thisYear)}, last{' '}
            {formatMoment(person.lastMs!, zone, thisYear)}: {countOf(person.events, 'event', 'events')} in{' '}
            {countOf(person.sessions, 'session', 'sessions')}
          </span>
        )}
      </h1>
      <div className="person-body">
        <aside className="stack">
          <section className="sheet pad">
            <h2 className="overline">Profile</h2>
            {profile.length === 0 ? (
              <p className="soft">Nothing is known of this person yet.</p>
            ) : (
              <dl className="facts">
                {profile.map(([name, value]) => (
                  <div key={name}>
                    <dt>{propertyWords({ of: 'person', name }, words)}</dt>
                    <dd>
                      {valueText(value, thisYear)}
                      <History held={person.history.find((each) => each.name === name)?.held ?? []} />
                    </dd>
                  </div>
                ))}
              </dl>
            )}
          </section>
          <section className="sheet pad">
            <h2 className="overline">Last 26 weeks</h2>
            {person.weeks.some((events) => events > 0) ? (
              <>
                <div className="panel-curve">
                  <Sparkline values={person.weeks} open={false} colour="var(--water)" />
                </div>
                <p className="hint">Events each week, {formatNumber(Math.max(...person.weeks))} at most.</p>
              </>
            ) : (
              <p className="soft">No events in this time.</p>
            )}
          </section>
          <Chances chances={person.chances} />
          <Ids person={person} />
        </aside>
        <section className="sheet">
          <div className="row between wrap pad-head">
            <h2 className="overline">
              {event === null ? 'All events' : `${countOf(person.matching, 'event', 'events')} of one kind`}, newest
              first
            </h2>
            <Select
              value={event ?? ''}
              displayEmpty
              aria-label="Which events"
              onChange={({ target }) =>
                change((next) => {
                  put(next, 'event', target.value)
                  next.delete('page')
                })
              }
            >
              <MenuItem value="">all events</MenuItem>
              {person.types.map(({ event: name, events }) => (
                <MenuItem key={name} value={name}>
                  {name} ({formatNumber(events)})
                </MenuItem>
              ))}
            </Select>
          </div>
          <Sessions rows={person.page} person={person} ofParam={ofParam} />
          <Pager page={page} pages={pages} address={(to) => pageAddress(search, to)} words={['Newer', 'Older']} />
        </section>
      </div>
    </main>
  )
}

const idOf = ({ id, anonymous }: { id: string; anonymous: boolean }) => ({
  space: anonymous ? ('anonymous' as const) : ('known' as const),
  id,
})

/** The list that the page was opened from. */
function peopleOf(text: string | null): PeopleRef | null {
  try {
    return text ? (JSON.parse(text) as PeopleRef) : null
  } catch {
    return null
  }
}

function pageAddress(search: URLSearchParams, page: number): string {
  const next = new URLSearchParams(search)
  next.set('page', String(page))
  return `?${next.toString()}`
}

type Person = Route.ComponentProps['loaderData']['person']

/** The ids that are this person, where each was seen, and a way to take a wrongly merged one out. */
function Ids({ person }: { person: Person }) {
  const { zone, thisYear } = useWorkspace()
  const { mend, busy } = useMend()
  return (
    <section className="sheet pad">
      <h2 className="overline">Goes by</h2>
      <ul className="ids">
        {person.ids.map((id) => (
          <li key={id.id}>
            <div>
              <strong>{id.value}</strong> <small className="soft">{id.space}</small>
            </div>
            <div className="hint">
              {id.events === 0
                ? 'no event carries it'
                : `${countOf(id.events, 'event', 'events')}, ${joinWords(id.sources, 'and') || 'no source'}, last ${formatMoment(id.lastMs!, zone, thisYear)}`}
            </div>
            {person.ids.length > 1 && (
              <Button
                disabled={busy}
                title="Its events and profile become a person of its own, and it is not merged again"
                onClick={() => void mend({ do: 'unmerge', id: id.id })}
              >
                Not the same person
              </Button>
            )}
            {id.cutFrom.length > 0 && (
              <p className="hint">
                Taken apart from{' '}
                {id.cutFrom.map((other) => (
                  <Link key={other.id} to={`/people/${other.space}/${encodeURIComponent(other.value)}`}>
                    {other.value}{' '}
                  </Link>
                ))}
                <Button disabled={busy} onClick={() => void mend({ do: 'remerge', id: id.id })}>
                  Merge again
                </Button>
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Events under their sessions, newest first; an event opens to show what it carries. */
function Sessions({ rows, person, ofParam }: { rows: Person['page']; person: Person; ofParam: string }) {
  const { zone, thisYear } = useWorkspace()
  if (rows.length === 0) return <p className="pad soft">No events.</p>
  const sessions: { session: number; rows: Person['page'] }[] = []
  for (const row of rows) {
    const last = sessions.at(-1)
    if (last?.session === row.session) last.rows.push(row)
    else sessions.push({ session: row.session, rows: [row] })
  }
  return (
    <ol className="sessions">
      {sessions.map(({ session, rows: inside }) => (
        <li key={session}>
          <h3>
            Session {formatNumber(session)}
            <span className="soft"> · {formatMoment(inside.at(-1)!.timeMs, zone, thisYear)}</span>{' '}
            <Link
              className="session-retrace"
              to={`${personAddress(person)}/retrace?session=${session}${ofParam.replace('?', '&')}`}
            >
              Retrace
            </Link>
          </h3>
          <ul>
            {inside.map(({ seq, event }) => (
              <li key={seq}>
                <details>
                  <summary>
                    <span className="sample-when">{formatMoment(event.timeMs, zone, thisYear).slice(-5)}</span>
                    <strong>{event.event}</strong>
                    {event.source && <span className="soft">{event.source}</span>}
                  </summary>
                  <dl className="facts">
                    {Object.entries(event.properties).map(([name, value]) => (
                      <div key={name}>
                        <dt>{name}</dt>
                        <dd>{valueText(value, thisYear)}</dd>
                      </div>
                    ))}
                    <div>
                      <dt>id</dt>
                      <dd>
                        <code>{event.id}</code>
                      </dd>
                    </div>
                    <div>
                      <dt>sent as</dt>
                      <dd>{[event.person, event.anonymous].filter(Boolean).join(' and ')}</dd>
                    </div>
                  </dl>
                  <TakeBackButton small what={`this ${event.event}`} choice={{ of: 'events', ids: [event.id] }}>
                    Take this event back …
                  </TakeBackButton>
                </details>
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ol>
  )
}

/** From when a person had it, and what they had before. */
function History({ held }: { held: Awaited<ReturnType<typeof loader>>['person']['history'][number]['held'] }) {
  const { zone, thisYear } = useWorkspace()
  if (held.length === 0) return null
  const more = held.length - MOST_HELD
  return (
    <ul className="history">
      {held.slice(0, MOST_HELD).map(({ sinceMs, value }, index) => (
        <li key={index}>
          {index > 0 && `${value === null ? 'no value' : valueText(value, thisYear)} `}
          {sinceMs === null ? 'at first' : `${index === 0 ? 'since' : 'from'} ${formatMoment(sinceMs, zone, thisYear)}`}
        </li>
      ))}
      {more > 0 && <li>and {countOf(more, 'change', 'changes')} before</li>}
    </ul>
  )
}
