import { isLocalDay } from '../../core/time/range.js'
import type { Value } from '../../core/log/values.js'
import { formatDay, formatNumber, MISSING } from '../../core/words/format.js'

/** A property's value as it is shown; no value is an en dash. */
export function valueText(value: Value | undefined, thisYear: number): string {
  if (value === undefined) return MISSING
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return formatNumber(value)
  if (typeof value !== 'string') return value.join(', ')
  return isLocalDay(value) ? formatDay(value, thisYear) : value
}
