import Button from '@mui/material/Button'
import { Link, useSearchParams } from 'react-router'
import { asQuestion } from '../../core/analyses/asQuestion.js'
import { faultWords } from '../../core/questions/faults.js'
import { countOf } from '../../core/words/format.js'
import { peopleParams, studyAddress } from '../address/address.js'
import { readPeople, readSessionSort } from '../address/readAddress.server.js'
import { saidPeopleWords } from '../analyses/words.js'
import { dowser, missing } from '../door/dowser.server.js'
import { useWorkspace } from '../page/workspace.js'
import { PeopleTabs } from '../people/PeopleTabs.js'
import { sessionsAddress } from '../people/sessionsAddress.js'
import { SessionTable } from '../people/SessionTable.js'
import { Pager } from '../ui/Pager.js'
import type { Route } from './+types/people.sessions'

const PAGE = 50

export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readPeople(search)
  if (!ref || !('study' in ref) || !sessionsAddress(ref))
    missing(
      'The address does not say which sessions. Select a number in a study of sessions, and choose “See their sessions”.',
    )
  const page = Math.max(1, Math.floor(Number(search.get('page') ?? '1')) || 1)
  const sort = readSessionSort(search)
  const found = await dowser().sessionsOf(ref, { offset: (page - 1) * PAGE, limit: PAGE, sort }, request.signal)
  if ('faults' in found) missing(found.faults.map(faultWords).join(' '))
  return { ref, page, sort, ...found }
}

export const meta = () => [{ title: 'Sessions · Dowser' }]

export default function SessionsOfPeople({ loaderData }: Route.ComponentProps) {
  const { ref, page, sort, count, people, sessions } = loaderData
  const { words } = useWorkspace()
  const [search] = useSearchParams()
  const pages = Math.max(1, Math.ceil(count / PAGE))
  const address = (change: Record<string, string>) => {
    const next = new URLSearchParams(search)
    next.delete('page')
    for (const [key, value] of Object.entries(change)) next.set(key, value)
    return `?${next.toString()}`
  }
  const sorting = encodeURIComponent(JSON.stringify(sort))
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/people">People</Link>
          <span aria-hidden="true">›</span>
          <Link to={studyAddress(asQuestion(ref.study))}>from a study</Link>
          <span aria-hidden="true">›</span>
          <strong>sessions</strong>
        </nav>
        <div className="page-actions">
          <Button component={Link} to={`/people?${peopleParams(ref)}`}>
            See the people
          </Button>
          <Button
            variant="outlined"
            component="a"
            href={`/download/sessions.csv?${peopleParams(ref)}&sort=${sorting}`}
            download
          >
            Download list
          </Button>
        </div>
      </div>
      <PeopleTabs />
      <h1 className="people-count">
        <strong>{countOf(count, 'session', 'sessions')}</strong> of {countOf(people, 'person', 'people')}{' '}
        {saidPeopleWords(ref, words)}
      </h1>
      <section className="sheet">
        {sessions.length === 0 ? (
          <p className="pad soft">
            {count === 0 ? 'No session is counted there.' : 'There are no more sessions: go back to an earlier page.'}
          </p>
        ) : (
          <SessionTable sessions={sessions} sort={sort} sorted={(next) => address({ sort: JSON.stringify(next) })} />
        )}
        <Pager page={page} pages={pages} address={(to) => address({ page: String(to) })} />
      </section>
    </main>
  )
}
