import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { countOf, formatNumber } from '../../core/words/format.js'
import type { ImportLook, PlanMend } from '../../server/store/imports.js'
import { planProblems, withColumn, type ImportPlan } from '../door/dowser.shared.js'
import { ColumnsEditor, readingWords } from './ColumnsEditor.js'
import { ReasonTable } from './ReasonTable.js'

/** What of a file could not be taken, before anything is: how many lines, which, why, and which reading mends them. */
export function LookResult(props: {
  look: ImportLook
  plan: ImportPlan
  busy: boolean
  onGoOn: () => void
  onReadAs: (plan: ImportPlan) => void
  onDrop: () => void
}) {
  const { look, plan, busy, onGoOn, onReadAs, onDrop } = props
  const [draft, setDraft] = useState<ImportPlan | null>(null)
  const good = look.records - look.rejected
  const problems = draft ? planProblems(draft) : []
  return (
    <>
      <section className="sheet pad stack">
        <p>
          <strong>{countOf(look.rejected, 'line', 'lines')}</strong> of {formatNumber(look.records)} could not be taken.
          {look.known > 0 &&
            ` ${countOf(look.known, 'event is', 'events are')} known already and would have no effect.`}{' '}
          Nothing has been written yet.
        </p>
        {look.problem && <Alert severity="warning">{look.problem}</Alert>}
        {plan.format !== 'jsonl' &&
          look.mends.map((mend) => (
            <div key={`${mend.column} ${JSON.stringify(mend.to)}`} className="row wrap">
              <Button
                variant="outlined"
                disabled={busy}
                onClick={() => onReadAs(withColumn(plan, mend.column, mend.to))}
              >
                Read “{plan.header[mend.column]}” as {readingWords(mend.to)}
              </Button>
              <span className="soft">{mendWords(mend, look.rejected)}</span>
            </div>
          ))}
        <div className="row wrap">
          <Button variant="contained" disabled={busy || good === 0} onClick={onGoOn}>
            {good === 0 ? 'No line can be taken' : `Take the other ${formatNumber(good)}`}
          </Button>
          {plan.format !== 'jsonl' && !draft && (
            <Button variant="outlined" onClick={() => setDraft(plan)}>
              Change how it is read …
            </Button>
          )}
          <Button disabled={busy} onClick={onDrop}>
            Take nothing of it
          </Button>
        </div>
      </section>
      {draft && draft.format !== 'jsonl' && (
        <section className="sheet pad stack">
          <ColumnsEditor plan={draft} rows={look.rows} onPlan={setDraft} />
          {problems.map((text) => (
            <p key={text} className="caution">
              {text}
            </p>
          ))}
          <div className="row">
            <Button onClick={() => setDraft(null)}>Leave it as it was</Button>
            <Button variant="contained" disabled={busy || problems.length > 0} onClick={() => onReadAs(draft)}>
              Look through it again
            </Button>
          </div>
        </section>
      )}
      <ReasonTable title="Could not be taken" reasons={look.reasons} />
    </>
  )
}

function mendWords({ lines, of, broken }: PlanMend, rejected: number): string {
  const among = rejected > of ? ` of the first ${formatNumber(of)}` : ''
  const mended = lines === of && among === '' ? 'mends all of them' : `mends ${formatNumber(lines)}${among}`
  return broken === 0 ? mended : `${mended}; ${countOf(broken, 'other line', 'other lines')} would be wrong then`
}
