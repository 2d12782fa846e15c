import { createReadableStreamFromReadable } from '@react-router/node'
import { Readable } from 'node:stream'
import { dowser, orMissing } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import type { Route } from './+types/download.rejected'

/** The lines of an import that were not taken, with their reasons. */
export function loader({ params }: Route.LoaderArgs) {
  const job = orMissing(() => dowser().imports.get(params.importId))
  const body = createReadableStreamFromReadable(Readable.from(dowser().rejectedLines(job.id)))
  return new Response(body, { headers: fileHeaders(`${job.file} rejected`, 'csv', 'text/csv') })
}
