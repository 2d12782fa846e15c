import { Link } from 'react-router'
import { formatDay, formatMoment, formatNumber, formatPercent } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import type { MessageData } from './message.js'

/** Who came in last and what became of them; under a split that moves, how it moved. */
export function MessageLog({ data }: { data: MessageData }) {
  const { lines, shares, definition } = data
  const { zone, thisYear } = useWorkspace()
  const { variants } = definition
  return (
    <>
      {shares.length > 0 && (
        <div className="table-scroll" tabIndex={0} role="region" aria-label="How the split moved">
          <table className="catalog-table">
            <thead>
              <tr>
                <th scope="col">From</th>
                {variants.map(({ name }) => (
                  <th scope="col" key={name}>
                    “{name}”
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {[...shares].reverse().map(({ day, shares: parts, tried }) => (
                <tr key={day}>
                  <td>{formatDay(day, thisYear)}</td>
                  {parts.map((part, place) => (
                    <td key={place}>
                      {formatPercent(part)}{' '}
                      <span className="soft">
                        {formatNumber(tried[place]!.did)} of {formatNumber(tried[place]!.over)} did it
                      </span>
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {lines.length === 0 ? (
        <p className="pad soft">Nobody has come in yet.</p>
      ) : (
        <div className="table-scroll" tabIndex={0} role="region" aria-label="Who came in last">
          <table className="catalog-table">
            <thead>
              <tr>
                <th scope="col">Person</th>
                <th scope="col">Came in</th>
                <th scope="col">Variant</th>
                <th scope="col">What became of it</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={`${line.space} ${line.person} ${line.entry}`}>
                  <td>
                    <Link to={`/people/${line.space}/${encodeURIComponent(line.person)}`}>{line.person}</Link>
                    {line.entry > 1 && <span className="soft"> for the {line.entry}. time</span>}
                  </td>
                  <td>{formatMoment(line.atMs, zone, thisYear)}</td>
                  <td>{line.variant === null ? 'left alone' : `“${variants[line.variant]?.name ?? ''}”`}</td>
                  <td className={line.state === 'dropped' ? 'loss' : ''}>
                    {line.state === 'alone'
                      ? ''
                      : line.state === 'sent'
                        ? `sent ${formatMoment(line.sentMs!, zone, thisYear)}`
                        : line.state === 'dropped'
                          ? `not sent: ${line.why ?? 'it was stopped'}`
                          : line.state === 'ready'
                            ? (line.why ?? 'on its way')
                            : `to be sent ${formatMoment(line.dueMs, zone, thisYear)}`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  )
}
