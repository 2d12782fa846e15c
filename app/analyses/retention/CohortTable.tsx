import { SMALL } from '../../../core/stats/small.js'
import type { KeyboardEvent, MouseEvent } from 'react'
import type { RetentionResult, RetentionRow } from '../../../core/analyses/retention/finish.js'
import type { RetentionQuestion } from '../../../core/analyses/retention/question.js'
import { periodWords, shortPeriod } from '../../../core/analyses/retention/words.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { RetentionMark } from '../../../core/analyses/retention/marks.js'
import { capital, formatNumber } from '../../../core/words/format.js'
import { bucketLabel, bucketTitle } from '../../charts/bucketLabel.js'
import { moveInTable } from '../../ui/moveInTable.js'
import { heatStyle } from '../trend/heat.js'
import type { BodyProps } from '../view.js'
import { cellTells, cellText, markOf } from './figures.js'

interface Place {
  text: string
  /** what it says in full */
  title: string
  mark: RetentionMark | null
  className?: string
  style?: React.CSSProperties
}

/** Cohorts by periods, shaded; what is not over yet is hatched. Every cell is its people. */
export function CohortTable(
  props: BodyProps<RetentionQuestion, RetentionResult, RetentionMark> & { row: RetentionRow },
) {
  const { question, result, words, selected, onSelect, row } = props
  const { cohorts, periods, measure } = result
  const currency = words.currency ?? 'EUR'
  // A cohort nobody started in, before the first that somebody did, says nothing.
  const most = Math.max(0, ...row.cells.flat().map(({ value }) => value ?? 0))
  const isChosen = amongMarks(selected)
  const figure = (k: number, c: number): Place => {
    const cell = row.cells[c][k]
    const title = `${bucketTitle(cohorts[c].key, question.every, words)}, ${periodWords(question, periods[k])}: ${cellTells(question, result, cell, row.started[c], words)}`
    if (cell.state === 'ahead' || row.started[c] === 0) return { text: '', title, mark: null, className: 'ahead' }
    const isOpen = cell.state === 'open'
    return {
      ...{ text: cellText(cell.value, measure, currency), title },
      mark: markOf(row, { cohort: cohorts[c].key, period: k, what: 'returned' }),
      className: isOpen ? 'hatched' : 'heat',
      ...(isOpen ? {} : { style: heatStyle(cell.value, most) }),
    }
  }
  const people = (c: number): Place => ({
    text: formatNumber(row.started[c]),
    title: `${bucketTitle(cohorts[c].key, question.every, words)}: ${formatNumber(row.started[c])} started${row.started[c] < SMALL ? ', few' : ''}`,
    mark: row.started[c] > 0 ? markOf(row, { cohort: cohorts[c].key, what: 'started' }) : null,
    ...(row.started[c] > 0 && row.started[c] < SMALL ? { className: 'few' } : {}),
  })
  const total = (k: number): Place => {
    const { value, people: of, returned, cohorts: many } = row.line[k]
    return {
      text: many > 0 ? cellText(value, measure, currency) : '',
      title: `All cohorts, ${periodWords(question, periods[k])}: ${formatNumber(returned)} of ${formatNumber(of)} people in ${formatNumber(many)} complete cohorts`,
      mark: many > 0 && of > 0 ? markOf(row, { period: k, what: 'returned' }) : null,
    }
  }
  const everybody: Place = {
    text: formatNumber(row.people),
    title: 'Everybody who started',
    mark: row.people > 0 ? markOf(row, { what: 'started' }) : null,
  }
  const names = cohorts.map(({ key, open, cut }) => ({
    text: bucketLabel(key, question.every, words),
    note: open ? 'so far' : cut ? 'in part' : '',
  }))
  const heads = periods.map((period) => ({
    text: shortPeriod(question, period),
    title: capital(periodWords(question, period)),
  }))
  const turned = question.show.form === 'cohorts' && question.show.turned
  const columns = turned
    ? names.map(({ text, note }) => ({ text, title: note ? `${text}, ${note}` : text }))
    : [{ text: 'people', title: 'People who started' }, ...heads]
  const last = { text: 'All cohorts', note: '' }
  const rows: { head: { text: string; note: string }; places: Place[]; all?: boolean }[] = turned
    ? [
        { head: { text: 'People', note: '' }, places: [...cohorts.map((_, c) => people(c)), everybody] },
        ...periods.map((period, k) => ({
          head: { text: capital(periodWords(question, period)), note: '' },
          places: [...cohorts.map((_, c) => figure(k, c)), total(k)],
        })),
      ]
    : [
        ...cohorts.map((_, c) => ({
          head: names[c],
          places: [people(c), ...periods.map((_period, k) => figure(k, c))],
        })),
        { head: last, places: [everybody, ...periods.map((_, k) => total(k))], all: true },
      ]
  const markAt = (target: EventTarget): RetentionMark | null => {
    const id = (target as HTMLElement).closest('td')?.dataset.cell
    if (id === undefined) return null
    const [r, c] = id.split(' ').map(Number)
    return rows[r].places[c].mark
  }
  const select = (target: EventTarget, add: boolean): boolean => {
    const mark = markAt(target)
    if (!mark || !onSelect) return false
    onSelect(mark, add)
    return true
  }
  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    if ((event.key === 'Enter' || event.key === ' ') && select(event.target, event.shiftKey || event.ctrlKey))
      event.preventDefault()
    else moveInTable(event)
  }
  let first = true
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Cohorts" data-table="">
      <table
        className="numbers cohorts"
        role={onSelect ? 'grid' : undefined}
        aria-multiselectable={onSelect ? true : undefined}
        onKeyDown={onKey}
        onClick={(event: MouseEvent) => select(event.target, event.shiftKey || event.ctrlKey || event.metaKey)}
      >
        <thead>
          <tr>
            <th scope="col">{turned ? '' : `Started${measure === 'share' ? ', %' : ''}`}</th>
            {columns.map(({ text, title }, i) => (
              <th key={i} scope="col" className="number" title={title}>
                {text}
              </th>
            ))}
            {turned && (
              <th scope="col" className="number">
                All cohorts
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ head, places, all }, r) => (
            <tr key={r} className={all ? 'all-row' : undefined}>
              <th scope="row">
                {head.text}
                {head.note && <small> {head.note}</small>}
              </th>
              {places.map(({ text, title, mark, className = '', style }, c) => {
                const open = onSelect !== undefined && mark !== null
                const chosen = mark !== null && isChosen(mark)
                const tab = open && first ? 0 : -1
                if (open) first = false
                return (
                  <td
                    key={c}
                    title={title}
                    style={style}
                    className={`number ${className}${chosen ? ' chosen' : ''}${open ? ' pressable' : ''}`}
                    {...(open ? { tabIndex: tab, 'aria-selected': chosen, 'data-cell': `${r} ${c}` } : {})}
                  >
                    {text}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
