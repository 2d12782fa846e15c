import type { DestinationKind } from '../../../core/outreach/destination.js'
import { fittingProperties } from '../../../core/outreach/simulated.js'
import type { Reacted } from '../standIns/book.js'
import type { ownEvents } from './ownEvents.js'

/** Writes down what one of the simulated people did, under an id of its own, as events like anybody's. */
export function writeReaction(
  own: ReturnType<typeof ownEvents>,
  { key, kind, atMs, person, of }: Reacted,
  channel: DestinationKind,
  optOut: string,
): void {
  const who = { value: person, space: of.space }
  if (kind === 'goal') {
    const [event] = 'names' in of.goal.event ? of.goal.event.names : []
    if (event !== undefined) own.did(`simulated.${key}`, who, atMs, event, fittingProperties(of.goal.where))
    return
  }
  const { message, variant, entry } = of
  own.note(kind, { key: `simulated.${key}`, person: who, atMs, message, variant, entry, channel }, true)
  if (kind === 'optedOut' && of.space === 'known')
    own.wrote(`simulated.profile.${key}`, person, atMs, { [optOut]: true })
}
