import { Link } from 'react-router'
import type { AttributionQuestion } from '../../core/analyses/attribution/question.js'
import { touchWords, worthWords } from '../../core/analyses/attribution/words.js'
import { capital, formatDuration, formatMoment, formatNumber, formatPercent } from '../../core/words/format.js'
import type { ConversionRow } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'
import { personAddress } from './personAddress.js'
import { PersonHead } from './PersonHead.js'
import './conversions.css'

/** So many touches of a way are shown: the first ones, and the last. */
const SHOWN = { first: 4, last: 4 }

/** Conversions, each with the touches that are found for it and what each of them earned. */
export function ConversionTable(props: {
  conversions: readonly ConversionRow[]
  study: AttributionQuestion
  /** what is credited, for the head of its column; null = nothing is shared conversion by conversion */
  credited: string | null
}) {
  const { conversions, study, credited } = props
  const { zone, thisYear, words } = useWorkspace()
  const ofWorth = study.worth !== undefined
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Conversions">
      <table className="numbers people conversions">
        <thead>
          <tr>
            <th scope="col">Person</th>
            <th scope="col" className="number">
              Converted
            </th>
            {ofWorth && (
              <th scope="col" className="number">
                {capital(worthWords(study, words))}
              </th>
            )}
            {credited !== null && (
              <th scope="col" className="number">
                {credited}
              </th>
            )}
            <th scope="col">Touches, and what each earned</th>
            <th scope="col">
              <span className="sr-only">Retrace</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {conversions.map((row) => (
            <tr key={row.event}>
              <PersonHead person={row.person} />
              <td className="number">{formatMoment(row.at, zone, thisYear)}</td>
              {ofWorth && <td className="number">{formatNumber(row.worth)}</td>}
              {credited !== null && <td className="number">{formatNumber(row.credit)}</td>}
              <td>
                <Way row={row} study={study} />
              </td>
              <td>
                <Link
                  to={`${personAddress(row.person)}/retrace?at=${encodeURIComponent(row.event)}`}
                  aria-label={`Retrace how ${row.person.id} came to it`}
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

function Way({ row, study }: { row: ConversionRow; study: AttributionQuestion }) {
  const { words } = useWorkspace()
  const { touches, at, worth } = row
  if (touches.length === 0) return <span className="soft">no touch found</span>
  const hidden = touches.length > SHOWN.first + SHOWN.last + 1
  const shown = hidden ? [...touches.slice(0, SHOWN.first), null, ...touches.slice(-SHOWN.last)] : touches
  return (
    <ol className="touches">
      {shown.map((touch, i) =>
        touch === null ? (
          <li key="more" className="soft">
            {touches.length - SHOWN.first - SHOWN.last} more
          </li>
        ) : (
          <li key={i} title={touch.at === at ? 'at the conversion itself' : `${formatDuration(at - touch.at)} before`}>
            {touchWords(touch.key, study.by, undefined, words)}
            {touch.credit !== null && worth > 0 && (
              <small className={touch.credit > 0 ? 'earned' : ''}> {formatPercent(touch.credit / worth, 0)}</small>
            )}
          </li>
        ),
      )}
    </ol>
  )
}
