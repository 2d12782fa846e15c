import { smallestGain } from '../stats/power.js'
import type { Message } from './message.js'

/** What can be known of a message before it starts. */
export interface Ahead {
  /** people for whom the trigger holds now, and how many more come each day */
  now: number
  perDay: number
  /** of those now, or of the last 28 days: left out by the other segment, and by their own wish */
  notAmong: number
  optedOut: number
  /** of those, who did what it is for in as long a time before now; null where that is not known */
  goalShare: number | null
  /** what texts name: null = no profile property is called so; and how many have no value */
  fields: { field: string; property: string | null; missing: number }[]
  /** some who would be sent it, with the values of the fields in their order */
  some: { id: string; values: (string | null)[] }[]
  /** how many people this was looked at of */
  of: number
}

/** What is looked at of a message's time ahead. */
export const AHEAD_DAYS = 28

export const isGoal = ({ goal }: Pick<Message, 'goal'>): boolean =>
  !('names' in goal.event && goal.event.names.includes(NO_EVENT))
/** Stands where no event has been chosen yet. */
export const NO_EVENT = '…'

/** People in the first four weeks, without those kept out. */
export function peopleAhead({ now, perDay, notAmong, optedOut, of }: Ahead): number {
  const whole = of + notAmong
  const kept = whole > 0 ? (notAmong + optedOut) / whole : 0
  return Math.floor((now + perDay * AHEAD_DAYS) * (1 - kept))
}

/**
 * The smallest effect of all variants together that so many people would show four times of five, against those left
 * alone. @returns in points of 1; null where none could be seen, or nobody is left alone
 */
export function visibleEffect(people: number, goalShare: number, holdOut: number): number | null {
  const alone = Math.floor((people * holdOut) / 100)
  return smallestGain(goalShare, alone, people - alone)
}
