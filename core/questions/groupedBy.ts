import type { ValueKey } from './parts.js'
import type { Split, SplitRef } from './split.js'

/** Whether groups are made by when the event happened. */
export function isClock(by: SplitRef): by is { of: 'weekday' | 'hour' } {
  return by.of === 'weekday' || by.of === 'hour'
}

/** Whether the groups are the hours of the week. */
export function isWeek(splits: readonly Split[]): boolean {
  return splits.length === 2 && isClock(splits[0].by) && isClock(splits[1].by) && splits[0].by.of !== splits[1].by.of
}

export const isNone = (key: ValueKey) => 'value' in key && key.value === null

/** Whether groups are values as they come: those are ranked by size. */
export const isPlain = ({ by, cuts }: Split) => !isClock(by) && by.of !== 'segments' && !cuts

/** Whether any groups are made by what may differ from one event of a person to another. */
export function readsEvent(breakdowns: readonly Split[] | undefined): boolean {
  return breakdowns?.some(({ by }) => by.of !== 'segments' && !(by.of === 'person' && by.now)) ?? false
}

/** Whether groups are segments side by side and nothing else: each is then compared with the first. */
export function isSides(breakdowns: readonly Split[] | undefined): boolean {
  return breakdowns?.length === 1 && breakdowns[0].by.of === 'segments'
}
