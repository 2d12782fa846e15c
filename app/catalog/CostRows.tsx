import Button from '@mui/material/Button'
import { useState } from 'react'
import { lastDayOf, readAmount, type CostRow, type CostsBy } from '../../core/costs/costs.js'
import { countOf, formatAs, formatDay, formatNumber } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import { put, useAddress } from '../ui/useAddress.js'
import { FindField } from '../ui/FindField.js'
import { InPlace } from './InPlace.js'
import { useMend } from './useMend.js'

/** So many rows of costs are shown at first, and more with each press. */
export const ROWS_SHOWN = 50

/** Costs as they were brought in, the latest first; each can be corrected where it stands, or removed. */
export function CostRows(props: { by: CostsBy; latest: { rows: readonly CostRow[]; found: number }; of: number }) {
  const { by, latest, of } = props
  const { rows, found } = latest
  const { words, thisYear } = useWorkspace()
  const { mend } = useMend()
  const [params, change] = useAddress()
  const [find, setFind] = useState(params.get('find') ?? '')
  const [wrong, setWrong] = useState<string | null>(null)
  const show = (text: string, most: number) =>
    change(
      (next) => {
        put(next, 'find', text.trim())
        put(next, 'rows', most > ROWS_SHOWN ? String(most) : null)
      },
      { replace: true },
    )
  const correct = (row: CostRow, text: string) => {
    const amount = readAmount(text)
    if (amount === null || amount < 0) return setWrong(`“${text}” is no amount: write a number such as 120.50.`)
    setWrong(null)
    void mend({ do: 'correct cost', by, row, amount })
  }
  return (
    <>
      <div className="table-bar">
        <FindField
          label="Find a value or day"
          value={find}
          onChange={(text) => {
            setFind(text)
            show(text, ROWS_SHOWN)
          }}
        />
        <span className="soft" aria-live="polite">
          {wrong ?? (found < of && `${countOf(found, 'row', 'rows')} of ${formatNumber(of)}`)}
        </span>
      </div>
      <div className="table-scroll" tabIndex={0} role="region" aria-label="Costs">
        <table className="catalog-table">
          <thead>
            <tr>
              <th scope="col">From</th>
              <th scope="col">To</th>
              <th scope="col">Value</th>
              <th scope="col" className="number">
                Paid
              </th>
              <th scope="col">
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={`${row.day} ${row.value}`}>
                <td>{formatDay(row.day, thisYear)}</td>
                <td>{formatDay(lastDayOf(row), thisYear)}</td>
                <td>{row.value}</td>
                <td className="number">
                  <InPlace
                    label={`Paid for ${row.value} from ${row.day}`}
                    value={formatAs(row.amount, 'money', words.currency, 2)}
                    empty="0"
                    onKeep={(text) => correct(row, text)}
                  />
                </td>
                <td>
                  <Button
                    size="small"
                    aria-label={`Remove what was paid for ${row.value} from ${row.day}`}
                    onClick={() => void mend({ do: 'correct cost', by, row, amount: null })}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {found > rows.length && (
        <div className="pager">
          <span>
            {formatNumber(rows.length)} of {countOf(found, 'row', 'rows')}
          </span>
          <Button onClick={() => show(find, rows.length + ROWS_SHOWN)}>
            Show {Math.min(ROWS_SHOWN, found - rows.length)} more
          </Button>
        </div>
      )}
    </>
  )
}
