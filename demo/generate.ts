import type { Value } from '../core/log/values.js'
import { Random } from './random.js'
import { Rider, type DemoEvent } from './rider.js'

export interface DemoOptions {
  people: number
  /** rides for each person, relative to the default */
  scale: number
  seed: number
}

export const DEFAULTS: DemoOptions = { people: 14_000, scale: 1, seed: 20_260_102 }

export interface DemoBatch {
  events: DemoEvent[]
  /** what is known of people: as it is, or from a time on */
  people: { person: string; time?: number; properties: Record<string, Value> }[]
}

/** As many people as are sorted together: their events arrive in order of time. */
const TOGETHER = 14_000

/**
 * The year's events of Saltmarsh Bikes. Each person has a random sequence of their own, so that more people do not
 * change those already there.
 */
export function* generate(options: DemoOptions): Generator<DemoBatch> {
  for (let first = 1; first <= options.people; first += TOGETHER) {
    const last = Math.min(options.people, first + TOGETHER - 1)
    const batch: DemoBatch = { events: [], people: [] }
    for (let number = first; number <= last; number++) {
      const random = new Random(options.seed + number * 2_654_435_761)
      const rider = new Rider(number, random, options.scale)
      for (const event of rider.events) batch.events.push(event)
      if (!rider.isKnown) continue
      batch.people.push({ person: rider.known, properties: rider.profile })
      for (const change of rider.changes) batch.people.push({ person: rider.known, ...change })
    }
    batch.events.sort((a, b) => a.time - b.time)
    yield batch
  }
}
