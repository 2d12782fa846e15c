import type { ReactNode } from 'react'
import { formatNumber } from '../../core/words/format.js'

/** Why lines were not taken, the commonest reason first. */
export function ReasonTable(props: {
  title: string
  reasons: readonly { reason: string; lines: number; first: number; example?: string }[]
  action?: ReactNode
}) {
  const { title, reasons, action } = props
  return (
    <section className="sheet">
      <div className="pad-head row between">
        <h2 className="overline">{title}</h2>
        {action}
      </div>
      <div className="table-scroll" tabIndex={0} role="region" aria-label={title}>
        <table className="numbers">
          <thead>
            <tr>
              <th scope="col">Reason</th>
              <th scope="col" className="number">
                Lines
              </th>
              <th scope="col" className="number">
                First at line
              </th>
            </tr>
          </thead>
          <tbody>
            {reasons.map(({ reason, lines, first, example }) => (
              <tr key={reason}>
                <td className="wrap">
                  {reason}
                  {example !== undefined && (
                    <div className="soft">
                      <code>{example}</code>
                    </div>
                  )}
                </td>
                <td className="number">{formatNumber(lines)}</td>
                <td className="number">{formatNumber(first)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
