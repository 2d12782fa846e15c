import { redirect } from 'react-router'
import { dowser, missing } from '../door/dowser.server.js'
import { readPeople } from '../address/readAddress.server.js'
import type { Route } from './+types/retraceOne'

/** Leads to the first of some people: from there on one goes from person to person. */
export async function loader({ request }: Route.LoaderArgs) {
  const ref = readPeople(new URL(request.url).searchParams)
  if (!ref) missing('The address does not say which people. Select a number in a study, and choose “Retrace one”.')
  const found = await dowser().people(ref, { offset: 0, limit: 1 }, request.signal)
  const [person] = 'faults' in found ? [] : found.people
  if (!person) missing('Nobody is meant by this, so there is nobody to retrace.')
  const space = person.anonymous ? 'anonymous' : 'known'
  const of = new URLSearchParams({ of: JSON.stringify(ref) })
  return redirect(`/people/${space}/${encodeURIComponent(person.id)}/retrace?${of.toString()}`)
}
