import type { ValueKind } from '../log/values.js'
import type { PropertyRef } from '../questions/parts.js'

/** An event that can be asked about, with all it is known by. */
export interface KnownEvent {
  name: string
  /** what sentences call it */
  words: string
  description: string
  /** what people call it otherwise */
  synonyms: readonly string[]
  /** how many in the last 30 days: of equally good matches the more frequent one is meant */
  recent: number
  /** not to be guessed at: deprecated, or not counted as activity */
  shy: boolean
  /** it stands for several others: of equally good matches these are meant */
  combined?: boolean
  /** several events that are asked about as one */
  together?: readonly string[]
  /** names of the properties it carries */
  properties: readonly string[]
}

export interface KnownProperty {
  property: PropertyRef
  words: string
  description: string
  synonyms: readonly string[]
  kind: ValueKind
  shy: boolean
  /** its commonest values, as text */
  values: readonly string[]
}

/** What a typed question can be about. */
export interface Vocabulary {
  events: readonly KnownEvent[]
  properties: readonly KnownProperty[]
  /** what the saved segments are called */
  segments: readonly { id: string; words: string }[]
  /** the year that dates need not name */
  thisYear: number
  /** today's local day, as 2026-11-22 */
  today: string
}
