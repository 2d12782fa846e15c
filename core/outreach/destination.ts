import { z } from 'zod'
import type { EventPick } from '../questions/parts.js'
import { reactionsSchema } from './simulated.js'

/** What people can be sent to. */
export const destinationKinds = ['push', 'mail', 'text', 'advertising', 'webhook', 'folder'] as const
export type DestinationKind = (typeof destinationKinds)[number]

/** What a message can go through. */
export const channels = ['push', 'mail', 'text'] as const satisfies readonly DestinationKind[]
export type Channel = (typeof channels)[number]
export const isChannel = (kind: DestinationKind): kind is Channel => (channels as readonly string[]).includes(kind)

/** How a stand-in for an outside service behaves: what is slow, and what goes wrong. */
export const behaviourSchema = z.object({
  /** ms until it answers, in the middle; half of it to one and a half times */
  latencyMs: z.int().min(0).max(60_000).default(120),
  /** percent of the calls that it answers with a failure of its own */
  failing: z.number().min(0).max(100).default(0),
  /** percent of the calls that it takes, and never answers */
  silent: z.number().min(0).max(100).default(0),
  /** percent of the people that it will not take; the same ones each time */
  refused: z.number().min(0).max(100).default(0),
})
export type Behaviour = z.infer<typeof behaviourSchema>
export const USUAL_BEHAVIOUR: Behaviour = behaviourSchema.parse({})

export const folderFormats = ['csv', 'jsonl'] as const

/** What is set up of a destination. */
export const destinationSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.enum(channels),
    behaviour: behaviourSchema.prefault({}),
    /** what the simulated people behind it do */
    people: reactionsSchema.optional(),
  }),
  z.object({ kind: z.literal('advertising'), behaviour: behaviourSchema.prefault({}) }),
  z.object({
    kind: z.literal('webhook'),
    /** left out: the receiver that ships with it */
    address: z.url({ protocol: /^https?$/, error: 'Write a whole address, as https://example.org/people.' }).optional(),
    behaviour: behaviourSchema.prefault({}),
  }),
  z.object({
    kind: z.literal('folder'),
    format: z.enum(folderFormats).default('csv'),
    behaviour: behaviourSchema.prefault({}),
  }),
])
export type DestinationSetup = z.infer<typeof destinationSchema>

interface KindWords {
  name: string
  /** what it does, for whoever chooses one */
  does: string
}

export const KIND_WORDS: Readonly<Record<DestinationKind, KindWords>> = {
  push: { name: 'Push notices', does: 'An audience of the app’s push service.' },
  mail: { name: 'Mail', does: 'A list of the mailing service.' },
  text: { name: 'Text messages', does: 'A list of the text message service.' },
  advertising: {
    name: 'Advertising list',
    does: 'Ids for an advertising network, which says about how many of them it knows.',
  },
  webhook: {
    name: 'Webhook',
    does: 'A signed HTTP call for each change, to a program of your own.',
  },
  folder: { name: 'Folder', does: 'A CSV or JSON Lines file for each change.' },
}

/** What happens to one person at a destination. */
export type Change = 'add' | 'update' | 'remove'

/** One person’s change, on its way to a destination. */
export interface Delivery {
  /** the same for every try of this change: whoever has seen it does not take it twice */
  key: string
  change: Change | 'message'
  /** the id that the person goes by */
  person: string
  /** profile properties that go along, by name; none for whoever is taken out. Of a message: what it says */
  properties: Record<string, unknown>
  /** of a message, what a real service would not be told: it is for the simulated people behind a stand-in */
  simulated?: Simulated | undefined
}

/** What the simulated people are told beside a message. */
export interface Simulated {
  message: string
  variant: string
  entry: number
  /** the variant’s place */
  place: number
  space: 'known' | 'anonymous'
  /** epoch ms of the workspace’s clock: when it is sent, and up to when what it is for counts */
  sentMs: number
  untilMs: number
  goal: EventPick
  /** what the person’s value of the model’s property is */
  kind: string | null
}

/** What a destination says of one delivery. */
export type Outcome = { key: string; taken: true } | { key: string; taken: false; reason: string }
