import { stringify } from 'csv-stringify/sync'
import { safeCell } from '../../core/words/safeCell.js'
import type { Reject } from '../store/imports.js'
import { LINE_COLUMN, REASON_COLUMN, type ImportPlan } from './importPlan.js'
import { cellsIn } from './inColumns.js'

/**
 * The lines that were not taken as CSV: of a table in its own columns, with the line's number and the reason after them,
 * so that it can be mended and brought in again; of other files number, reason, and the line as it came.
 */
export function* rejectedCsv(plan: ImportPlan, rejects: Iterable<Reject>): Generator<string> {
  if (plan.format === 'jsonl') {
    yield stringify([['line', 'reason', 'content']])
    for (const { line, reason, content } of rejects) yield stringify([[line, reason, safeCell(content)]])
    return
  }
  yield stringify([[...plan.header.map((name) => safeCell(name)), LINE_COLUMN, REASON_COLUMN]])
  for (const { line, reason, content } of rejects) {
    const cells = cellsIn(plan, content)
    const own = plan.header.map((_name, index) =>
      safeCell(cells === null ? (index === 0 ? content : '') : textOf(cells[index])),
    )
    yield stringify([[...own, line, reason]])
  }
}

function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  return typeof cell === 'object' ? JSON.stringify(cell) : String(cell as string | number | boolean)
}
