import type { EventPick } from '../../questions/parts.js'
import type { Range } from '../../time/range.js'
import type { Among } from '../people.js'

export const tippingUnits = ['day', 'week', 'month'] as const
export type TippingUnit = (typeof tippingUnits)[number]

/**
 * What may follow: somebody is back in a period after the start, or from it on; or does it within days after the first
 * days are over, so often at least.
 */
export type Outcome =
  | { unit: TippingUnit; period: number; from?: true | undefined; by?: 'clock' | undefined }
  | { days: number; times?: number | undefined }

/** An event whose values of a property are looked at too: each by itself, or how many different ones there were. */
export interface OpenedEvent {
  event: { names: string[] }
  by: { of: 'event'; name: string }
  /** left out: each value by itself */
  as?: 'different' | undefined
}

/** What may be done: an event, an event with one value of a property, or different values of it. */
export interface Done {
  event: string
  by?: { of: 'event'; name: string } | undefined
  /** with `by`; left out: how many different ones; null = no value */
  is?: string | boolean | null | undefined
}

/** The same for the same, to compare and to look up. */
export const doneKey = ({ event, by, is }: Done): string =>
  by === undefined ? event : JSON.stringify([event, by.name, ...(is === undefined ? [] : [is])])

/** Only what was done, of something that tells more of it. */
export const doneOf = ({ event, by, is }: Done): Done => ({
  event,
  ...(by === undefined ? {} : { by }),
  ...(is === undefined ? {} : { is }),
})

/** "Of people whose first ever X fell in …, what done in the first 7 days goes with Y in week 4?" */
export interface TippingQuestion {
  kind: 'tipping'
  /** people count whose first ever lies in the range */
  start: EventPick
  range: Range
  /** what is done in so many days of 24 hours after the start is looked at */
  days: number
  goal: EventPick
  outcome: Outcome
  /** events that are not looked at */
  leftOut?: string[] | undefined
  /** looked at by their values as well */
  open?: OpenedEvent[] | undefined
  /** left out: how often; else on how many local days */
  count?: 'days' | undefined
  among?: Among | undefined
  show: {
    form: 'strips'
    /** what is opened, by its key */
    open?: string | undefined
    /** with what nearly all or hardly any did */
    trivial?: true | undefined
  }
}

/** Counts from 1 to this are told apart; the last stands for more as well. */
export const MOST_TIMES = 20
/** So many events may be opened, and so many values stand by themselves. */
export const MOST_OPENED = 5
export const MOST_VALUES = 200
export const MOST_DAYS = 90
export const MOST_PERIOD = 52

export function usualTipping(event = ''): TippingQuestion {
  const pick = { event: { names: [event] } }
  return {
    kind: 'tipping',
    start: pick,
    range: { last: 6, unit: 'month' },
    days: 7,
    goal: { event: { activity: true } },
    outcome: { unit: 'week', period: 4 },
    show: { form: 'strips' },
  }
}

/** Where people seem to begin, by its name. */
const BEGINNING = /\b(?:sign(?:ed)?[ _-]?up|register(?:ed)?|joined|account[ _](?:made|created|opened))\b/i

/** Of events, the most frequent first, the one that people seem to begin with. */
export function beginningOf(names: readonly string[]): string | undefined {
  return names.find((name) => BEGINNING.test(name)) ?? names[0]
}

/** Days that a period is after the start at the most, of the one who started first in theirs: its own length counts. */
export const UNIT_LENGTH: Record<TippingUnit, number> = { day: 1, week: 7, month: 30 }
