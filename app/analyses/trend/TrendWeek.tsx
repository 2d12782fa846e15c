import type { KeyboardEvent, MouseEvent } from 'react'
import type { TrendResult } from '../../../core/analyses/trend/finish.js'
import type { TrendQuestion } from '../../../core/analyses/trend/question.js'
import { shownLines, type ShownLine } from '../../../core/analyses/trend/shown.js'
import { amongMarks } from '../../../core/questions/marks.js'
import type { TrendMark } from '../../../core/analyses/trend/marks.js'
import { WEEKDAYS, type Words } from '../../../core/words/words.js'
import { formatValue, markOf } from '../../charts/trendSeries.js'
import { useWorkspace } from '../../page/workspace.js'
import { heatStyle } from './heat.js'
import { moveInTable } from '../../ui/moveInTable.js'

const HOURS = Array.from({ length: 24 }, (_, hour) => hour)

/** The hours of the week as a table, shaded by their figure over the whole time; a cell gives the people counted in it. */
export function TrendWeek(props: {
  result: TrendResult
  question: TrendQuestion
  words: Words
  selected: readonly TrendMark[]
  onSelect?: (mark: TrendMark, add: boolean) => void
}) {
  const { result, question, words, selected, onSelect } = props
  const { firstDayOfWeek } = useWorkspace()
  const lines = new Map<string, ShownLine>()
  for (const line of shownLines(result, question, words)) {
    const each = line.key && 'each' in line.key ? line.key.each : []
    const day = each.find((key) => 'weekday' in key)
    const hour = each.find((key) => 'hour' in key)
    if (day && hour) lines.set(`${day.weekday} ${hour.hour}`, line)
  }
  const most = Math.max(0, ...[...lines.values()].map(({ total }) => total ?? 0))
  const isChosen = amongMarks(selected)
  const select = (target: EventTarget, add: boolean): boolean => {
    const line = lines.get((target as HTMLElement).closest('td')?.dataset.cell ?? '')
    if (!line || !onSelect) return false
    onSelect(markOf(line), add)
    return true
  }
  const onKey = (event: KeyboardEvent<HTMLTableElement>) => {
    if ((event.key === 'Enter' || event.key === ' ') && select(event.target, event.shiftKey || event.ctrlKey))
      event.preventDefault()
    else moveInTable(event)
  }
  const days = WEEKDAYS.map((_, i) => ((firstDayOfWeek - 1 + i) % 7) + 1)
  let first = true
  return (
    <div className="table-scroll" tabIndex={0} role="region" aria-label="Hours of the week">
      <table
        className="week-table"
        role={onSelect ? 'grid' : undefined}
        onKeyDown={onKey}
        onClick={(event: MouseEvent) => select(event.target, event.shiftKey || event.ctrlKey || event.metaKey)}
      >
        <thead>
          <tr>
            <td />
            {HOURS.map((hour) => (
              <th scope="col" key={hour}>
                {String(hour).padStart(2, '0')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {days.map((day) => (
            <tr key={day}>
              <th scope="row">{WEEKDAYS[day - 1]}</th>
              {HOURS.map((hour) => {
                const line = lines.get(`${day} ${hour}`)
                const open =
                  onSelect !== undefined && line?.total !== undefined && line.total !== null && line.total !== 0
                const chosen = line !== undefined && isChosen(markOf(line))
                const tab = open && first ? 0 : -1
                if (open) first = false
                const text = line ? formatValue(line.total, line, words) : '0'
                return (
                  <td
                    key={hour}
                    style={heatStyle(line?.total ?? null, most)}
                    className={`${open ? 'pressable' : ''}${chosen ? ' chosen' : ''}`}
                    title={`${WEEKDAYS[day - 1]} ${String(hour).padStart(2, '0')}:00: ${text}`}
                    {...(open ? { 'data-cell': `${day} ${hour}`, tabIndex: tab, 'aria-selected': chosen } : {})}
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
