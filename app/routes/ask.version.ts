import { dowser } from '../door/dowser.server.js'

/** State of the data: larger than before when something came in. */
export function loader() {
  return Response.json({ version: dowser().version() }, { headers: { 'Cache-Control': 'no-store' } })
}
