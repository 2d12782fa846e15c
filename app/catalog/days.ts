import { Temporal } from 'temporal-polyfill'

/** The local day of a moment, as 2026-10-08. */
export function dayIn(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate().toString()
}

/** `14:03:07`, and the day before it where that is another than the day of `nowMs`. */
export function clockIn(ms: number, zone: string, nowMs: number): { day: string | null; time: string } {
  const local = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone)
  const day = local.toPlainDate().toString()
  return { day: day === dayIn(nowMs, zone) ? null : day, time: local.toPlainTime().toString().slice(0, 8) }
}
