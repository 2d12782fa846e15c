import Button from '@mui/material/Button'
import { useState } from 'react'
import { lastDayOf, readAmount, type CostRow, type CostsBy } from '../../core/costs/costs.js'
import { countOf, formatAs, formatDay, formatNumber } from '../../core/words/format.js'
import { useWorkspace } from '../page/workspace.js'
import { FindField } from '../ui/FindField.js'
import { InPlace } from './InPlace.js'
import { useMend } from './useMend.js'

const PAGE = 50

/** Costs as they were brought in, the latest first; each can be corrected where it stands, or removed. */
export function CostRows({ by, rows }: { by: CostsBy; rows: readonly CostRow[] }) {
  const { words, thisYear } = useWorkspace()
  const { mend } = useMend()
  const [find, setFind] = useState('')
  const [most, setMost] = useState(PAGE)
  const [wrong, setWrong] = useState<string | null>(null)
  const sought = find.trim().toLowerCase()
  const found = rows.filter(({ value, day }) => value.toLowerCase().includes(sought) || day.includes(sought)).reverse()
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
            setMost(PAGE)
          }}
        />
        <span className="soft" aria-live="polite">
          {wrong ?? (sought && `${countOf(found.length, 'row', 'rows')} of ${rows.length}`)}
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
            {found.slice(0, most).map((row) => (
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
      {found.length > most && (
        <div className="pager">
          <span>
            {formatNumber(most)} of {countOf(found.length, 'row', 'rows')}
          </span>
          <Button onClick={() => setMost(most + PAGE)}>Show {Math.min(PAGE, found.length - most)} more</Button>
        </div>
      )}
    </>
  )
}
