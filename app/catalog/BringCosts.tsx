import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { useEffect, useRef, useState } from 'react'
import { useFetcher } from 'react-router'
import type { CostsBy } from '../../core/costs/costs.js'
import { countOf, formatAs, formatDay, formatNumber, joinWords } from '../../core/words/format.js'
import type { CostsPreview } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'
import { PropertyButton } from './PropertyButton.js'
import { useMend } from './useMend.js'

/** So many lines that were not taken, and values, are shown. */
const MOST_SHOWN = 12

/** A table of costs is looked at before it is brought in: what it holds, what cannot be read, whose place it takes. */
export function BringCosts({ usual, onDone }: { usual: CostsBy | null; onDone: () => void }) {
  const { words, thisYear } = useWorkspace()
  const { mend, busy } = useMend()
  const [by, setBy] = useState(usual?.of === 'event name' ? null : usual)
  const [file, setFile] = useState<{ name: string; text: string } | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  const look = useFetcher<CostsPreview | { problem: string }>()
  const { submit } = look
  useEffect(() => {
    if (!file || !by) return
    const form = new FormData()
    form.set('by', JSON.stringify(by))
    form.set('text', file.text)
    void submit(form, { method: 'post', action: '/catalog/costs' })
  }, [file, by, submit])
  const seen = look.state === 'idle' && file && by ? look.data : undefined
  const preview = seen && 'rows' in seen ? seen : null
  const money = (amount: number) => formatAs(amount, 'money', words.currency)
  const unknown = preview?.values.filter(({ known }) => !known) ?? []
  return (
    <section className="sheet pad stack" aria-label="Bring in costs">
      <p>
        A CSV file with three columns: <b>day</b> or <b>week</b> (2026-10-08, or 2026-W41), <b>value</b>, and{' '}
        <b>amount</b> in {words.currency ?? 'EUR'}.{' '}
        <a href={TEMPLATE} download="costs.csv">
          An empty one
        </a>
      </p>
      <div className="row wrap">
        <span>Costs of</span>
        <PropertyButton label="Costs of" value={by} onChange={setBy} />
        <Button variant={file ? 'outlined' : 'contained'} onClick={() => input.current?.click()}>
          {file ? 'Another file' : 'Choose a file'}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
        <input
          ref={input}
          type="file"
          hidden
          aria-label="File with costs"
          data-costs-file=""
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          onChange={(event) => {
            const chosen = event.target.files?.[0]
            event.target.value = ''
            setProblem(null)
            chosen
              ?.text()
              .then((text) => setFile({ name: chosen.name, text }))
              .catch(() => setProblem(`${chosen.name} could not be read.`))
          }}
        />
      </div>
      {file && !by && <Alert severity="info">Choose the property whose values the costs in {file.name} are of.</Alert>}
      {(problem ?? (seen && 'problem' in seen && seen.problem)) && (
        <Alert severity="error">{problem ?? (seen as { problem: string }).problem}</Alert>
      )}
      {file && look.state !== 'idle' && <p className="soft">Reading {file.name} …</p>}
      {file && preview && (
        <>
          <p aria-live="polite">
            <strong>{countOf(preview.rows.length, 'cost', 'costs')}</strong>
            {preview.period &&
              ` from ${formatDay(preview.period.from, thisYear)} to ${formatDay(preview.period.to, thisYear)}, ${money(preview.total)} in all`}
            {preview.problems.length > 0 && `; ${countOf(preview.problems.length, 'line', 'lines')} left out`}.
            {preview.replaced > 0 &&
              ` ${countOf(preview.replaced, 'row', 'rows')} of before ${preview.replaced === 1 ? 'reaches' : 'reach'} into these days: for them this takes their place.`}
          </p>
          {preview.problems.length > 0 && (
            <>
              <ul className="faults">
                {preview.problems.slice(0, MOST_SHOWN).map(({ line, reason }) => (
                  <li key={line}>
                    line {formatNumber(line)}: {reason}
                  </li>
                ))}
                {preview.problems.length > MOST_SHOWN && (
                  <li>and {formatNumber(preview.problems.length - MOST_SHOWN)} more</li>
                )}
              </ul>
              <a
                href={`data:text/csv;charset=utf-8,${encodeURIComponent(preview.leftOut)}`}
                download="costs left out.csv"
              >
                Download the lines left out
              </a>
            </>
          )}
          {unknown.length > 0 && (
            <Alert severity="warning">
              No event has {unknown.length === 1 ? 'the value' : 'one of the values'}{' '}
              {joinWords(
                unknown.slice(0, MOST_SHOWN).map(({ value }) => `“${value}”`),
                'or',
              )}
              {unknown.length > MOST_SHOWN && `, or ${formatNumber(unknown.length - MOST_SHOWN)} more`}: what was paid
              for {unknown.length === 1 ? 'it' : 'them'} will stand beside nobody. If the spelling is another, mend the
              file.
            </Alert>
          )}
          {preview.values.length > 0 && (
            <div className="table-scroll" tabIndex={0} role="region" aria-label="What the file holds">
              <table className="catalog-table narrow-table">
                <thead>
                  <tr>
                    <th scope="col">Value</th>
                    <th scope="col" className="number">
                      Rows
                    </th>
                    <th scope="col" className="number">
                      Paid
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {preview.values.slice(0, MOST_SHOWN).map(({ value, rows, amount, known }) => (
                    <tr key={value}>
                      <td>
                        {value} {!known && <small className="loss">no event has it</small>}
                      </td>
                      <td className="number">{formatNumber(rows)}</td>
                      <td className="number">{money(amount)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {preview.values.length > MOST_SHOWN && (
                <p className="hint pad">and {formatNumber(preview.values.length - MOST_SHOWN)} more values</p>
              )}
            </div>
          )}
          <div>
            <Button
              variant="contained"
              disabled={busy || preview.rows.length === 0}
              onClick={() => {
                void mend({ do: 'bring costs', by: by!, text: file.text }).then(({ done, problems }) => {
                  if (done) onDone()
                  else setProblem(problems.map(({ message }) => message).join(' '))
                })
              }}
            >
              Bring in {countOf(preview.rows.length, 'cost', 'costs')}
            </Button>
          </div>
        </>
      )}
    </section>
  )
}

const TEMPLATE = `data:text/csv;charset=utf-8,${encodeURIComponent('week,value,amount\n')}`
