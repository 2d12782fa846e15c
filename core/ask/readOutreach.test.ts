import fc from 'fast-check'
import { expect, test } from 'vitest'
import { messageText } from '../outreach/messageWords.js'
import { messageSchema, type Message } from '../outreach/message.js'
import type { Channel } from '../outreach/destination.js'
import { syncSchema, type Sync } from '../outreach/sync.js'
import { syncSentence } from '../outreach/words.js'
import { sentenceText } from '../words/sentence.js'
import { readOutreach } from './readOutreach.js'
import type { Vocabulary } from './vocabulary.js'

const none = { description: '', synonyms: [], shy: false }
const SEGMENTS: Record<string, string> = { r: 'Regulars', n: 'Not yet there, but near', w: 'Who rides and pays' }
const PLACES: Record<string, string> = { p: 'Push notices', m: 'Mail to riders; weekly' }
const EVENTS = ['Ride completed', 'Pass bought', 'Bought and paid']
const vocabulary: Vocabulary = {
  ...{ thisYear: 2026, today: '2026-11-22' },
  segments: Object.entries(SEGMENTS).map(([id, words]) => ({ id, words })),
  events: EVENTS.map((name) => ({ ...none, name, words: name, recent: 1, properties: ['plan'] })),
  properties: [
    { ...none, property: { of: 'event', name: 'plan' }, words: 'Plan', kind: 'text', values: [] },
    ...['Time zone', 'First name'].map((name) => ({
      ...{ ...none, property: { of: 'person' as const, name }, words: name, kind: 'text' as const, values: [] },
    })),
  ],
}
const names = {
  ...{ segment: (id: string) => SEGMENTS[id]!, destination: (id: string) => PLACES[id]! },
  property: (name: string) => name,
}
const words = { thisYear: 2026, currency: 'EUR' }
const destinations = Object.entries(PLACES).map(([id, name]) => ({ id, name }))
const read = (text: string) => readOutreach(text, vocabulary, destinations)

const segment = fc.constantFrom(...Object.keys(SEGMENTS))
const destination = fc.constantFrom(...Object.keys(PLACES))
const whole = (min: number, max: number) => fc.integer({ min, max })
const time = fc
  .tuple(whole(0, 23), whole(0, 59))
  .map((parts) => parts.map((part) => String(part).padStart(2, '0')).join(':'))
const pick = fc
  .tuple(fc.constantFrom(...EVENTS), fc.option(fc.constantFrom('Annual', 'Day pass', 'A, within 3 days')))
  .map(([name, value]) => ({
    event: { names: [name] },
    ...(value === null
      ? {}
      : { where: { property: { of: 'event' as const, name: 'plan' }, op: 'is' as const, values: [value] } }),
  }))
const maybe = <T, K extends string>(key: K, value: fc.Arbitrary<T>) =>
  fc.option(value).map((found) => (found === null ? {} : { [key]: found }))

const message: fc.Arbitrary<Message> = fc
  .tuple(
    fc.oneof(
      fc.record({ segment, trigger: fc.constant({ kind: 'comes in' }) }),
      fc.record({ segment, trigger: time.map((at) => ({ kind: 'daily', at })) }),
      fc.record({
        segment,
        trigger: fc.option(time).map((at) => ({ kind: 'once', ...(at ? { at: `2026-10-08T${at}` } : {}) })),
      }),
      fc.record({
        segment: fc.oneof(segment, fc.constant('')),
        trigger: pick.map((event) => ({ kind: 'event', event })),
      }),
    ),
    maybe('notAmong', segment),
    maybe(
      'hours',
      fc
        .tuple(whole(0, 12), whole(13, 24), fc.boolean())
        .map(([from, to, own]) => ({ from, to, ...(own ? { zone: 'Time zone' } : {}) })),
    ),
    maybe('unless', pick),
    maybe('again', whole(1, 365)),
    maybe('cap', fc.record({ most: whole(1, 9), days: whole(1, 60) })),
    fc.oneof(
      fc.constant({ many: 1, split: { kind: 'fixed', weights: [] } }),
      whole(2, 5).map((many) => ({ many, split: { kind: 'fixed', weights: [] } })),
      whole(2, 5).map((many) => ({ many, split: { kind: 'adaptive' } })),
      whole(1, 49).map((part) => ({ many: 2, split: { kind: 'fixed', weights: [part, 100 - part] } })),
    ),
    maybe('cost', fc.constantFrom(0.04, 2, 10.5)),
    fc.record({
      ...{ wait: whole(0, 100), destination, holdOut: whole(0, 90), goal: pick },
      within: fc.record({ count: whole(1, 90), unit: fc.constantFrom('hour', 'day', 'week') }),
    }),
  )
  .map(([first, notAmong, hours, unless, again, cap, { many, split }, cost, rest]) =>
    messageSchema.parse({
      ...{ name: 'x', ...first, ...notAmong, ...hours, ...unless, ...again, ...cap, ...cost, ...rest, split },
      variants: Array.from({ length: many }, (_, place) => ({ name: String.fromCharCode(65 + place) })),
    }),
  )

test('a message’s sentence is read back as the message it was printed from, but for what it says', () => {
  fc.assert(
    fc.property(message, fc.constantFrom<Channel>('push', 'mail', 'text'), (own, channel) => {
      const text = messageText(own, channel, names, words)
      const found = read(text)
      expect(found, text).not.toBeNull()
      const parts = (found as { message: Partial<Message> }).message
      expect(messageSchema.parse({ name: 'x', ...parts }), text).toEqual(own)
    }),
    { numRuns: 400 },
  )
})

const sync: fc.Arbitrary<Sync> = fc
  .tuple(
    fc.record({ segment, destination }),
    fc.oneof<fc.Arbitrary<Sync['schedule']>[]>(
      fc.constant({ kind: 'once' }),
      whole(1, 168).map((every) => ({ kind: 'hours', every })),
      time.map((at) => ({ kind: 'daily', at })),
      fc.constant({ kind: 'each change' }),
    ),
    fc.subarray(['Time zone', 'First name']),
    fc.boolean(),
    maybe('until', fc.constant('2026-12-24')),
  )
  .map(([first, schedule, properties, onlyNew, until]) =>
    syncSchema.parse({ name: 'x', ...first, schedule, properties, onlyNew, ...until }),
  )

test('so is the sentence of what is kept in step', () => {
  fc.assert(
    fc.property(sync, (own) => {
      const text = sentenceText(syncSentence(own, names))
      const found = read(text)
      expect(found, text).not.toBeNull()
      expect(syncSchema.parse({ name: 'x', ...(found as { kept: Partial<Sync> }).kept }), text).toEqual(own)
    }),
    { numRuns: 200 },
  )
})

test('what names something that is not there, or begins at a time and at an event, is no such sentence', () => {
  const end = 'a mail through Push notices in one variant; 10 % are left alone; for Pass bought within 3 days'
  expect(read(`Each who comes into Regulars; at once; ${end}`)).toMatchObject({ message: { segment: 'r' } })
  expect(read(`Each who comes into Strangers; at once; ${end}`)).toBeNull()
  expect(read(`Each who comes into Regulars; daily at 09:00, at once; ${end}`)).toBeNull()
  expect(read(`All who are in Regulars; at once; ${end}`)).toBeNull()
  expect(read('Keep Regulars in step with Nowhere, every hour, with ids alone.')).toBeNull()
})
