import { stringify } from 'csv-stringify/sync'
import { safeCell } from '../../core/words/safeCell.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import { fileHeaders } from '../door/download.server.js'
import type { Route } from './+types/download.unknown'

/** The ids of an uploaded list that nobody has, with their lines. */
export function loader({ params }: Route.LoaderArgs) {
  const { segments } = dowser()
  orMissing(() => segments.get(params.segmentId))
  const rows = segments.unknown(params.segmentId, 5_000_000).map(({ line, value }) => [line, safeCell(value)])
  return new Response(stringify([['line', 'id'], ...rows]), { headers: fileHeaders('unknown ids', 'csv', 'text/csv') })
}
