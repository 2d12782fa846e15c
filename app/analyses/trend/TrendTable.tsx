import { FindField } from '../../ui/FindField.js'
import { canStack } from '../../charts/canStack.js'
import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward'
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward'
import PushPinIcon from '@mui/icons-material/PushPin'
import PushPinOutlinedIcon from '@mui/icons-material/PushPinOutlined'
import { Suspense, useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react'
import { contributionsOf } from '../../../core/analyses/trend/contribution.js'
import { comparedBuckets } from '../../../core/time/comparison.js'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import { shownAll, visibleLines } from '../../../core/analyses/trend/shown.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import { formatAs, formatChange, formatPercent, MISSING } from '../../../core/words/format.js'
import { splitsHead, type Words } from '../../../core/words/words.js'
import { allLines, formatValue, markOf, type ChartLine } from '../../charts/trendSeries.js'
import { bucketLabel } from '../../charts/bucketLabel.js'
import { heatStyle } from './heat.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { deferred } from '../../page/deferred.js'
import { seriesVar } from '../../look/palette.js'

const TableTools = deferred(async () => (await import('./TableTools.js')).TableTools)

interface TrendTableProps {
  result: TrendResult
  question: TrendQuestion
  words: Words
  edit?: (question: TrendQuestion) => void
  selected?: readonly TrendMark[]
  onSelect?: (mark: TrendMark, add: boolean) => void
}

/** By what the rows are sorted: a bucket by its place, or one of the first columns. */
interface Sorting {
  by: 'name' | 'total' | 'before' | 'difference' | 'change' | 'contribution' | number
  down: boolean
}

interface Row extends ChartLine {
  /** all groups of a line together */
  all: boolean
  change: number | null
  difference: number | null
  /** how much of the whole's change it is; null where that makes no sense */
  contribution: number | null
}

/** More rows than this can be searched. */
const SEARCH_FROM = 8

/** The numbers themselves, sorted as one likes. A cell gives the people counted in it; lines are taken out and put back. */
export function TrendTable({ result, question, words, edit, selected = [], onSelect }: TrendTableProps) {
  const [sorting, setSorting] = useState<Sorting | null>(null)
  const [search, setSearch] = useState('')
  const scroll = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // The newest buckets are what one looks for first.
    if (scroll.current) scroll.current.scrollLeft = scroll.current.scrollWidth
  }, [result.buckets.length])

  const compared = comparedBuckets(result.buckets, question.every)
  const rows = useMemo(() => rowsOf(result, question, words), [result, question, words])
  const { pinned } = question.show
  const shown = useMemo(() => arrange(rows, sorting, search, pinned), [rows, sorting, search, pinned])
  const off = new Set(question.show.off)
  const without = new Set(question.show.without)
  const many = rows.filter(({ all }) => !all).length
  const beside = result.beforeBuckets !== null
  const grouped = result.keys.length > 0
  const isChosen = amongMarks(selected)

  const toggle = (list: 'off' | 'pinned', id: string) => {
    const { [list]: before = [], ...show } = question.show
    const next = before.includes(id) ? before.filter((other) => other !== id) : [...before, id]
    edit?.({ ...question, show: next.length > 0 ? { ...show, [list]: next } : show })
  }
  // Shades compare what has the same unit, all together apart: it is always the largest.
  const kindOf = ({ unit, all }: Row) => `${unit} ${all}`
  const most = new Map<string, number>()
  if (question.show.heat)
    for (const row of rows)
      most.set(kindOf(row), Math.max(most.get(kindOf(row)) ?? 0, ...row.values.map((value) => value ?? 0)))
  const shaded = (column: string) => question.show.heat === true && /^\d/.test(column)
  const markOfCell = (row: Row, column: string): TrendMark => {
    if (column === 'all') return markOf(row)
    if (column === 'before') return markOf(row, undefined, true)
    return markOf(row, result.buckets[Number(column)].key)
  }
  // A table of days has hundreds of cells: they are plain cells of a grid, and the table hears for all of them.
  const cell = (row: Row, index: number, column: string, value: number | null, soft = false) => {
    const chosen = isChosen(markOfCell(row, column))
    const open = onSelect !== undefined && value !== null && value !== 0
    return (
      <td
        key={column}
        style={shaded(column) ? heatStyle(value, most.get(kindOf(row)) ?? 0) : undefined}
        className={`number${shaded(column) ? ' heat' : ''}${chosen ? ' chosen' : ''}${soft ? ' soft' : ''}${open ? ' pressable' : ''}`}
        {...(open
          ? {
              tabIndex: column === 'all' && index === 0 ? 0 : -1,
              'aria-selected': chosen,
              'data-cell': `${index} ${column}`,
            }
          : {})}
      >
        {formatValue(value, row, words)}
      </td>
    )
  }
  const select = (target: EventTarget, add: boolean): boolean => {
    const id = (target as HTMLElement).closest('td')?.dataset.cell
    if (!onSelect || id === undefined) return false
    const [index, column] = id.split(' ')
    onSelect(markOfCell(shown[Number(index)], column), add)
    return true
  }
  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    if ((event.key === 'Enter' || event.key === ' ') && select(event.target, event.shiftKey || event.ctrlKey))
      event.preventDefault()
    else moveInTable(event)
  }
  const sortBy = (by: Sorting['by']) =>
    setSorting((had) =>
      had?.by !== by ? { by, down: by !== 'name' } : had.down === (by !== 'name') ? { by, down: !had.down } : null,
    )
  const head = (by: Sorting['by'], label: string, more: { title?: string | undefined; note?: string } = {}) => (
    <th
      scope="col"
      key={String(by)}
      className={by === 'name' ? '' : 'number'}
      aria-sort={sorting?.by === by ? (sorting.down ? 'descending' : 'ascending') : undefined}
      title={more.title}
    >
      <button type="button" className="sort" onClick={() => sortBy(by)}>
        {sorting?.by === by &&
          (sorting.down ? <ArrowDownwardIcon fontSize="inherit" /> : <ArrowUpwardIcon fontSize="inherit" />)}
        {label}
        {more.note && <small> {more.note}</small>}
      </button>
    </th>
  )
  const explains = beside && grouped && canStack(question) && !without.has('contribution')
  const times = without.has('buckets') ? [] : result.buckets
  const tone = (x: number | null) => (x === null || x === 0 ? '' : x > 0 ? ' gain' : ' loss')
  return (
    <>
      {(edit !== undefined || many > SEARCH_FROM) && (
        <div className="table-bar">
          {many > SEARCH_FROM && <FindField label="Find a row" value={search} onChange={setSearch} />}
          {edit && (
            <Suspense>
              <TableTools question={question} beside={beside} edit={edit} />
            </Suspense>
          )}
        </div>
      )}
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
              {head('name', nameHead(question, words, grouped))}
              {!without.has('total') && head('total', 'Whole time')}
              {beside &&
                !without.has('before') &&
                head('before', 'Before', { title: 'In the time it is compared with' })}
              {beside && !without.has('difference') && head('difference', 'Difference')}
              {!without.has('change') &&
                head('change', beside ? 'In %' : 'Change', {
                  title: beside
                    ? 'The whole time against the time it is compared with'
                    : compared
                      ? `Last full ${question.every} against ${compared.last - compared.first} ${question.every}s before`
                      : undefined,
                })}
              {explains &&
                head('contribution', 'Of the change', { title: 'How much of the change of all together it explains' })}
              {times.map(({ key, open, cut, silent }, b) =>
                head(b, bucketLabel(key, question.every, words), {
                  title: silent
                    ? 'nothing arrived any more'
                    : open
                      ? 'still open'
                      : cut
                        ? 'cut by the time asked about'
                        : undefined,
                  ...(silent ? { note: 'no data' } : open ? { note: 'so far' } : cut ? { note: 'in part' } : {}),
                }),
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map((row, index) => (
              <tr
                key={row.all ? `all ${row.id}` : row.id}
                className={row.all ? 'all-row' : off.has(row.id) ? 'off' : ''}
              >
                <th scope="row">
                  <span className="row-name">
                    {!row.all &&
                      (edit && many > 1 ? (
                        <button
                          type="button"
                          className="swatch"
                          aria-pressed={!off.has(row.id)}
                          aria-label={`${row.label} in the chart`}
                          title={off.has(row.id) ? 'Put back into the chart' : 'Take out of the chart'}
                          onClick={() => toggle('off', row.id)}
                        >
                          <i style={{ background: colourOf(row) }} />
                        </button>
                      ) : (
                        <i style={{ background: colourOf(row) }} />
                      ))}
                    {row.label}
                    {edit && !row.all && many > 3 && (
                      <button
                        type="button"
                        className="pin"
                        aria-pressed={pinned?.includes(row.id) ?? false}
                        aria-label={`Keep ${row.label} on top`}
                        onClick={() => toggle('pinned', row.id)}
                      >
                        {pinned?.includes(row.id) ? (
                          <PushPinIcon fontSize="inherit" />
                        ) : (
                          <PushPinOutlinedIcon fontSize="inherit" />
                        )}
                      </button>
                    )}
                  </span>
                </th>
                {!without.has('total') && cell(row, index, 'all', row.total)}
                {beside && !without.has('before') && cell(row, index, 'before', row.before?.total ?? null)}
                {beside && !without.has('difference') && (
                  <td className={`number${tone(row.difference)}`}>
                    {row.difference === null
                      ? MISSING
                      : `${row.difference > 0 ? '+' : row.difference < 0 ? '−' : ''}${formatAs(Math.abs(row.difference), row.unit, words.currency)}`}
                  </td>
                )}
                {!without.has('change') && (
                  <td className={`number${tone(row.change)}`}>
                    {row.change === null ? MISSING : formatChange(row.change)}
                  </td>
                )}
                {explains && (
                  <td className="number">
                    {row.contribution !== null && row.contribution < 0 ? '−' : ''}
                    {formatPercent(row.contribution === null ? null : Math.abs(row.contribution), 0)}
                  </td>
                )}
                {times.map((bucket, b) => cell(row, index, String(b), row.values[b], bucket.open || bucket.cut))}
              </tr>
            ))}
          </tbody>
        </table>
        {shown.length === 0 && <p className="pad">No row by that name.</p>}
      </div>
    </>
  )
}

function colourOf(line: ChartLine): string {
  return seriesVar(line.place, line.rest)
}

function nameHead(question: TrendQuestion, words: Words, grouped: boolean): string {
  if (!grouped) return question.series.length + (question.formulas?.length ?? 0) > 1 ? 'Line' : 'Event'
  return splitsHead(question.breakdowns!, words)
}

function rowsOf(result: TrendResult, question: TrendQuestion, words: Words): Row[] {
  const compared = comparedBuckets(result.buckets, question.every)
  const withChanges = (line: ChartLine, all: boolean): Row => {
    const then = line.before?.total ?? null
    const difference = line.before && line.total !== null && then !== null ? line.total - then : null
    const [first, last] = compared ? [line.values[compared.first], line.values[compared.last]] : [null, null]
    const change = line.before ? ratio(line.total, then) : ratio(last, first)
    const place = line.line.groups.indexOf(line.row)
    const contribution = canStack(question) ? (contributionsOf(line.line)[place] ?? null) : null
    return { ...line, all, difference, change, contribution }
  }
  const rows = allLines(result, question, words).map((line) => withChanges(line, false))
  if (result.keys.length === 0 || question.show.as === 'share') return rows
  const lines = visibleLines(result)
  return [
    ...rows,
    ...lines.map((line) => {
      const all = shownAll(result, question, words, line)
      const label = lines.length > 1 ? `${all.label}, all together` : 'All together'
      return withChanges({ ...all, place: 0, label }, true)
    }),
  ]
}

function ratio(now: number | null, then: number | null): number | null {
  return now === null || !then ? null : now / then - 1
}

/** All together stays at the end and what is pinned on top, whatever the order. */
function arrange(rows: readonly Row[], sorting: Sorting | null, search: string, pinned: readonly string[] = []): Row[] {
  const wanted = search.trim().toLowerCase()
  const isPinned = (row: Row) => !row.all && pinned.includes(row.id)
  const found = rows.filter((row) => row.all || isPinned(row) || row.label.toLowerCase().includes(wanted))
  const level = (row: Row) => (row.all ? 2 : isPinned(row) ? 0 : 1)
  return found.toSorted((a, b) => level(a) - level(b) || (sorting ? compareBy(a, b, sorting) : 0))
}

function compareBy(a: Row, b: Row, { by, down }: Sorting): number {
  const [x, y] = [sortValue(a, by), sortValue(b, by)]
  if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1
  return (x < y ? -1 : x > y ? 1 : 0) * (down ? -1 : 1)
}

function sortValue(row: Row, by: Sorting['by']): number | string | null {
  switch (by) {
    case 'name':
      return row.label.toLowerCase()
    case 'total':
      return row.total
    case 'before':
      return row.before?.total ?? null
    case 'difference':
      return row.difference
    case 'change':
      return row.change
    case 'contribution':
      return row.contribution
    default:
      return row.values[by]
  }
}
