import { Temporal } from 'temporal-polyfill'

/** When people are looked at anew. `at` is a local time of day, as `02:30`. */
export type Schedule =
  { kind: 'once' } | { kind: 'hours'; every: number } | { kind: 'daily'; at: string } | { kind: 'each change' }

const HOUR_MS = 3_600_000
/** What follows each change looks so often whether there is one. */
export const LOOK_MS = 60_000

/**
 * The first time after a moment at which it is due. A local time that a day does not have is that much later on it, and
 * one that a day has twice is due at the first of the two only.
 * @param afterMs epoch ms: when it was due last, or has been started
 * @param anchorMs epoch ms: when it has been started, from which hours are counted
 * @returns epoch ms; null where it is not due again
 */
export function dueAfter(schedule: Schedule, afterMs: number, anchorMs: number, zone: string): number | null {
  switch (schedule.kind) {
    case 'once':
      return null
    case 'each change':
      return afterMs + LOOK_MS
    case 'hours': {
      const step = schedule.every * HOUR_MS
      return anchorMs + (Math.floor((afterMs - anchorMs) / step) + 1) * step
    }
    case 'daily': {
      const time = Temporal.PlainTime.from(schedule.at)
      let day = Temporal.Instant.fromEpochMilliseconds(afterMs).toZonedDateTimeISO(zone).toPlainDate()
      for (;;) {
        const due = day.toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds
        if (due > afterMs) return due
        day = day.add({ days: 1 })
      }
    }
  }
}
