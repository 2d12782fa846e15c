import { own } from '../../core/names.js'
import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import { useRef, useState, type DragEvent } from 'react'
import { Link, useNavigate } from 'react-router'
import { formatMoment, formatNumber, formatPercent } from '../../core/words/format.js'
import { planProblems, type ImportPlan, type Preview, type TablePlan } from '../door/dowser.shared.js'
import { dowser } from '../door/dowser.server.js'
import { ColumnsEditor } from '../import/ColumnsEditor.js'
import { useWorkspace } from '../page/workspace.js'
import type { Route } from './+types/import'

export function loader() {
  return dowser().imports.recent()
}

export const meta = () => [{ title: 'Bring in a file · Dowser' }]

const PIECE = 524_288
/** The server looks at a file's beginning; of a Parquet file, whose columns stand at its end, the page reads the rows. */
async function askForPreview(file: File): Promise<Response> {
  const mark = await file.slice(0, 4).text()
  if (mark !== 'PAR1') return fetch('/import/preview', { method: 'POST', body: file.slice(0, PIECE) })
  const { readParquetStart } = await import('../import/parquet.js')
  const start = await readParquetStart(file).catch((error: Error) => ({ problem: error.message }))
  if ('problem' in start)
    return Response.json({ problem: `it is not a whole Parquet file (${start.problem}). Get it again.` })
  return fetch('/import/preview?of=table', { method: 'POST', body: JSON.stringify(start) })
}

type GoodPreview = Exclude<Preview, { problem: string }>
type Stage =
  | { at: 'choose'; problem?: string }
  | { at: 'look'; file: File; preview: GoodPreview; plan: ImportPlan; problem?: string }
  | { at: 'send'; file: File; sent: number }

const STATES = { waiting: 'waiting', running: 'running', done: 'done', failed: 'ended early', stopped: 'stopped' }

export default function Import({ loaderData }: Route.ComponentProps) {
  const [stage, setStage] = useState<Stage>({ at: 'choose' })
  const { zone, thisYear } = useWorkspace()
  const navigate = useNavigate()

  const look = async (file: File) => {
    const response = await askForPreview(file).catch(() => null)
    if (!response?.ok)
      return setStage({ at: 'choose', problem: 'The file could not be looked at. Is the server still there?' })
    const preview = (await response.json()) as Preview
    if ('problem' in preview) setStage({ at: 'choose', problem: `${file.name}: ${preview.problem}` })
    else setStage({ at: 'look', file, preview, plan: preview.plan })
  }
  const send = (file: File, plan: ImportPlan, preview: GoodPreview) => {
    setStage({ at: 'send', file, sent: 0 })
    // fetch cannot tell how much of a body has been sent.
    const request = new XMLHttpRequest()
    const fail = (problem: string) => setStage({ at: 'look', file, preview, plan, problem })
    request.open(
      'PUT',
      `/import/upload?${new URLSearchParams({ plan: JSON.stringify(plan), name: file.name }).toString()}`,
    )
    request.upload.onprogress = (event) => setStage({ at: 'send', file, sent: event.loaded })
    request.onerror = () => fail('The file could not be sent. Nothing of it was taken.')
    request.onload = () => {
      const answer = JSON.parse(request.responseText) as { id?: string; problem?: string }
      if (answer.id) void navigate(`/import/${answer.id}`)
      else fail(answer.problem ?? 'The file could not be taken.')
    }
    request.send(file)
  }
  return (
    <main className="page">
      <h1 className="question">Bring in a file</h1>
      {stage.at === 'choose' && <Choose problem={stage.problem} onFile={(file) => void look(file)} />}
      {stage.at === 'look' && (
        <Look
          {...stage}
          onPlan={(plan) => setStage({ ...stage, plan })}
          onCancel={() => setStage({ at: 'choose' })}
          onSend={() => send(stage.file, stage.plan, stage.preview)}
        />
      )}
      {stage.at === 'send' && (
        <section className="sheet pad stack">
          <p>
            Sending <strong>{stage.file.name}</strong>: {formatPercent(stage.sent / Math.max(1, stage.file.size), 0)}.
            Keep this page open until it is sent; the import itself goes on without it.
          </p>
          <LinearProgress
            variant="determinate"
            aria-label="Sent"
            value={(100 * stage.sent) / Math.max(1, stage.file.size)}
          />
        </section>
      )}
      {stage.at === 'choose' && loaderData.length > 0 && (
        <section className="sheet list">
          <h2 className="overline pad-head">Earlier imports</h2>
          <ul>
            {loaderData.map((job) => (
              <li key={job.id}>
                <div className="list-main">
                  <Link className="list-name" to={`/import/${job.id}`}>
                    {job.file}
                  </Link>
                  <span className="list-question">
                    {formatNumber(job.accepted)} taken, {formatNumber(job.duplicates)} known already,{' '}
                    {formatNumber(job.rejected)} lines not taken
                  </span>
                </div>
                <span className="soft">{STATES[job.state]}</span>
                <span className="soft list-when">{formatMoment(job.createdMs, zone, thisYear)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  )
}

function Choose({ problem, onFile }: { problem: string | undefined; onFile: (file: File) => void }) {
  const input = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const onDrop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    const file = event.dataTransfer.files[0]
    if (file) onFile(file)
  }
  return (
    <>
      {problem && <Alert severity="error">{problem}</Alert>}
      <section
        className={`sheet drop${over ? ' over' : ''}`}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={onDrop}
      >
        <p>Drop a file here, or choose one.</p>
        <Button variant="contained" onClick={() => input.current?.click()}>
          Choose a file
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          data-file=""
          aria-label="File"
          accept=".jsonl,.ndjson,.json,.csv,.tsv,.txt,.gz,.parquet"
          onChange={(event) => {
            const file = event.target.files?.[0]
            if (file) onFile(file)
            event.target.value = ''
          }}
        />
        <p className="soft">
          Events, people, or things with dates, as CSV, TSV, JSON, JSON Lines (also packed with gzip) or Parquet. You
          see its first rows before anything is taken.
        </p>
      </section>
    </>
  )
}

function Look(props: {
  file: File
  preview: GoodPreview
  plan: ImportPlan
  problem?: string
  onPlan: (plan: TablePlan) => void
  onCancel: () => void
  onSend: () => void
}) {
  const { file, preview, plan, problem, onPlan, onCancel, onSend } = props
  const problems = planProblems(plan)
  return (
    <section className="sheet pad stack">
      <p>
        <strong>{file.name}</strong>, {formatNumber(Math.ceil(file.size / 1024))} KB, is {formatWords(plan)}
        {plan.gzip ? ', packed with gzip' : ''}
        {plan.format === 'parquet' ? '' : `, ${plan.encoding.toUpperCase()}`}.
        {'remembered' in preview && preview.remembered && ' It is read as the last file of this shape was.'}
      </p>
      {problem && <Alert severity="error">{problem}</Alert>}
      {plan.format !== 'jsonl' && 'rows' in preview && (
        <ColumnsEditor plan={plan} rows={preview.rows} onPlan={onPlan} />
      )}
      {'lines' in preview && (
        <pre className="lines" tabIndex={0}>
          {preview.lines.slice(0, 10).join('\n')}
        </pre>
      )}
      {problems.map((text) => (
        <p key={text} className="caution">
          {text}
        </p>
      ))}
      <div className="row">
        <Button onClick={onCancel}>Another file</Button>
        <Button variant="contained" disabled={problems.length > 0} onClick={onSend}>
          Import
        </Button>
      </div>
    </section>
  )
}

function formatWords(plan: ImportPlan): string {
  if (plan.format === 'csv') return `a table with ${own(DELIMITERS, plan.delimiter) ?? plan.delimiter} between columns`
  if (plan.format === 'parquet') return 'Parquet'
  return plan.array ? 'one JSON array' : 'JSON Lines'
}

const DELIMITERS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }
