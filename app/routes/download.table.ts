import { stringify } from 'csv-stringify/sync'
import { safeCell } from '../../core/words/safeCell.js'
import { dowser } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import { readQuestion } from '../address/readAddress.server.js'
import { tableOf } from '../study/lead.server.js'
import type { Route } from './+types/download.table'

/** The table of a study's numbers as CSV, unrounded. */
export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const read = readQuestion(search)
  const reply = read && read.faults.length === 0 ? await dowser().run(read.question, request.signal) : null
  if (!read || !reply?.result) return new Response('The study has no result: open it to see why.', { status: 422 })
  const table = await tableOf(read.question, reply.result, dowser().wordsAt(reply.now))
  return new Response(stringify(table.map((row) => row.map(safeCell))), {
    headers: fileHeaders(search.get('name') ?? 'study', 'csv', 'text/csv'),
  })
}
