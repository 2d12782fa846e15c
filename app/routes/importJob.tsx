import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import { useEffect } from 'react'
import { data, Link, useFetcher, useRevalidator } from 'react-router'
import { z } from 'zod'
import { formatDuration, formatNumber, joinWords } from '../../core/words/format.js'
import { LookResult } from '../import/LookResult.js'
import { ReasonTable } from '../import/ReasonTable.js'
import { importPlanSchema, planProblems } from '../door/dowser.shared.js'
import { TakeBackButton, TakenList } from '../catalog/TakeBack.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import type { Route } from './+types/importJob'

export function loader({ params }: Route.LoaderArgs) {
  const job = orMissing(() => dowser().imports.get(params.importId))
  return {
    job: { ...job, plan: undefined, path: undefined },
    plan: job.plan,
    known: dowser().imports.knownAt(job.id, KNOWN_NAMED),
    reasons: dowser().imports.reasons(job.id),
    taken: dowser().takeBack.ofImport(job.id),
  }
}

const KNOWN_NAMED = 12

const wordSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('stop') }),
  z.strictObject({ do: z.literal('go on') }),
  z.strictObject({ do: z.literal('drop') }),
  z.strictObject({ do: z.literal('read as'), plan: importPlanSchema }),
])
type Word = z.infer<typeof wordSchema>

export async function action({ params, request }: Route.ActionArgs) {
  const word = wordSchema.safeParse(await request.json().catch(() => null))
  const id = orMissing(() => dowser().imports.get(params.importId)).id
  if (!word.success) return data({ problem: 'That was not understood.' }, { status: 400 })
  switch (word.data.do) {
    case 'stop':
      await dowser().stopImport(id)
      break
    case 'go on':
      await dowser().goOnWithImport(id)
      break
    case 'drop':
      await dowser().dropImport(id)
      break
    case 'read as':
      if (planProblems(word.data.plan).length === 0) await dowser().readImportAs(id, word.data.plan)
  }
  return null
}

export const meta = ({ loaderData }: Route.MetaArgs) => [{ title: `${loaderData?.job.file ?? 'Import'} · Dowser` }]

const HEADS = {
  waiting: 'Waiting for its turn',
  running: 'Importing',
  done: 'Imported',
  failed: 'Ended early',
  stopped: 'Stopped',
}

export default function ImportJobRoute({ loaderData }: Route.ComponentProps) {
  const { job, plan, reasons, known, taken } = loaderData
  const { revalidate } = useRevalidator()
  const fetcher = useFetcher()
  const say = (word: Word) => void fetcher.submit(word as never, { method: 'post', encType: 'application/json' })
  const asking = job.held && job.looked !== null && job.state === 'waiting'
  const looking = job.held && job.looked === null && job.state === 'waiting'
  const going = !asking && (job.state === 'running' || job.state === 'waiting')
  useEffect(() => {
    if (!going) return
    const timer = setInterval(() => void revalidate(), 500)
    return () => clearInterval(timer)
  }, [going, revalidate])
  const rate = job.spentMs > 0 ? Math.round(job.records / (job.spentMs / 1000)) : 0
  const left = job.bytesRead > 0 ? (job.bytes / job.bytesRead - 1) * job.spentMs : null
  return (
    <main className="page narrow">
      <h1 className="question">
        {asking ? 'Look at this first' : looking ? 'Looking through' : HEADS[job.state]}: {job.file}
      </h1>
      {!asking && (
        <section className="sheet pad stack" aria-live="polite">
          {looking && (
            <>
              <LinearProgress aria-label="Looking through the file" />
              <p>Each line is looked at before anything is written.</p>
            </>
          )}
          {going && !looking && (
            <>
              <LinearProgress
                variant="determinate"
                aria-label="Imported"
                value={Math.min(100, (100 * job.bytesRead) / Math.max(1, job.bytes))}
              />
              <p>
                {formatNumber(job.records)} lines so far, {formatNumber(rate)} a second
                {left !== null && `, about ${formatDuration(left)} left`}. It goes on when this page is closed.
              </p>
            </>
          )}
          <p data-import-result={job.state} hidden={looking}>
            <strong>{formatNumber(job.accepted)}</strong> events taken · <strong>{formatNumber(job.duplicates)}</strong>{' '}
            known already, without effect · <strong>{formatNumber(job.rejected)}</strong> lines not taken
          </p>
          {job.problem && <Alert severity="warning">{job.problem}</Alert>}
          {taken && <TakenList taken={[taken]} />}
          <div className="row">
            {going && (
              <Button variant="outlined" onClick={() => say({ do: 'stop' })}>
                Stop here
              </Button>
            )}
            {!going && (
              <>
                <Button variant="contained" component={Link} to="/studies/new?kind=trend">
                  Start a trend
                </Button>
                <Button variant="outlined" component={Link} to="/import">
                  Another file
                </Button>
                {!taken && job.accepted > 0 && (
                  <TakeBackButton what={`what ${job.file} brought`} choice={{ of: 'import', id: job.id }}>
                    Take it back …
                  </TakeBackButton>
                )}
              </>
            )}
          </div>
        </section>
      )}
      {asking && (
        <LookResult
          look={job.looked!}
          plan={plan}
          busy={fetcher.state !== 'idle'}
          onGoOn={() => say({ do: 'go on' })}
          onDrop={() => say({ do: 'drop' })}
          onReadAs={(next) => say({ do: 'read as', plan: next })}
        />
      )}
      {reasons.length > 0 && (
        <ReasonTable
          title="Not taken"
          reasons={reasons}
          action={
            <Button component="a" href={`/download/rejected/${job.id}`} download>
              Download these lines
            </Button>
          }
        />
      )}
      {known.count > 0 && (
        <section className="sheet pad">
          <div className="row between">
            <h2 className="overline">Known already</h2>
            <Button component="a" href={`/download/known/${job.id}`} download>
              Download these lines
            </Button>
          </div>
          <p>
            {known.count === 1 ? 'Line' : 'Lines'}{' '}
            {joinWords(
              known.first.map((line) => formatNumber(line)),
              'and',
            )}
            {known.count > known.first.length && ' and others'}: their ids are there, so they had no effect.
          </p>
        </section>
      )}
    </main>
  )
}
