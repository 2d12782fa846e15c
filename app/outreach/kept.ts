import type { DestinationKind } from '../../core/outreach/destination.js'
import type { Sync } from '../../core/outreach/sync.js'
import type { Expected, SavedSync, SyncRun } from '../../server/index.js'

/** What the page of something that is kept in step shows. */
export interface KeptData {
  saved: SavedSync | null
  definition: Sync
  edited: boolean
  places: { id: string; name: string; kind: DestinationKind }[]
  expected: Expected | null
  /** why nobody can say how many would go, in words */
  faults: string[]
  runs: SyncRun[]
  there: { in: number; kept: number; parked: number }
  parked: { value: string; space: 'known' | 'anonymous'; why: string | null }[]
  waiting: { people: number; nextMs: number | null; why: string | null } | null
}

export const blankSync: Sync = {
  ...{ name: '', purpose: '', tags: [], owner: '', segment: '', destination: '' },
  ...{ properties: [], schedule: { kind: 'daily', at: '06:00' }, onlyNew: false },
}
