import type { Range } from '../time/range.js'
import type { Window } from './rule.js'

/** A range as a condition's window; null where no window says the same. */
export function wholeWindow(range: Range): Window | null {
  if ('last' in range) return range.unit === 'day' ? { last: range.last } : null
  return range.to === undefined ? null : { from: range.from, to: range.to }
}
