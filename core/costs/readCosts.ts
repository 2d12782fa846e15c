import { Temporal } from 'temporal-polyfill'
import { isLocalDay } from '../time/range.js'
import { formatNumber } from '../words/format.js'
import { dayNumber, dayText, MOST_COSTS, readAmount, type CostRow } from './costs.js'

export interface ReadCosts {
  rows: CostRow[]
  /** lines that were not taken, from 1, each with its reason and its cells */
  problems: { line: number; reason: string; cells: readonly string[] }[]
}

const DAY_HEADS = ['day', 'date']
const AMOUNT_HEADS = ['amount', 'cost', 'spend', 'spent', 'price']
/** A week as ISO 8601 has it: `2026-W41`. */
const ISO_WEEK = /^(\d{4})-?w(\d{2})$/i

/**
 * Reads a table of costs: a column `day` or `week`, one with the amount, and one with the value. A week is written as
 * `2026-W41`, or as the day it begins. What cannot be read is left out and told with its line.
 * @param names heads that the column of values may have, beside `value`
 */
export function readCosts(cells: readonly (readonly string[])[], names: readonly string[]): ReadCosts {
  const heads = (cells[0] ?? []).map((head) => head.trim().toLowerCase())
  const at = (wanted: readonly string[]) => heads.findIndex((head) => wanted.includes(head))
  const week = at(['week'])
  const day = at(DAY_HEADS)
  const amount = at(AMOUNT_HEADS)
  const named = at(['value', ...names.map((name) => name.toLowerCase())])
  // Of three columns the one that is neither is the values, however it is called.
  const value = named >= 0 ? named : heads.length === 3 ? [0, 1, 2].find((i) => ![week, day, amount].includes(i))! : -1
  const lacking = [
    ...(week < 0 && day < 0 ? ['“day” or “week”'] : []),
    ...(value < 0 ? ['“value”'] : []),
    ...(amount < 0 ? ['“amount”'] : []),
  ]
  if (lacking.length > 0)
    return {
      rows: [],
      problems: [
        {
          line: 1,
          reason: `the first line names the columns, and has none called ${lacking.join(', none ')}`,
          cells: cells[0] ?? [],
        },
      ],
    }
  const rows: CostRow[] = []
  const problems: ReadCosts['problems'] = []
  const seen = new Map<string, number>()
  cells.slice(1).forEach((own, index) => {
    if (own.every((cell) => cell.trim() === '')) return
    const line = index + 2
    const wrong = (reason: string) => void problems.push({ line, reason, cells: own })
    const text = (place: number) => (own[place] ?? '').trim()
    const begin = week >= 0 && text(week) !== '' ? weekOf(text(week)) : day >= 0 ? dayOf(text(day)) : null
    if (!begin)
      return wrong(
        `“${text(week >= 0 ? week : day)}” is no ${week >= 0 ? 'week such as 2026-W41, or day it begins on' : 'day such as 2026-10-08'}`,
      )
    if (text(value) === '') return wrong('it names no value')
    const paid = readAmount(text(amount))
    if (paid === null) return wrong(`“${text(amount)}” is no amount`)
    if (paid < 0) return wrong('what was paid is less than 0')
    if (rows.length >= MOST_COSTS)
      return wrong(`more than ${formatNumber(MOST_COSTS)} lines: bring the rest in as another table`)
    const row: CostRow = { ...begin, value: text(value), amount: paid }
    for (let each = 0; each < row.days; each++) {
      const before = seen.get(`${dayNumber(row.day) + each} ${row.value}`)
      if (before !== undefined)
        return wrong(`${row.value} has a cost for ${dayText(dayNumber(row.day) + each)} already, in line ${before}`)
    }
    for (let each = 0; each < row.days; each++) seen.set(`${dayNumber(row.day) + each} ${row.value}`, line)
    rows.push(row)
  })
  return { rows, problems }
}

type Begin = Pick<CostRow, 'day' | 'days'>

function dayOf(text: string): Begin | null {
  return isLocalDay(text) ? { day: text, days: 1 } : null
}

function weekOf(text: string): Begin | null {
  if (isLocalDay(text)) return { day: text, days: 7 }
  const found = ISO_WEEK.exec(text)
  if (!found) return null
  const [year, week] = [Number(found[1]), Number(found[2])]
  // The week of 4 January is the first; the last one is that of 28 December.
  const first = mondayOf(Temporal.PlainDate.from({ year, month: 1, day: 4 }))
  const last = mondayOf(Temporal.PlainDate.from({ year, month: 12, day: 28 }))
  const begin = first.add({ weeks: week - 1 })
  if (week < 1 || Temporal.PlainDate.compare(begin, last) > 0) return null
  return { day: begin.toString(), days: 7 }
}

const mondayOf = (day: Temporal.PlainDate) => day.subtract({ days: day.dayOfWeek - 1 })
