import { Link } from 'react-router'
import { formatDuration, formatMoment, formatNumber } from '../../core/words/format.js'
import { eventWords } from '../../core/words/words.js'
import type { SessionSort } from '../../core/sessions/listSort.js'
import type { SessionRow } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'
import { personAddress } from './personAddress.js'
import { PersonHead } from './PersonHead.js'

const HEADS: Record<SessionSort['by'], string> = { start: 'Began', length: 'Length', events: 'Events' }

/** Sessions, each leading to itself. A head sorts by its column: the largest first, then the smallest. */
export function SessionTable(props: {
  sessions: readonly SessionRow[]
  sort: SessionSort
  /** address of the list in another order */
  sorted: (sort: SessionSort) => string
}) {
  const { sessions, sort, sorted } = props
  const { zone, thisYear, words } = useWorkspace()
  const head = (by: SessionSort['by']) => {
    const is = sort.by === by
    return (
      <th scope="col" className="number" aria-sort={is ? (sort.up ? 'ascending' : 'descending') : 'none'}>
        <Link to={sorted(is && !sort.up ? { by, up: true } : { by })} preventScrollReset className="sort-head">
          {HEADS[by]}
          {is && <span aria-hidden="true">{sort.up ? ' ↑' : ' ↓'}</span>}
        </Link>
      </th>
    )
  }
  const name = (event: string) => eventWords({ names: [event] }, words)
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Sessions">
      <table className="numbers people">
        <thead>
          <tr>
            <th scope="col">Person</th>
            {head('start')}
            {head('length')}
            {head('events')}
            <th scope="col">Began with</th>
            <th scope="col">Ended with</th>
            <th scope="col">Source</th>
            <th scope="col">
              <span className="sr-only">Retrace</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sessions.map(({ person, number, startMs, ms, events, entry, exit, source, open }) => (
            <tr key={`${person.id} ${number}`}>
              <PersonHead person={person} />
              <td className="number">{formatMoment(startMs, zone, thisYear)}</td>
              <td className="number">
                {formatDuration(ms)}
                {open && <small> so far</small>}
              </td>
              <td className="number">{formatNumber(events)}</td>
              <td>{name(entry)}</td>
              <td>{open ? 'still going on' : name(exit)}</td>
              <td>{source ?? <span className="soft">no source</span>}</td>
              <td>
                <Link
                  to={`${personAddress(person)}/retrace?session=${number}`}
                  aria-label={`Retrace session ${number} of ${person.id}`}
                >
                  Retrace
                </Link>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
