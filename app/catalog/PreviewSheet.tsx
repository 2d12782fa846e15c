import { faultWords } from '../../core/questions/faults.js'
import { formatNumber, formatPercent, MISSING } from '../../core/words/format.js'
import type { PreviewReply } from '../routes/ask.preview.js'

/** What a definition gives on the events there are: how many get a value, which, why others do not, and a few of them. */
export function PreviewSheet({
  reply,
  waiting,
  of,
}: {
  reply: PreviewReply | null
  waiting: boolean
  of: 'event' | 'person'
}) {
  const what = of === 'event' ? 'events' : 'people'
  if (!reply || !('preview' in reply))
    return (
      <section className="sheet pad">
        <h2 className="overline">On what there is</h2>
        <p className="soft">Once it can be worked out, what it gives on your own {what} is shown here.</p>
      </section>
    )
  const { total, valued, every, gaps, values, samples, faults } = reply.preview
  const most = Math.max(1, ...values.map(({ count }) => count))
  return (
    <section className={`sheet pad stack${waiting ? ' dimmed' : ''}`} aria-busy={waiting}>
      <h2 className="overline">On what there is</h2>
      {faults.map((fault, i) => (
        <p key={i} className="caution">
          {faultWords(fault)} Until it arrives, it is read as no value.
        </p>
      ))}
      <p>
        <strong>{formatNumber(valued)}</strong> of {formatNumber(total)} {what}
        {of === 'event' && !every && ', of the kinds that carry any of what it reads,'} get a value
        {total > 0 && `, ${formatPercent(valued / total, 0)}`}.
      </p>
      <ul className="value-bars">
        {values.map(({ text, count }) => (
          <li key={text}>
            <span className="value-text">{text}</span>
            <span className="value-bar">
              <span style={{ width: `${(100 * count) / most}%` }} />
            </span>
            <span className="number">{formatNumber(count)}</span>
          </li>
        ))}
      </ul>
      {gaps.length > 0 && (
        <div>
          <h3 className="overline">No value</h3>
          <ul className="panel-list">
            {gaps.map(({ reason, count }) => (
              <li key={reason}>
                <span>{reason}</span>
                <span>{formatNumber(count)}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {samples.length > 0 && (
        <div className="table-scroll" tabIndex={0} role="region" aria-label="The newest few">
          <table className="catalog-table">
            <thead>
              <tr>
                <th scope="col">{of === 'event' ? 'The newest' : 'Person'}</th>
                {samples[0]!.inputs.map(({ name }) => (
                  <th scope="col" key={name}>
                    {name}
                  </th>
                ))}
                <th scope="col">gives</th>
              </tr>
            </thead>
            <tbody>
              {samples.map((sample, i) => (
                <tr key={i}>
                  <td>{sample.event}</td>
                  {sample.inputs.map(({ name, text }) => (
                    <td key={name} className="soft">
                      {text ?? MISSING}
                    </td>
                  ))}
                  <td>
                    <strong>{sample.value ?? MISSING}</strong>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  )
}
