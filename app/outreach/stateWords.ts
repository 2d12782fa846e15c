import { KIND_WORDS } from '../../core/outreach/destination.js'
import { formatMoment } from '../../core/words/format.js'
import type { SavedMessage, SavedSync, SyncState } from '../../server/index.js'

export const STATE_WORDS: Readonly<Record<SyncState, string>> = {
  draft: 'not started',
  running: 'running',
  paused: 'paused',
  asking: 'asks you',
  ended: 'ended',
}

export const MESSAGE_STATES: Readonly<Record<SavedMessage['state'], string>> = {
  draft: 'not started',
  running: 'running',
  paused: 'paused',
  ended: 'ended',
}

/** When the next look is, in words. */
export function nextWords({ state, dueMs, definition }: SavedSync, zone: string, thisYear: number): string {
  if (state !== 'running') return ''
  if (definition.schedule.kind === 'each change') return 'looks every minute'
  return dueMs === null ? '' : `next look ${formatMoment(dueMs, zone, thisYear)}`
}

export const kindsOf = Object.entries(KIND_WORDS) as [keyof typeof KIND_WORDS, (typeof KIND_WORDS)['push']][]
