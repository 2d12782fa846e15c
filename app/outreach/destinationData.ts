import type { DestinationSetup } from '../../core/outreach/destination.js'
import type { SavedMessage, Destination, LogLine, StandInState, SyncState } from '../../server/index.js'

/** What the page of a destination shows. */
export interface DestinationData {
  messages: { id: string; name: string; state: SavedMessage['state'] }[]
  saved: Destination | null
  /** null: its kind has not been chosen yet */
  setup: DestinationSetup | null
  kept: { id: string; name: string; state: SyncState; there: number }[]
  log: LogLine[]
  /** what the stand-in says; null where there is none, or it does not answer */
  standIn: StandInState | null
  /** where files are put */
  folder: string | null
  webhookHosts: string[]
}
