import type { windowUnits } from './vocabulary.js'

/** How long something may take from its start; a day is 24 hours and a month 30 days, whatever the calendar does. */
export interface TimeLimit {
  count: number
  unit: (typeof windowUnits)[number]
}

export const LIMIT_MS = {
  ...{ second: 1000, minute: 60_000, hour: 3_600_000 },
  ...{ day: 86_400_000, week: 604_800_000, month: 30 * 86_400_000 },
}

export function limitMs(limit: TimeLimit): number {
  return limit.count * LIMIT_MS[limit.unit]
}
