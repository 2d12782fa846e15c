import { countOf, joinWords } from '../../core/words/format.js'

/** How much it is: “12 events and 3 profile values are”. */
export function takenWords({ events, profileValues }: { events: number; profileValues: number }): string {
  const parts = [
    ...(events > 0 || profileValues === 0 ? [countOf(events, 'event', 'events')] : []),
    ...(profileValues > 0 ? [countOf(profileValues, 'profile value', 'profile values')] : []),
  ]
  return `${joinWords(parts, 'and')} ${events + profileValues === 1 ? 'is' : 'are'}`
}
