import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward'
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward'
import ChevronRightIcon from '@mui/icons-material/ChevronRight'
import ExpandMoreIcon from '@mui/icons-material/ExpandMore'
import { useMemo, type KeyboardEvent, type MouseEvent } from 'react'
import type { CrosstabColumn, CrosstabResult, CrosstabRow } from '../../../core/analyses/crosstab/finish.js'
import type { CrosstabQuestion } from '../../../core/analyses/crosstab/question.js'
import { measureName } from '../../../core/analyses/crosstab/sentence.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { CrosstabMark } from '../../../core/analyses/crosstab/marks.js'
import { digitsFor, formatAs } from '../../../core/words/format.js'
import { groupWords, splitHead, type Words } from '../../../core/words/words.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { heatStyle } from '../trend/heat.js'
import { columnId, foldedRows, rowId, shownRows, type ShownRow } from './rows.js'

interface CrosstabTableProps {
  result: CrosstabResult
  question: CrosstabQuestion
  words: Words
  search: string
  /** id of the row that what stands beside the table follows */
  followed: string
  onFollow: (row: CrosstabRow) => void
  edit?: (question: CrosstabQuestion) => void
  selected: readonly CrosstabMark[]
  onSelect?: (mark: CrosstabMark, add: boolean) => void
}

/** Rows within rows by columns. A row's name makes what stands beside follow it; a cell gives its people. */
export function CrosstabTable(props: CrosstabTableProps) {
  const { result, question, words, search, followed, onFollow, edit, selected, onSelect } = props
  const { columns, all } = result
  const { show } = question
  const rows = useMemo(() => shownRows(result, question, search), [result, question, search])
  const every: ShownRow[] = [
    ...rows,
    { row: all, id: rowId([]), label: 'All together', depth: 0, folds: false, folded: false },
  ]
  const isChosen = amongMarks(selected)
  const digits = columns.map((_, c) => digitsFor(result.rows.map(({ values }) => values[c])))
  const most = useMemo(() => mostOf(result, question), [result, question])

  const markOf = ({ path }: CrosstabRow, column: CrosstabColumn): CrosstabMark => ({
    kind: 'cell',
    row: path,
    ...(column.key === null ? {} : { column: column.key }),
    ...(column.series > 0 ? { series: column.series } : {}),
  })
  const select = (target: EventTarget, add: boolean): boolean => {
    const id = (target as HTMLElement).closest('td')?.dataset.cell
    if (!onSelect || id === undefined) return false
    const [r, c] = id.split(' ').map(Number)
    onSelect(markOf(every[r].row, columns[c]), add)
    return true
  }
  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    if ((event.key === 'Enter' || event.key === ' ') && select(event.target, event.shiftKey || event.ctrlKey))
      event.preventDefault()
    else moveInTable(event)
  }
  const sortBy = (by: string) => {
    if (!edit) return
    const { sort, ...rest } = show
    const next = sort?.by !== by ? { by } : sort.up ? undefined : { by, up: true as const }
    edit({ ...question, show: next ? { ...rest, sort: next } : rest })
  }
  const fold = (id: string) => {
    const before = foldedRows(result, question)
    if (!before.delete(id)) before.add(id)
    edit?.({ ...question, show: { ...show, folded: [...before] } })
  }
  const head = (by: string, label: string, note?: string, rowSpan?: number) => (
    <th
      scope="col"
      key={by}
      rowSpan={rowSpan}
      className={by === 'name' ? '' : 'number'}
      aria-sort={show.sort?.by === by ? (show.sort.up ? 'ascending' : 'descending') : undefined}
    >
      {edit ? (
        <button type="button" className="sort" onClick={() => sortBy(by)}>
          {show.sort?.by === by &&
            (show.sort.up === (by !== 'name') ? (
              <ArrowUpwardIcon fontSize="inherit" />
            ) : (
              <ArrowDownwardIcon fontSize="inherit" />
            ))}
          {label}
        </button>
      ) : (
        label
      )}
      {note && <small> {note}</small>}
    </th>
  )
  const across = question.column
  const rowHead = question.rows.map(({ by }) => splitHead(by, words)).join(' › ')
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Crosstab" data-table="">
      <table
        className="numbers crosstab"
        role={onSelect ? 'grid' : undefined}
        aria-multiselectable={onSelect ? true : undefined}
        onKeyDown={onKey}
        onClick={(event: MouseEvent) => select(event.target, event.shiftKey || event.ctrlKey || event.metaKey)}
      >
        <thead>
          {across && (
            <tr>
              {head('name', rowHead, undefined, 2)}
              <th scope="colgroup" colSpan={columns.length - 1} className="column-group">
                {splitHead(across.by, words)}
              </th>
              {head(columnId(columns[columns.length - 1]), 'All together', undefined, 2)}
            </tr>
          )}
          <tr>
            {!across && head('name', rowHead)}
            {columns.map((column) =>
              column.key !== null
                ? head(columnId(column), groupWords(column.key, column.rest))
                : across
                  ? null
                  : head(columnId(column), measureName(question, column.series, words)),
            )}
          </tr>
        </thead>
        <tbody>
          {every.map(({ row, id, label, depth, folds, folded }, r) => (
            <tr
              key={id}
              className={`${depth === 0 ? 'all-row' : `depth-${depth}`}${id === followed ? ' followed' : ''}`}
            >
              <th scope="row">
                <span className="row-name">
                  {folds &&
                    (edit ? (
                      <button
                        type="button"
                        className="fold"
                        aria-expanded={!folded}
                        aria-label={`Rows within ${label}`}
                        onClick={() => fold(id)}
                      >
                        {folded ? <ChevronRightIcon fontSize="inherit" /> : <ExpandMoreIcon fontSize="inherit" />}
                      </button>
                    ) : null)}
                  <button type="button" className="follow" aria-pressed={id === followed} onClick={() => onFollow(row)}>
                    {label}
                  </button>
                </span>
              </th>
              {row.values.map((value, c) => {
                const open = onSelect !== undefined && value !== null && row.people[c] > 0
                const chosen = isChosen(markOf(row, columns[c]))
                return (
                  <td
                    key={columnId(columns[c])}
                    className={`number${chosen ? ' chosen' : ''}${open ? ' pressable' : ''}${show.cells === 'bars' ? ' in-cell' : show.cells === 'heat' ? ' heat' : ''}`}
                    style={cellStyle(show.cells, value, most(depth, c))}
                    {...(open
                      ? { tabIndex: r === 0 && c === 0 ? 0 : -1, 'aria-selected': chosen, 'data-cell': `${r} ${c}` }
                      : {})}
                  >
                    {formatAs(value, columns[c].unit, words.currency, digits[c])}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length === 0 && <p className="pad">No row by that name.</p>}
    </div>
  )
}

/** The largest number that a cell is compared with: of rows of its depth, in its own measure. */
function mostOf(
  { rows, columns }: CrosstabResult,
  question: CrosstabQuestion,
): (depth: number, column: number) => number {
  const found = new Map<string, number>()
  const kind = (depth: number, c: number) => `${depth} ${columns[c].key !== null ? 'across' : c}`
  for (const { path, values } of rows)
    values.forEach((value, c) => {
      const key = kind(path.length, c)
      found.set(key, Math.max(found.get(key) ?? 0, value ?? 0))
    })
  return (depth, c) => (question.show.cells === 'plain' ? 0 : (found.get(kind(depth, c)) ?? 0))
}

function cellStyle(cells: CrosstabQuestion['show']['cells'], value: number | null, most: number) {
  if (cells === 'heat') return heatStyle(value, most)
  if (cells !== 'bars' || value === null || !(most > 0) || value <= 0) return undefined
  return { '--share': (value / most).toFixed(4) } as React.CSSProperties
}
