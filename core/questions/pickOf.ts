import type { EventPick } from './parts.js'

/** The event of a series or step, with its condition and nothing else. */
export const pickOf = ({ event, where }: EventPick): EventPick => ({ event, ...(where ? { where } : {}) })
