import { isSides } from '../../../core/questions/groupedBy.js'
import { groupId } from '../../../core/questions/groupId.js'
import type { MouseEvent } from 'react'
import type { FunnelQuestion } from '../../../core/analyses/funnel/question.js'
import type { Difference, FunnelResult, FunnelRow } from '../../../core/analyses/funnel/finish.js'
import { hasMark } from '../../../core/questions/marks.js'
import type { FunnelMark } from '../../../core/analyses/funnel/marks.js'
import { capital, formatDuration, formatNumber, formatPercent, formatPoints } from '../../../core/words/format.js'
import { compareWords, eventWords, groupWords, splitsHead, type Words } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import type { BodyProps } from '../view.js'
import { OverTable } from './OverTable.js'

/** The funnel's numbers: by time where it is looked at over time, by group where there are groups, by step otherwise. */
export function FunnelTable(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  if (props.result.over) return <OverTable {...props} over={props.result.over} />
  return props.result.groups.length > 0 ? <ByGroup {...props} /> : <ByStep {...props} />
}

function useCells({ selected, onSelect }: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  return (row: FunnelRow, step: number, what: 'reached' | 'lost', value: number, more: CellMore = {}) => {
    const mark: FunnelMark = {
      ...{ kind: 'step', step, what },
      ...(row.key ? { group: row.key } : {}),
      ...(more.before ? { before: true } : {}),
    }
    const chosen = hasMark(selected, mark)
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
        {more.after && <span className="soft">{more.after}</span>}
      </td>
    )
  }
}

interface CellMore {
  /** of the time it is compared with */
  before?: boolean
  /** said after the number */
  after?: string
}

function ByGroup(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
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
      <DifferenceCell difference={row.difference} />
    </tr>
  )
  const bySides = isSides(question.breakdowns)
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table of the numbers" data-table="">
      <table className="numbers" onKeyDown={moveInTable}>
        <thead>
          <tr>
            <th scope="col">{splitsHead(question.breakdowns!, words)}</th>
            {question.steps.map((step, i) => (
              <PeopleAndRateHead key={i} name={`${i + 1} ${eventWords(step.event, words)}`} rate={i > 0} />
            ))}
            <th scope="col" className="number">
              95 % interval
            </th>
            <th scope="col" className="number">
              Median time
            </th>
            <th scope="col" className="number" title={differenceTitle(question, result, words)}>
              {bySides ? `Against ${groupWords(result.groups[0].key!)}` : 'Against the others'}, 95 %
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

function differenceTitle(question: FunnelQuestion, { comparedFrom }: FunnelResult, words: Words): string {
  const way = comparedFrom > 0 ? `way from ${eventWords(question.steps[comparedFrom].event, words)}` : 'whole way'
  return `Difference of the ${way}, with its 95 % interval`
}

/** Points of difference with their interval, and a word where the test says that they may be noise. */
function DifferenceCell({ difference }: { difference: Difference | null }) {
  if (!difference) return <td className="number soft">–</td>
  const { by, interval, p } = difference
  const sure = p !== null && p < 0.05
  const range = interval ? ` (${signed(interval.low)} to ${signed(interval.high)})` : ''
  return (
    <td
      className={`number ${sure ? (by > 0 ? 'gain' : 'loss') : 'soft'}`}
      title={p === null ? '' : `p = ${p < 0.001 ? 'under 0.001' : p.toFixed(3)}, adjusted`}
    >
      {formatPoints(by)}
      {range}
      {!sure && ', may be noise'}
    </td>
  )
}

function signed(x: number): string {
  return `${x < 0 ? '−' : '+'}${Math.abs(x * 100).toFixed(1)}`
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

/** The same step in the time it is compared with: how many, and of the start. */
function Before(props: { row: FunnelRow; step: number; cell: ReturnType<typeof useCells> }) {
  const { row, step, cell } = props
  const { people, ofStart } = row.steps[step]
  return cell(row, step, 'reached', people, { before: true, after: ` · ${formatPercent(ofStart)}` })
}

function ByStep(props: BodyProps<FunnelQuestion, FunnelResult, FunnelMark>) {
  const { question, result, words } = props
  const { before } = result
  const cell = useCells(props)
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Table of the numbers" data-table="">
      <table className="numbers" onKeyDown={moveInTable}>
        <thead>
          <tr>
            <th scope="col">Step</th>
            <th scope="col" className="number">
              {result.counts === 'people' ? 'People' : 'Attempts'}
            </th>
            <th scope="col" className="number">
              Of the start
            </th>
            <th scope="col" className="number">
              95 % interval
            </th>
            {before && (
              <th scope="col" className="number">
                {capital(compareWords(question.compare!, words))}
              </th>
            )}
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
              {before && <Before row={before.all} step={i} cell={cell} />}
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
