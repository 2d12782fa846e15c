import { createReadableStreamFromReadable } from '@react-router/node'
import { stringify } from 'csv-stringify/sync'
import { Readable } from 'node:stream'
import type { StudyPeople } from '../../core/analyses/people.js'
import { safeCell } from '../../core/words/safeCell.js'
import type { SessionSort } from '../../core/sessions/listSort.js'
import { readPeople, readSessionSort } from '../address/readAddress.server.js'
import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import { listsOf } from '../people/listAddress.js'
import type { Route } from './+types/download.sessions'

const PAGE = 2000

/** The sessions of a selection as CSV, a page at a time; lengths in seconds. */
export function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readPeople(search)
  if (!ref || !('study' in ref) || listsOf(ref) !== 'sessions')
    return new Response('The address does not say which sessions.', { status: 400 })
  const body = createReadableStreamFromReadable(Readable.from(lines(ref, readSessionSort(search), request.signal)))
  return new Response(body, { headers: fileHeaders('sessions', 'csv', 'text/csv') })
}

const HEADS = ['person', 'session', 'start', 'seconds', 'events', 'first_event', 'last_event', 'source', 'going_on']

async function* lines(ref: StudyPeople, sort: SessionSort, signal: AbortSignal): AsyncGenerator<string> {
  yield stringify([HEADS])
  for (let offset = 0; ; offset += PAGE) {
    const found = await dowser().sessionsOf(ref, { offset, limit: PAGE, sort }, signal)
    if ('faults' in found || found.sessions.length === 0) return
    yield stringify(
      found.sessions.map(({ person, number, startMs, ms, events, entry, exit, source, open }) => [
        ...[safeCell(person.id), number, new Date(startMs).toISOString(), ms / 1000, events],
        ...[safeCell(entry), safeCell(exit), safeCell(source ?? ''), String(open)],
      ]),
    )
  }
}
