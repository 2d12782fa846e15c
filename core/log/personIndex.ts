import type { EventLog } from './log.js'

/** The index of the person whose row it is. */
export function personIndex(log: Pick<EventLog, 'people' | 'offsets'>, row: number): number {
  let low = 0
  let high = log.people - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (log.offsets[middle] <= row) low = middle
    else high = middle - 1
  }
  return low
}
