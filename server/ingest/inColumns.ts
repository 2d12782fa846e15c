import { parse } from 'csv-parse/sync'
import { own } from '../../core/names.js'
import { joinWords } from '../../core/words/format.js'
import type { ImportPlan, TablePlan, TimeFormat } from './importPlan.js'
import { cellsOf } from './tableRow.js'

/** How times of each form look. */
export const TIME_EXAMPLES: Record<TimeFormat, string> = {
  iso: '2026-10-08 07:12',
  'epoch ms': 'epoch milliseconds',
  'epoch s': 'epoch seconds',
  'day first': '8/10/2026, day first',
  'month first': '10/8/2026, month first',
}

/** A reason why a line was not taken, by the names that the file's own columns have. */
export function inColumns(plan: ImportPlan, reason: string): string {
  if (plan.format === 'jsonl') return reason
  const named = (...roles: string[]) =>
    plan.header.filter((_name, index) => roles.includes(plan.columns[index]?.role ?? ''))
  const column = (names: readonly string[]) =>
    `column ${joinWords(
      names.map((name) => `“${name}”`),
      'or',
    )}`
  const unread = /^the time "(.*)" cannot be read/.exec(reason)
  const times = named('time', 'happened')
  if (unread && times.length > 0) {
    const formats = [...new Set(plan.columns.flatMap((each) => ('format' in each ? [TIME_EXAMPLES[each.format]] : [])))]
    return `${column(times)}: “${unread[1]}” is no time written as ${joinWords(formats, 'or')}`
  }
  if (/^neither "person"|^"person", the person’s id, is missing/.test(reason))
    return `${column(named('person', 'anonymous'))} is empty: nobody is said to have done it`
  if (/^"event", the event’s name, is missing/.test(reason))
    return `${column(named('event'))} is empty: no event is named`
  if (/^the time .* lies /.test(reason) && times.length > 0) return `${column(times)}: ${reason}`
  return reason
}

/** The cells of a line by the file's columns, from the text that was kept of it; null where it has none. */
export function cellsIn(plan: TablePlan, content: string): unknown[] | null {
  try {
    if (plan.format === 'csv') {
      const [cells] = parse(content, { delimiter: plan.delimiter, relax_column_count: true }) as string[][]
      return cells ?? null
    }
    const value = JSON.parse(content) as unknown
    return plan.format === 'parquet'
      ? plan.header.map((name) => own(value as Record<string, unknown>, name))
      : cellsOf(value, plan.header)
  } catch {
    return null
  }
}
