import type { PeopleSort } from '../../server/engine/peopleSort.js'
import { own } from '../../core/names.js'
import { Link } from 'react-router'
import { formatMoment, formatNumber } from '../../core/words/format.js'
import { propertyWords } from '../../core/words/words.js'
import type { PersonRow } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'
import { PersonHead } from './PersonHead.js'
import { valueText } from './valueText.js'

/** People with their profiles. A head sorts by its column: the largest first, then the smallest, then as it was. */
export function PeopleTable(props: {
  people: readonly PersonRow[]
  columns: readonly string[]
  sort: PeopleSort | null
  /** address of the list in another order; left out: it cannot be sorted */
  sorted?: (sort: PeopleSort | null) => string
  /** comes after a person's address, to say where the page was opened from */
  from?: string
}) {
  const { people, columns, sort, sorted, from = '' } = props
  const { zone, thisYear, words } = useWorkspace()
  const head = (by: PeopleSort['by'], label: string, number = false) => {
    const is = sort !== null && JSON.stringify(sort.by) === JSON.stringify(by)
    const next: PeopleSort | null = !is ? { by } : sort.up ? null : { by, up: true }
    return (
      <th
        scope="col"
        key={label}
        className={number ? 'number' : ''}
        aria-sort={is ? (sort.up ? 'ascending' : 'descending') : 'none'}
      >
        {sorted ? (
          <Link to={sorted(next)} preventScrollReset className="sort-head">
            {label}
            {is && <span aria-hidden="true">{sort.up ? ' ↑' : ' ↓'}</span>}
          </Link>
        ) : (
          label
        )}
      </th>
    )
  }
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="People">
      <table className="numbers people">
        <thead>
          <tr>
            <th scope="col">Person</th>
            {columns.map((name) => head({ profile: name }, propertyWords({ of: 'person', name }, words)))}
            {head('events', 'Events', true)}
            {head('last seen', 'Last seen', true)}
          </tr>
        </thead>
        <tbody>
          {people.map((row) => (
            <tr key={row.person}>
              <PersonHead person={row} from={from} />
              {columns.map((name) => (
                <td key={name}>{valueText(own(row.profile, name), thisYear)}</td>
              ))}
              <td className="number">{formatNumber(row.events)}</td>
              <td className="number">{formatMoment(row.lastMs, zone, thisYear)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
