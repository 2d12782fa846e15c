import { faultWords } from '../../core/questions/faults.js'
import { dowser } from '../door/dowser.server.js'
import { readPeople } from '../address/readAddress.server.js'
import type { Route } from './+types/ask.selection'

/** How many people a selection holds. */
export async function loader({ request }: Route.LoaderArgs) {
  const ref = readPeople(new URL(request.url).searchParams)
  if (!ref) return { problem: 'What is selected could not be read.' }
  const found = await dowser().people(ref, { offset: 0, limit: 0 }, request.signal)
  return 'faults' in found ? { problem: found.faults.map(faultWords).join(' ') } : { count: found.count }
}
