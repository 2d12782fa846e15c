import { Temporal } from 'temporal-polyfill'
import { useWorkspace } from '../page/workspace.js'

/** The local day of the moment that questions are asked as of. */
export function useToday(): Temporal.PlainDate {
  const { status, zone } = useWorkspace()
  return Temporal.Instant.fromEpochMilliseconds(status.now).toZonedDateTimeISO(zone).toPlainDate()
}
