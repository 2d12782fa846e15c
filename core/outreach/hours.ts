import { Temporal } from 'temporal-polyfill'

/** Hours of the day, from the first (included) to the last (not included). */
export interface Hours {
  from: number
  to: number
}

/** The first moment at or after one that lies in the hours, on the clock of a zone. @returns epoch ms */
export function nextWithin(ms: number, hours: Hours | undefined, zone: string): number {
  if (!hours) return ms
  const local = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone)
  if (local.hour >= hours.from && local.hour < hours.to) return ms
  const day = local.hour < hours.from ? local.toPlainDate() : local.toPlainDate().add({ days: 1 })
  // An hour that the day does not have is that much later.
  return day.toZonedDateTime({ timeZone: zone, plainTime: new Temporal.PlainTime(hours.from) }).epochMilliseconds
}
