import type { TrendLine, TrendRow } from './finish.js'

/**
 * How much of the whole's change against the time beside it each group's own change is, by the figures of the whole
 * time. Groups that overlap, as people in several of them do, need not add up to 1.
 * @returns by group, in the line's order; null where a figure is missing or the whole has not changed
 */
export function contributionsOf(line: TrendLine): (number | null)[] {
  const whole = changeOf(line.all, line.before?.all)
  return line.groups.map((row, index) => {
    const change = changeOf(row, line.before?.groups[index])
    return change === null || !whole ? null : change / whole
  })
}

/** The group whose total moved most against the time beside it. */
export function topContribution(line: TrendLine): { row: TrendRow; change: number } | null {
  let top: { row: TrendRow; change: number } | null = null
  line.groups.forEach((row, index) => {
    const change = changeOf(row, line.before?.groups[index])
    if (change && (!top || Math.abs(change) > Math.abs(top.change))) top = { row, change }
  })
  return top
}

function changeOf(now: TrendRow, then: TrendRow | undefined): number | null {
  return now.total === null || then === undefined || then.total === null ? null : now.total - then.total
}
