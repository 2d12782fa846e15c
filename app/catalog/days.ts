import { Temporal } from 'temporal-polyfill'

/** The local day of a moment, as 2026-10-08. */
export function dayIn(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate().toString()
}
