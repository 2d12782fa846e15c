import { formatMoment, formatNumber } from '../../core/words/format.js'
import type { SyncRun } from '../../server/index.js'
import { useWorkspace } from '../page/workspace.js'

const STATES = { sending: 'being sent', done: 'done', failed: 'not all taken' } as const

/** What each look brought: who was added, taken out, left as they are. */
export function RunTable({ runs }: { runs: readonly SyncRun[] }) {
  const { zone, thisYear } = useWorkspace()
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Looks">
      <table className="catalog-table run-table">
        <thead>
          <tr>
            <th scope="col">Looked</th>
            <th scope="col" className="number">
              Added
            </th>
            <th scope="col" className="number">
              Taken out
            </th>
            <th scope="col" className="number">
              Brought up to date
            </th>
            <th scope="col" className="number">
              The same
            </th>
            <th scope="col" className="number">
              Kept out
            </th>
            <th scope="col" className="number">
              Failed
            </th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          {runs.map((run) => (
            <tr key={run.id}>
              <td>{formatMoment(run.startedMs, zone, thisYear)}</td>
              <td className="number">{ofAll(run.added, run.toAdd, run.state)}</td>
              <td className="number">{ofAll(run.removed, run.toRemove, run.state)}</td>
              <td className="number">{ofAll(run.updated, run.toUpdate, run.state)}</td>
              <td className="number">{formatNumber(run.same)}</td>
              <td className="number">{formatNumber(run.keptOut)}</td>
              <td className={run.failed > 0 ? 'number loss' : 'number'}>{formatNumber(run.failed)}</td>
              <td>
                <span className={run.state === 'failed' ? 'loss' : ''}>{STATES[run.state]}</span>
                <RunNotes run={run} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** While it is on its way: how many of how many. */
const ofAll = (taken: number, all: number, state: SyncRun['state']): string =>
  state === 'sending' && all > 0 ? `${formatNumber(taken)} of ${formatNumber(all)}` : formatNumber(taken)

function RunNotes({ run: { retried, dropped, why, state } }: { run: SyncRun }) {
  const notes = [
    retried > 0 && `${formatNumber(retried)} ${retried === 1 ? 'call' : 'calls'} made again`,
    dropped > 0 && `${formatNumber(dropped)} no longer so when they were to go`,
    state !== 'done' && why,
  ].filter((note) => typeof note === 'string')
  return notes.length > 0 ? <small className="soft run-notes">{notes.join('; ')}</small> : null
}
