import { LEFT_ALONE } from '../core/outreach/message.js'
import { variantOf } from '../core/outreach/entering.js'
import { MESSAGE_EVENTS, type MessageStep } from '../core/outreach/events.js'
import type { Value } from '../core/log/values.js'
import { at, DAY, END, HOUR, MINUTE } from './city.js'
import type { Random } from './random.js'

/** A message of the demo that ran, or runs, among those who sign up. */
export interface Letter {
  id: string
  name: string
  from: number
  until: number
  holdOut: number
  /** of a hundred who come into the variant, so many more ride within seven days */
  variants: { name: string; brings: number }[]
}

/** Two days after signing up, to whoever has not ridden: what is true of it is known. */
export const WAIT = 2 * DAY
export const WITHIN = 7 * DAY

export const LETTERS: readonly Letter[] = [
  {
    ...{ id: 'first-ride', name: 'First ride', from: at('2026-03-01'), until: at('2026-10-01'), holdOut: 20 },
    variants: [
      { name: 'A bike waits', brings: 5 },
      { name: 'How it works', brings: 0 },
    ],
  },
  {
    ...{ id: 'ride-before-winter', name: 'Ride before winter', from: at('2026-11-01'), until: END, holdOut: 20 },
    variants: [
      { name: 'Dry days ahead', brings: 5 },
      { name: 'Warm gloves', brings: 0 },
    ],
  },
]

interface Addressee {
  known: string
  joined: number
  optedOut: boolean
  /** ms of their rides so far, in any order */
  rides: readonly number[]
}

/** What of a rider's life letters are: events, and a ride that would not have been. */
export interface Posted {
  events: { event: string; time: number; properties: Record<string, Value> }[]
  ride: number | null
}

/** The share of those who come in that it reaches and who would not ride by themselves: only there can it bring anything. */
const REACHABLE = 0.55

/** What becomes of the letters to somebody. */
export function letters(who: Addressee, chance: Random): Posted {
  const posted: Posted = { events: [], ride: null }
  const letter = LETTERS.find(({ from, until }) => who.joined >= from && who.joined < until)
  if (!letter || who.optedOut) return posted
  const entered = who.joined + MINUTE
  const place = variantOf(letter.id, who.known, letter.holdOut, [0.5, 0.5])
  const variant = place === null ? null : letter.variants[place]!
  const note = (step: MessageStep, time: number) =>
    posted.events.push({
      ...{ event: MESSAGE_EVENTS[step], time },
      properties: { message: letter.name, variant: variant?.name ?? LEFT_ALONE, channel: 'push', entry: 1 },
    })
  note('entered', entered)
  const sent = entered + WAIT
  if (variant === null || who.rides.some((time) => time > entered && time <= sent)) return posted
  note('sent', sent)
  const brings = chance.next()
  const when = chance.next()
  if (!chance.chance(0.96)) return posted
  const delivered = sent + chance.between(2, 90) * 1000
  note('delivered', delivered)
  if (chance.chance(variant.brings > 0 ? 0.34 : 0.27)) {
    const opened = delivered + chance.between(0.1, 9) * HOUR
    note('opened', opened)
    if (chance.chance(0.3)) note('pressed', opened + chance.between(4, 60) * 1000)
  }
  if (chance.chance(0.005)) note('optedOut', delivered + chance.between(1, 30) * MINUTE)
  const rides = who.rides.some((time) => time > entered && time <= entered + WITHIN)
  if (!rides && brings < variant.brings / 100 / REACHABLE)
    posted.ride = delivered + HOUR + when * (entered + WITHIN - delivered - 3 * HOUR)
  return posted
}
