import type { EffectQuestion } from '../../core/analyses/effect/question.js'
import type { EffectResult } from '../../core/analyses/effect/finish.js'
import type { Ahead } from '../../core/outreach/ahead.js'
import { NO_EVENT } from '../../core/outreach/ahead.js'
import type { DestinationKind } from '../../core/outreach/destination.js'
import type { Message } from '../../core/outreach/message.js'
import type { Reading } from '../../core/words/sentence.js'
import type { DayShares, MessageCounts, MessageLine, SavedMessage } from '../../server/index.js'
import type { Look } from '../analyses/leads.js'

/** What the page of a message shows. */
export interface MessageData {
  saved: SavedMessage | null
  definition: Message
  places: { id: string; name: string; kind: DestinationKind }[]
  /** what it brings, once it has been started and the events have been read */
  effect: { question: EffectQuestion; result: EffectResult; reading: Reading; next: Look[] } | null
  /** why what it brings cannot be told, in words */
  problem: string | null
  counts: MessageCounts | null
  lines: MessageLine[]
  shares: DayShares[]
  simulated: boolean
}

/** What is known of a draft before it starts. */
export interface Checked {
  faults: string[]
  ahead: Ahead | null
  /** why nobody can say how many it would reach, in words */
  problem: string | null
}

export const blankMessage: Message = {
  ...{ name: '', tags: [], owner: '', segment: '', notAmong: '', trigger: { kind: 'comes in' }, wait: 0 },
  ...{ destination: '', split: { kind: 'fixed', weights: [] }, holdOut: 10 },
  variants: [{ name: 'A', title: '', text: '', link: '', picture: '' }],
  ...{ goal: { event: { names: [NO_EVENT] } }, within: { count: 3, unit: 'day' } },
}
