import { behaviourSchema, type DestinationSetup } from '../core/outreach/destination.js'
import type { Sync } from '../core/outreach/sync.js'

export const DESTINATIONS: { id: string; name: string; setup: DestinationSetup }[] = [
  { id: 'push-notices', name: 'Push notices', setup: { kind: 'push', behaviour: behaviourSchema.parse({}) } },
  {
    id: 'harbour-news-readers',
    name: 'Harbour News readers',
    setup: { kind: 'advertising', behaviour: behaviourSchema.parse({ latencyMs: 400, failing: 10, refused: 2 }) },
  },
]

export const KEPT: { id: string; definition: Sync }[] = [
  {
    id: 'quiet-regulars-by-push',
    definition: {
      ...{ name: 'Quiet regulars, by push', owner: 'Retention', tags: ['win back'] },
      purpose: 'Tell those who ride less than they did what is new at their docks.',
      ...{ segment: 'regulars-going-quiet', destination: 'push-notices', properties: ['first_name', 'home_district'] },
      ...{ schedule: { kind: 'daily', at: '06:00' }, onlyNew: false },
    },
  },
  {
    id: 'no-advertisements-for-buyers',
    definition: {
      ...{ name: 'No advertisements for who buys already', owner: 'Marketing', tags: [] },
      purpose: 'Whoever buys in the app is left out of the advertisements in Harbour News.',
      ...{ segment: 'app-buyers', destination: 'harbour-news-readers', properties: [] },
      ...{ schedule: { kind: 'hours', every: 6 }, onlyNew: false },
    },
  },
]
