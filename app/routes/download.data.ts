import { createReadableStreamFromReadable } from '@react-router/node'
import { Readable } from 'node:stream'
import { z } from 'zod'
import { dowser, missing } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import type { Route } from './+types/download.data'

const fileSchema = z.tuple([z.enum(['events', 'people', 'catalog']), z.enum(['csv', 'jsonl', 'parquet'])])
const TYPES = { csv: 'text/csv', jsonl: 'application/x-ndjson', parquet: 'application/vnd.apache.parquet' }

/** Everything there is of a kind, as a file: `events.csv`, `people.parquet`, `catalog.jsonl`. */
export async function loader({ params }: Route.LoaderArgs) {
  const parsed = fileSchema.safeParse(params.file.split('.'))
  if (!parsed.success) missing('There is no such download. Choose one from the catalog.')
  const [what, format] = parsed.data
  const body = createReadableStreamFromReadable(Readable.from(await dowser().exportTable(what, format, {})))
  return new Response(body, { headers: fileHeaders(`${dowser().settings.get().name} ${what}`, format, TYPES[format]) })
}
