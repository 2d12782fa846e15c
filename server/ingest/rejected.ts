import { stringify } from 'csv-stringify/sync'
import { safeCell } from '../../core/words/safeCell.js'
import type { Reject } from '../store/imports.js'

/** The lines that were not taken as CSV: number, reason, and the line as it came. */
export function* rejectedCsv(rejects: Iterable<Reject>): Generator<string> {
  yield stringify([['line', 'reason', 'content']])
  for (const { line, reason, content } of rejects) yield stringify([[line, reason, safeCell(content)]])
}
