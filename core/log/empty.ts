import { arrange } from './arrange.js'
import type { EventLog } from './log.js'

/** A log without events. */
export function emptyLog(): EventLog {
  return { ...arrange([], 0, 0, false), profiles: [], made: [], madeProfiles: new Map(), then: [], hidden: null }
}
