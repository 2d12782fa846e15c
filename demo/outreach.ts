import { behaviourSchema, type DestinationSetup } from '../core/outreach/destination.js'
import { messageSchema } from '../core/outreach/message.js'
import { reactionsSchema } from '../core/outreach/simulated.js'
import type { Sync } from '../core/outreach/sync.js'
import type { Furnishing } from '../server/loader.js'
import { DAY, END, HOUR } from './city.js'
import { LETTERS, WAIT, WITHIN } from './letters.js'

export const DESTINATIONS: { id: string; name: string; setup: DestinationSetup }[] = [
  {
    id: 'push-notices',
    name: 'Push notices',
    setup: {
      ...{ kind: 'push', behaviour: behaviourSchema.parse({}) },
      people: reactionsSchema.parse({
        ...{ effects: [5, 0, 2, 0, 0], by: 'rider_kind' },
        times: [
          { value: 'student', times: 1.6 },
          { value: 'visitor', times: 0.5 },
        ],
      }),
    },
  },
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

const SAID = new Map([
  [
    'A bike waits',
    {
      title: 'Your first ride, {first name, or "rider"}',
      text: 'A bike waits near {home district, or "you"}. Two minutes from the map to the saddle.',
      link: 'https://saltmarsh.example/map',
    },
  ],
  ['How it works', { title: 'How Saltmarsh works', text: 'Choose a dock, unlock, ride, lock at any other dock.' }],
  [
    'Dry days ahead',
    {
      title: 'Dry until Thursday',
      text: 'Three dry days ahead, {first name, or "rider"}: the first ride is ten minutes away.',
    },
  ],
  ['Warm gloves', { title: 'It gets cold', text: 'Warm gloves make a difference. Take a pair along.' }],
])

/** The messages that riders were sent, as they stand under Outreach: a finished one, and one that runs. */
export const MESSAGES: Furnishing['messages'] = LETTERS.map(({ id, name, from, until, holdOut, variants }) => ({
  id,
  definition: messageSchema.parse({
    ...{ name, owner: 'Onboarding', trigger: { kind: 'event', event: { event: { names: ['Signed up'] } } } },
    ...{ wait: WAIT / HOUR, unless: { event: { names: ['Ride completed'] } }, destination: 'push-notices', holdOut },
    variants: variants.map((variant) => ({ name: variant.name, ...SAID.get(variant.name)! })),
    ...{ goal: { event: { names: ['Ride completed'] } }, within: { count: WITHIN / DAY, unit: 'day' } },
  }),
  startedMs: from,
  endedMs: until < END ? until : null,
}))
