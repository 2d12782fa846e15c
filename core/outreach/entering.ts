import { assigned } from '../stats/assign.js'

export const DAY_MS = 86_400_000

/** What is known of somebody when the trigger holds for them. */
export interface AtTheDoor {
  optedOut: boolean
  /** in the segment that is left out */
  notAmong: boolean
  /** when they came into this message last, epoch ms; null = never */
  lastMs: number | null
  /** when they were sent any message, epoch ms */
  sentMs: readonly number[]
}

export type Admission = 'enters' | 'opted out' | 'not among' | 'capped' | 'was in'

interface Rules {
  again?: number | undefined
  cap?: { most: number; days: number } | undefined
}

/**
 * Whether somebody comes into a message: not who wants nothing, not who is left out, each once or again after so many
 * days, and not who has been sent enough in the days before, up to the moment and without the moment they began.
 */
export function admission(person: AtTheDoor, { again, cap }: Rules, nowMs: number): Admission {
  const { optedOut, notAmong, lastMs, sentMs } = person
  if (lastMs !== null && (again === undefined || nowMs < lastMs + again * DAY_MS)) return 'was in'
  if (optedOut) return 'opted out'
  if (notAmong) return 'not among'
  if (!cap) return 'enters'
  const from = nowMs - cap.days * DAY_MS
  const sent = sentMs.filter((ms) => ms > from && ms <= nowMs).length
  return sent >= cap.most ? 'capped' : 'enters'
}

/**
 * Which variant somebody goes to. The hold-out comes first in the cumulated weights, so that its people stay where they
 * are however the others share what it leaves.
 * @param holdOut percent
 * @param shares of the variants, adding up to 1
 * @returns the variant's place; null = left alone
 */
export function variantOf(key: string, person: string, holdOut: number, shares: readonly number[]): number | null {
  const place = assigned(key, person, [holdOut, ...shares.map((share) => share * (100 - holdOut))])
  return place === 0 ? null : place - 1
}
