import { useSearchParams } from 'react-router'
import { faultWords } from '../../core/questions/faults.js'
import type { SessionSort } from '../../core/sessions/listSort.js'
import { peopleParams } from '../address/address.js'
import { readPeople, readSessionSort } from '../address/readAddress.server.js'
import { dowser, missing } from '../door/dowser.server.js'
import { listsOf } from '../people/listAddress.js'
import { LISTED_PAGE, ListedPage, pageOf } from '../people/ListedPage.js'
import { SessionTable } from '../people/SessionTable.js'
import type { Route } from './+types/people.sessions'

export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readPeople(search)
  if (!ref || !('study' in ref) || listsOf(ref) !== 'sessions')
    missing(
      'The address does not say which sessions. Select a number in a study of sessions, and choose “See their sessions”.',
    )
  const page = pageOf(search)
  const sort = readSessionSort(search)
  const part = { offset: (page - 1) * LISTED_PAGE, limit: LISTED_PAGE, sort }
  const found = await dowser().sessionsOf(ref, part, request.signal)
  if ('faults' in found) missing(found.faults.map(faultWords).join(' '))
  return { ref, page, sort, ...found }
}

export const meta = () => [{ title: 'Sessions · Dowser' }]

export default function SessionsOfPeople({ loaderData }: Route.ComponentProps) {
  const { ref, page, sort, count, people, sessions } = loaderData
  const [search] = useSearchParams()
  const sorted = (next: SessionSort) => {
    const address = new URLSearchParams(search)
    address.delete('page')
    address.set('sort', JSON.stringify(next))
    return `?${address.toString()}`
  }
  return (
    <ListedPage
      {...{ reference: ref, one: 'session', several: 'sessions', count, people, page }}
      download={`/download/sessions.csv?${peopleParams(ref)}&sort=${encodeURIComponent(JSON.stringify(sort))}`}
    >
      <SessionTable sessions={sessions} sort={sort} sorted={sorted} />
    </ListedPage>
  )
}
