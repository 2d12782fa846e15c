import { own } from '../../core/names.js'
import { createReadableStreamFromReadable } from '@react-router/node'
import { stringify } from 'csv-stringify/sync'
import { Readable } from 'node:stream'
import type { PeopleRef } from '../../core/analyses/people.js'
import { safeCell } from '../../core/words/safeCell.js'
import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import { readColumns, readPeople } from '../address/readAddress.server.js'
import type { Route } from './+types/download.people'

const PAGE = 500

/** The people of a selection as CSV, with their profiles or the chosen properties of them; a page at a time. */
export function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readPeople(search)
  if (!ref) return new Response('The address does not say which people.', { status: 400 })
  const body = createReadableStreamFromReadable(Readable.from(lines(ref, readColumns(search), request.signal)))
  return new Response(body, { headers: fileHeaders('people', 'csv', 'text/csv') })
}

async function* lines(ref: PeopleRef, columns: string[] | null, signal: AbortSignal): AsyncGenerator<string> {
  const names = columns ?? dowser().profileNames()
  yield stringify([['person', ...names.map(safeCell), 'events', 'last_seen']])
  for (let offset = 0; ; offset += PAGE) {
    const found = await dowser().people(ref, { offset, limit: PAGE }, signal)
    if ('faults' in found || found.people.length === 0) return
    yield stringify(
      found.people.map((row) => [
        safeCell(row.id),
        ...names.map((name) => {
          const value = own(row.profile, name)
          return safeCell(
            typeof value === 'object' ? value.join('|') : typeof value === 'boolean' ? String(value) : value,
          )
        }),
        row.events,
        new Date(row.lastMs).toISOString(),
      ]),
    )
  }
}
