import type { Credited } from '../../core/analyses/attribution/listedWords.js'
import type { PeopleRef } from '../../core/analyses/people.js'
import { faultWords } from '../../core/questions/faults.js'
import { dowser } from '../door/dowser.server.js'
import { readPeople } from '../address/readAddress.server.js'
import { listsOf } from '../people/listAddress.js'
import type { Selection } from '../people/PeopleTray.js'
import type { Route } from './+types/ask.selection'

/** How many people a selection holds, and what is credited to what they are selected by. */
export async function loader({ request }: Route.LoaderArgs): Promise<Selection> {
  const ref = readPeople(new URL(request.url).searchParams)
  if (!ref) return { problem: 'What is selected could not be read.' }
  const [found, conversions] = await Promise.all([
    dowser().people(ref, { offset: 0, limit: 0 }, request.signal),
    conversionsIn(ref, request.signal),
  ])
  return 'faults' in found ? { problem: found.faults.map(faultWords).join(' ') } : { count: found.count, conversions }
}

async function conversionsIn(ref: PeopleRef, signal: AbortSignal): Promise<Credited | null> {
  if (!('study' in ref) || listsOf(ref) !== 'conversions') return null
  const found = await dowser().conversionsOf(ref, { offset: 0, limit: 0 }, signal)
  return 'faults' in found ? null : { count: found.count, credit: found.credit }
}
