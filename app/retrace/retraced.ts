import type { MomentNote } from '../../server/store/momentNotes.js'
import type { PersonProfile } from '../../server/store/people.js'
import type { StoredEvent } from '../../server/store/events.js'

/** One session of a person, to be walked through. */
export interface Retraced extends PersonProfile {
  /** number from 1, the person's first */
  session: number
  sessions: { events: number; firstMs: number; lastMs: number }[]
  /** in order */
  events: StoredEvent[]
  notes: MomentNote[]
  /** arrival number of the event to begin at; null = the first */
  at: number | null
}
