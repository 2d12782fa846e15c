import Button from '@mui/material/Button'
import { Link } from 'react-router'
import { peopleWords } from '../../core/analyses/peopleWords.js'
import { faultWords } from '../../core/questions/faults.js'
import { countOf, formatMoment, formatNumber } from '../../core/words/format.js'
import { propertyWords } from '../../core/words/words.js'
import { amongThem, selectionParams, studyAddress } from '../address.js'
import { dowser, missing } from '../dowser.server.js'
import { valueText } from '../people/valueText.js'
import { ColumnChoice } from '../people/ColumnChoice.js'
import { readColumns, readSelection } from '../readAddress.server.js'
import { useWorkspace } from '../workspace.js'
import type { Route } from './+types/people'

const PAGE = 50

export async function loader({ request }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams
  const ref = readSelection(search)
  if (!ref) missing('The address does not say which people. Select a number in a study, and choose “See them”.')
  const page = Math.max(1, Math.floor(Number(search.get('page') ?? '1')) || 1)
  const found = await dowser().people(ref, { offset: (page - 1) * PAGE, limit: PAGE }, request.signal)
  if ('faults' in found) missing(found.faults.map(faultWords).join(' '))
  return { ref, page, ...found, names: dowser().profileNames(), columns: readColumns(search) }
}

export const meta = () => [{ title: 'People · Dowser' }]

export default function People({ loaderData }: Route.ComponentProps) {
  const { ref, page, count, people, names, columns } = loaderData
  const { zone, thisYear, words } = useWorkspace()
  const selection = selectionParams(ref.study, ref.marks).toString()
  const params = columns ? `${selection}&columns=${encodeURIComponent(JSON.stringify(columns))}` : selection
  const pages = Math.max(1, Math.ceil(count / PAGE))
  const carried = names.filter((name) => people.some(({ profile }) => profile[name] !== undefined))
  const shown = columns ?? carried
  return (
    <main className="page">
      <div className="page-head">
        <nav className="crumbs" aria-label="Breadcrumbs">
          <Link to="/studies">Studies</Link>
          <span aria-hidden="true">›</span>
          <Link to={studyAddress(ref.study)}>Study</Link>
          <span aria-hidden="true">›</span>
          <strong>People</strong>
        </nav>
        <div className="page-actions">
          <Button variant="outlined" component={Link} to={studyAddress(amongThem(ref.study, ref.marks))}>
            Study them
          </Button>
          <ColumnChoice names={names} shown={shown} selection={selection} words={words} />
          <Button variant="outlined" component="a" href={`/download/people.csv?${params}`} download>
            Download list
          </Button>
        </div>
      </div>
      <h1 className="question">
        <strong>{countOf(count, 'person', 'people')}</strong> {peopleWords(ref, words)}
      </h1>
      <p className="soft">Profile properties are shown at their latest value.</p>
      <section className="sheet">
        <div className="table-scroll" tabIndex={0} role="region" aria-label="People">
          <table className="numbers people">
            <thead>
              <tr>
                <th scope="col">Person</th>
                {shown.map((name) => (
                  <th scope="col" key={name}>
                    {propertyWords({ of: 'person', name }, words)}
                  </th>
                ))}
                <th scope="col" className="number">
                  Events
                </th>
                <th scope="col" className="number">
                  Last seen
                </th>
              </tr>
            </thead>
            <tbody>
              {people.map((row) => (
                <tr key={row.person}>
                  <th scope="row">
                    <Link to={`/people/${row.anonymous ? 'anonymous' : 'known'}/${encodeURIComponent(row.id)}`}>
                      {row.id}
                    </Link>
                    {row.anonymous && <small> anonymous</small>}
                  </th>
                  {shown.map((name) => (
                    <td key={name}>{valueText(row.profile[name], thisYear)}</td>
                  ))}
                  <td className="number">{formatNumber(row.events)}</td>
                  <td className="number">{formatMoment(row.lastMs, zone, thisYear)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <div className="pager">
          <Button component={Link} to={`?${params}&page=${page - 1}`} disabled={page <= 1}>
            Before
          </Button>
          <span>
            Page {formatNumber(page)} of {formatNumber(pages)}
          </span>
          <Button component={Link} to={`?${params}&page=${page + 1}`} disabled={page >= pages}>
            Next
          </Button>
        </div>
      </section>
    </main>
  )
}
