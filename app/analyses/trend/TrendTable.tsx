import { useEffect, useRef, type KeyboardEvent, type MouseEvent } from 'react'
import { comparedBuckets } from '../../../core/analyses/trend/compare.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import type { TrendResult, TrendRow } from '../../../core/analyses/trend/finish.js'
import { groupId, type Mark } from '../../../core/questions/parts.js'
import { formatChange, MISSING } from '../../../core/words/format.js'
import { propertyWords, type Words } from '../../../core/words/words.js'
import { bucketLabel, canShare, chartSeries, formatValue } from '../../charts/trendSeries.js'
import { arrowMove } from '../../ui/arrows.js'

interface TrendTableProps {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected?: readonly Mark[]
  onSelect?: (mark: Mark, add: boolean) => void
}

/** The numbers themselves. A cell gives the people counted in it. */
export function TrendTable({ result, question, words, selected = [], onSelect }: TrendTableProps) {
  const series = chartSeries(result, question, words)
  const grouped = result.groups.length > 0
  const asShare = question.show.as === 'share' && canShare(question)
  const scroll = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // The newest buckets are what one looks for first.
    if (scroll.current) scroll.current.scrollLeft = scroll.current.scrollWidth
  }, [result.buckets.length])

  const compared = comparedBuckets(result.buckets, question.every)
  const changeOf = (values: readonly (number | null)[]) => {
    const first = compared && values[compared.first]
    const last = compared && values[compared.last]
    return !first || last === null ? null : last / first - 1
  }
  const ids = new Set(
    selected.map((mark) => (mark.kind === 'point' ? `${groupId(mark.group)} ${mark.bucket ?? ''}` : '')),
  )
  // A table of days has hundreds of cells: they are plain cells of a grid, and the table hears for all of them.
  const cell = (row: TrendRow, value: number | null, bucket?: string, soft = false) => {
    const id = `${groupId(row.key ?? undefined)} ${bucket ?? ''}`
    const chosen = ids.has(id)
    const open = onSelect !== undefined && value !== null && value !== 0
    return (
      <td
        key={bucket ?? 'all'}
        className={`number${chosen ? ' chosen' : ''}${soft ? ' soft' : ''}${open ? ' pressable' : ''}`}
        {...(open
          ? { tabIndex: !bucket && row === series[0]?.row ? 0 : -1, 'aria-selected': chosen, 'data-cell': id }
          : {})}
      >
        {formatValue(value, question)}
      </td>
    )
  }
  const select = (target: EventTarget, add: boolean): boolean => {
    const id = (target as HTMLElement).closest('td')?.dataset.cell
    if (!onSelect || id === undefined) return false
    for (const row of [...result.groups, result.all])
      for (const bucket of [undefined, ...result.buckets.map(({ key }) => key)]) {
        if (`${groupId(row.key ?? undefined)} ${bucket ?? ''}` !== id) continue
        onSelect({ kind: 'point', ...(bucket ? { bucket } : {}), ...(row.key ? { group: row.key } : {}) }, add)
      }
    return true
  }
  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    if ((event.key === 'Enter' || event.key === ' ') && select(event.target, event.shiftKey || event.ctrlKey))
      event.preventDefault()
    else moveInTable(event)
  }
  const line = (row: TrendRow, label: string, values: readonly (number | null)[], index: number | null) => {
    const change = changeOf(values)
    return (
      <tr key={groupId(row.key ?? undefined)} className={index === null ? 'all-row' : ''}>
        <th scope="row">
          <span className="row-name">
            {index !== null && (
              <i
                style={{ background: row.key && 'rest' in row.key ? 'var(--series-7)' : `var(--series-${index % 8})` }}
              />
            )}
            {label}
          </span>
        </th>
        {cell(row, asShare ? (result.all.total ? (row.total ?? 0) / result.all.total : null) : row.total)}
        <td className={`number ${change === null ? '' : change > 0 ? 'gain' : change < 0 ? 'loss' : ''}`}>
          {change === null ? MISSING : formatChange(change)}
        </td>
        {result.buckets.map((bucket, b) => cell(row, values[b], bucket.key, bucket.open || bucket.cut))}
      </tr>
    )
  }
  return (
    <div
      className="table-scroll"
      ref={scroll}
      tabIndex={0}
      role="region"
      aria-label="Table of the numbers"
      data-table=""
    >
      <table
        className="numbers"
        role={onSelect ? 'grid' : undefined}
        aria-multiselectable={onSelect ? true : undefined}
        onKeyDown={onKey}
        onClick={(event: MouseEvent) => select(event.target, event.shiftKey || event.ctrlKey || event.metaKey)}
      >
        <thead>
          <tr>
            <th scope="col">{grouped ? propertyWords(question.breakdowns![0].by, words) : 'Event'}</th>
            <th scope="col" className="number">
              Whole time
            </th>
            <th
              scope="col"
              className="number"
              title={
                compared
                  ? `Last full ${question.every} against ${compared.last - compared.first} ${question.every}s before`
                  : undefined
              }
            >
              Change
            </th>
            {result.buckets.map(({ key, open, cut }) => (
              <th
                scope="col"
                className="number"
                key={key}
                title={open ? 'still open' : cut ? 'cut by the time asked about' : undefined}
              >
                {bucketLabel(key, question.every, words)}
                {open && <small> so far</small>}
                {cut && !open && <small> in part</small>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {series.map(({ row, label, values }, index) => line(row, label, values, index))}
          {grouped && !asShare && line(result.all, 'All together', result.all.values, null)}
        </tbody>
      </table>
    </div>
  )
}

/** Arrow keys go from cell to cell. */
export function moveInTable(event: KeyboardEvent<HTMLTableElement>): void {
  const move = arrowMove(event.key)
  const here = (event.target as HTMLElement).closest('td')
  if (!move || !here) return
  const row = here.parentElement as HTMLTableRowElement
  const rows = [...event.currentTarget.tBodies[0].rows]
  let r = rows.indexOf(row)
  let c = here.cellIndex
  for (;;) {
    r += move[0]
    c += move[1]
    const next = rows[r]?.cells[c]
    if (!next) return
    const button = next.matches('[data-cell]') ? next : next.querySelector<HTMLElement>('[data-cell]')
    if (button) {
      event.preventDefault()
      return button.focus()
    }
  }
}
