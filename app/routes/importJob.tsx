import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import { useEffect } from 'react'
import { Link, useFetcher, useRevalidator } from 'react-router'
import { formatDuration, formatNumber } from '../../core/words/format.js'
import { TakeBackButton, TakenList } from '../catalog/TakeBack.js'
import { dowser, orMissing } from '../door/dowser.server.js'
import type { Route } from './+types/importJob'

export function loader({ params }: Route.LoaderArgs) {
  const job = orMissing(() => dowser().imports.get(params.importId))
  return {
    job: { ...job, plan: undefined, path: undefined },
    reasons: dowser().imports.reasons(job.id),
    taken: dowser().takeBack.ofImport(job.id),
  }
}

export async function action({ params }: Route.ActionArgs) {
  await dowser().stopImport(params.importId)
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
  const { job, reasons, taken } = loaderData
  const { revalidate } = useRevalidator()
  const fetcher = useFetcher()
  const going = job.state === 'running' || job.state === 'waiting'
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
        {HEADS[job.state]}: {job.file}
      </h1>
      <section className="sheet pad stack" aria-live="polite">
        {going && (
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
        <p data-import-result={job.state}>
          <strong>{formatNumber(job.accepted)}</strong> events taken · <strong>{formatNumber(job.duplicates)}</strong>{' '}
          known already, without effect · <strong>{formatNumber(job.rejected)}</strong> lines not taken
        </p>
        {job.problem && <Alert severity="warning">{job.problem}</Alert>}
        {taken && <TakenList taken={[taken]} />}
        <div className="row">
          {going && (
            <fetcher.Form method="post">
              <Button type="submit" variant="outlined">
                Stop here
              </Button>
            </fetcher.Form>
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
      {reasons.length > 0 && (
        <section className="sheet">
          <div className="pad-head row between">
            <h2 className="overline">Not taken</h2>
            <Button component="a" href={`/download/rejected/${job.id}`} download>
              Download these lines
            </Button>
          </div>
          <div className="table-scroll" tabIndex={0} role="region" aria-label="Lines not taken">
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
                {reasons.map(({ reason, lines, first }) => (
                  <tr key={reason}>
                    <td className="wrap">{reason}</td>
                    <td className="number">{formatNumber(lines)}</td>
                    <td className="number">{formatNumber(first)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </section>
      )}
    </main>
  )
}
