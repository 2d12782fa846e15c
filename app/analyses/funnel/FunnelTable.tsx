import type { MouseEvent } from 'react'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { FunnelResult, FunnelRow } from '../../../core/analyses/funnel/finish.js'
import { groupId, type Mark } from '../../../core/questions/parts.js'
import { formatDuration, formatNumber, formatPercent } from '../../../core/words/format.js'
import { eventWords, groupWords, splitHead } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import type { BodyProps } from '../view.js'

/** The funnel's numbers: by group where there are groups, by step otherwise. */
export function FunnelTable(props: BodyProps<FunnelQuestion, FunnelResult>) {
  return props.result.groups.length > 0 ? <ByGroup {...props} /> : <ByStep {...props} />
}

function useCells({ selected, onSelect }: BodyProps<FunnelQuestion, FunnelResult>) {
  return (row: FunnelRow, step: number, what: 'reached' | 'lost', value: number) => {
    const mark: Mark = { kind: 'step', step, what, ...(row.key ? { group: row.key } : {}) }
    const chosen = selected.some((other) => JSON.stringify(other) === JSON.stringify(mark))
    return (
      <td className={`number${chosen ? ' chosen' : ''}`}>
        {onSelect && value > 0 ? (
          <button
            type="button"
            data-cell=""
            aria-pressed={chosen}
            onClick={(e: MouseEvent) => onSelect(mark, e.shiftKey || e.ctrlKey || e.metaKey)}
          >
            {formatNumber(value)}
          </button>
        ) : (
          formatNumber(value)
        )}
      </td>
    )
  }
}

function ByGroup(props: BodyProps<FunnelQuestion, FunnelResult>) {
  const { question, result, words } = props
  const cell = useCells(props)
  const line = (row: FunnelRow) => (
    <tr key={groupId(row.key ?? undefined)} className={row.key ? '' : 'all-row'}>
      <th scope="row">{row.key ? groupWords(row.key, result.rest) : 'All together'}</th>
      {row.steps.map((step, i) => (
        <PeopleAndRate
          key={i}
          cell={cell(row, i, 'reached', step.people)}
          rate={i === 0 ? null : formatPercent(step.ofStart)}
        />
      ))}
      <td className="number soft">{intervalText(row.steps.at(-1)!.ofStartInterval)}</td>
      <td className="number soft">{formatDuration(row.steps.at(-1)!.fromEntry.median)}</td>
    </tr>
  )
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table of the numbers" data-table="">
      <table className="numbers" onKeyDown={moveInTable}>
        <thead>
          <tr>
            <th scope="col">{splitHead(question.breakdowns![0].by, words)}</th>
            {question.steps.map((step, i) => (
              <PeopleAndRateHead key={i} name={`${i + 1} ${eventWords(step.event, words)}`} rate={i > 0} />
            ))}
            <th scope="col" className="number">
              95 % interval
            </th>
            <th scope="col" className="number">
              Median, whole way
            </th>
          </tr>
        </thead>
        <tbody>
          {result.groups.map(line)}
          {line(result.all)}
        </tbody>
      </table>
    </div>
  )
}

function PeopleAndRate({ cell, rate }: { cell: React.ReactNode; rate: string | null }) {
  return (
    <>
      {cell}
      {rate !== null && <td className="number soft">{rate}</td>}
    </>
  )
}

function PeopleAndRateHead({ name, rate }: { name: string; rate: boolean }) {
  return (
    <>
      <th scope="col" className="number">
        {name}
      </th>
      {rate && (
        <th scope="col" className="number">
          of start
        </th>
      )}
    </>
  )
}

function intervalText(interval: { low: number; high: number } | null): string {
  return interval ? `${(interval.low * 100).toFixed(1)} – ${(interval.high * 100).toFixed(1)} %` : '–'
}

function ByStep(props: BodyProps<FunnelQuestion, FunnelResult>) {
  const { question, result, words } = props
  const cell = useCells(props)
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table of the numbers" data-table="">
      <table className="numbers" onKeyDown={moveInTable}>
        <thead>
          <tr>
            <th scope="col">Step</th>
            <th scope="col" className="number">
              People
            </th>
            <th scope="col" className="number">
              Of the start
            </th>
            <th scope="col" className="number">
              95 % interval
            </th>
            <th scope="col" className="number">
              Of the step before
            </th>
            <th scope="col" className="number">
              Lost here
            </th>
            <th scope="col" className="number">
              Median time
            </th>
            <th scope="col" className="number">
              Mean time
            </th>
            <th scope="col" className="number">
              1 in 10 under
            </th>
            <th scope="col" className="number">
              9 in 10 under
            </th>
            <th scope="col" className="number">
              Median from the start
            </th>
          </tr>
        </thead>
        <tbody>
          {result.all.steps.map((step, i) => (
            <tr key={i}>
              <th scope="row">
                {i + 1} {question.steps[i] ? eventWords(question.steps[i].event, words) : ''}
              </th>
              {cell(result.all, i, 'reached', step.people)}
              <td className="number">{formatPercent(step.ofStart)}</td>
              <td className="number soft">{intervalText(step.ofStartInterval)}</td>
              <td className="number">{i === 0 ? '–' : formatPercent(step.ofPrevious)}</td>
              {i === result.all.steps.length - 1 ? (
                <td className="number">–</td>
              ) : (
                cell(result.all, i, 'lost', step.lost)
              )}
              <td className="number soft">{formatDuration(step.fromPrevious.median)}</td>
              <td className="number soft">{formatDuration(step.fromPrevious.mean)}</td>
              <td className="number soft">{formatDuration(step.fromPrevious.p10)}</td>
              <td className="number soft">{formatDuration(step.fromPrevious.p90)}</td>
              <td className="number soft">{formatDuration(step.fromEntry.median)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
