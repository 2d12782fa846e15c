import { Link } from 'react-router'
import type { PersonRow } from '../../server/index.js'
import { personAddress } from './personAddress.js'

/** Whose row of a table it is, leading to them. @param from comes after their address, to say where they were come from */
export function PersonHead({ person, from = '' }: { person: Pick<PersonRow, 'id' | 'anonymous'>; from?: string }) {
  return (
    <th scope="row">
      <Link to={personAddress(person) + from}>{person.id}</Link>
      {person.anonymous && <small> anonymous</small>}
    </th>
  )
}
