import { createReadableStreamFromReadable } from '@react-router/node'
import { Readable } from 'node:stream'
import { dowser, orMissing } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import type { Route } from './+types/download.rejected'

/** The lines of an import that were not taken, with their reasons; or those that were known already. */
export function loader({ params, request }: Route.LoaderArgs) {
  const job = orMissing(() => dowser().imports.get(params.importId))
  const known = new URL(request.url).pathname.includes('/known/')
  const lines = known ? dowser().knownLines(job.id) : dowser().rejectedLines(job.id)
  const body = createReadableStreamFromReadable(Readable.from(lines))
  const name = `${job.file} ${known ? 'known already' : 'rejected'}`
  return new Response(body, { headers: fileHeaders(name, 'csv', 'text/csv') })
}
