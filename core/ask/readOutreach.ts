import { CHANNEL_WORDS } from '../outreach/messageWords.js'
import type { Message, Trigger } from '../outreach/message.js'
import type { Schedule } from '../outreach/schedule.js'
import type { Sync } from '../outreach/sync.js'
import type { TimeLimit } from '../questions/limits.js'
import type { EventPick } from '../questions/parts.js'
import { count, number } from './atoms.js'
import { limit } from './printedParts.js'
import { partsOf } from './printed.js'
import { after, chain, either, list, literal, map, maybe, names, pattern, readWhole, type Reader } from './reader.js'
import type { Vocabulary } from './vocabulary.js'

/** A sentence of outreach, read back: what its page begins with. */
export type ReadOutreach = { kept: Partial<Sync> } | { message: Partial<Message> }

const timeOfDay = pattern(/([01]\d|2[0-3]):[0-5]\d/uy, ([text]) => text)
const localDay = pattern(/\d{4}-\d{2}-\d{2}/uy, ([text]) => text)
const counted = (unit: string): Reader<number> =>
  map(chain<[number, string, unknown]>(count, literal(` ${unit}`), maybe(literal('s'))), ([n]) => n)

/**
 * Reads sentences as Dowser prints them of what is kept in step and of messages; what a message says is not in them.
 * @param destinations by id
 * @returns null for any other text
 */
export function readOutreach(
  text: string,
  vocabulary: Vocabulary,
  destinations: readonly { id: string; name: string }[],
): ReadOutreach | null {
  const plain = text.replaceAll('\u2060', '').replaceAll('\u202f', ' ').trim()
  const segment = names(vocabulary.segments.map(({ id, words }) => ({ words, value: id })))
  const destination = names(destinations.map(({ id, name }) => ({ words: name, value: id })))
  const profile = names(
    vocabulary.properties.flatMap(({ words, property }) =>
      property.of === 'person' && !property.now ? [{ words, value: property.name }] : [],
    ),
  )
  const { picked } = partsOf(vocabulary)
  const kept = map(keptSentence(segment, destination, profile), (sync): ReadOutreach => ({ kept: sync }))
  const message = map(messageSentence(segment, destination, profile, picked), (read): ReadOutreach => ({
    message: read,
  }))
  return readWhole(either(kept, message), plain)
}

function keptSentence(
  segment: Reader<string>,
  destination: Reader<string>,
  profile: Reader<string>,
): Reader<Partial<Sync>> {
  const schedule = either<Schedule>(
    map(literal('every hour'), () => ({ kind: 'hours', every: 1 })),
    map(chain<[string, number, string]>(literal('every '), count, literal(' hours')), ([, every]) => ({
      ...{ kind: 'hours', every },
    })),
    map(after('daily at ', timeOfDay), (at) => ({ kind: 'daily', at })),
    map(literal('at each change'), () => ({ kind: 'each change' })),
  )
  const properties = either<string[]>(
    map(literal('ids alone'), () => []),
    list(profile, 'and'),
  )
  const begin = either<{ segment: string; destination: string; schedule: Schedule }>(
    map(
      chain<[string, string, unknown]>(after('Send ', segment), after(' to ', destination), literal(', once')),
      ([from, to]) => ({ segment: from, destination: to, schedule: { kind: 'once' } }),
    ),
    map(
      chain<[string, string, Schedule]>(
        after('Keep ', segment),
        after(' in step with ', destination),
        after(', ', schedule),
      ),
      ([from, to, when]) => ({ segment: from, destination: to, schedule: when }),
    ),
  )
  return map(
    chain<[object, string[], unknown, string | null, unknown]>(
      begin,
      after(', with ', properties),
      maybe(literal(', only those who come in from now on')),
      maybe(after(', until ', localDay)),
      maybe(literal('.')),
    ),
    ([first, along, onlyNew, until]): Partial<Sync> => ({
      ...first,
      properties: along,
      ...(onlyNew === null ? {} : { onlyNew: true }),
      ...(until === null ? {} : { until }),
    }),
  )
}

type Start = Exclude<Trigger, { kind: 'comes in' | 'event' }>
type Who = { segment: string } & ({ trigger: Trigger } | { asked: 'when' })

function messageSentence(
  segment: Reader<string>,
  destination: Reader<string>,
  profile: Reader<string>,
  picked: Reader<EventPick>,
): Reader<Partial<Message>> {
  const who = either<Who>(
    map(after('Each who comes into ', segment), (id) => ({ segment: id, trigger: { kind: 'comes in' } })),
    map(after('All who are in ', segment), (id) => ({ segment: id, asked: 'when' })),
    map(after('Everybody who does ', picked), (event) => ({ segment: '', trigger: { kind: 'event', event } })),
    map(chain<[string, EventPick]>(after('Each in ', segment), after(' who does ', picked)), ([id, event]): Who => ({
      segment: id,
      trigger: { kind: 'event', event },
    })),
  )
  const start = either<Start>(
    map(literal('once, when it is started, '), () => ({ kind: 'once' })),
    map(
      chain<[string, string, string]>(after('once, on ', localDay), after(' at ', timeOfDay), literal(', ')),
      ([day, time]): Start => ({ kind: 'once', at: `${day}T${time}` }),
    ),
    map(chain<[string, string]>(after('daily at ', timeOfDay), literal(', ')), ([at]) => ({ kind: 'daily', at })),
  )
  const wait = either<number>(
    map(literal('at once'), () => 0),
    map(chain<[number, string]>(counted('day'), literal(' later')), ([days]) => days * 24),
    map(chain<[number, string]>(counted('hour'), literal(' later')), ([hours]) => hours),
  )
  const hours = map(
    chain<[number, number, string, string | null]>(
      after(', between ', count),
      after(' and ', count),
      literal(' o’clock'),
      maybe(after(' of their own time, by ', profile)),
    ),
    ([from, to, , zone]): NonNullable<Message['hours']> => ({ from, to, ...(zone === null ? {} : { zone }) }),
  )
  const cap = map(
    chain<[number, number]>(after('; held back after ', counted('message')), after(' in ', counted('day'))),
    ([most, days]) => ({ most, days }),
  )
  const when = map(
    chain<[Start | null, number, Message['hours'] | null, EventPick | null, number | null, Message['cap'] | null]>(
      maybe(start),
      wait,
      maybe(hours),
      maybe(after(', unless they do ', picked)),
      maybe(after('; again after ', counted('day'))),
      maybe(cap),
    ),
    ([first, later, between, unless, again, most]) => ({
      start: first,
      parts: {
        wait: later,
        ...(between ? { hours: between } : {}),
        ...(unless ? { unless } : {}),
        ...(again === null ? {} : { again }),
        ...(most ? { cap: most } : {}),
      } satisfies Partial<Message>,
    }),
  )
  const channel = either(...Object.values(CHANNEL_WORDS).map((each) => literal(`${each} through `)))
  const split = either<Message['split']>(
    map(literal('evenly'), () => ({ kind: 'fixed', weights: [] })),
    map(literal('by what works'), () => ({ kind: 'adaptive' })),
    map(chain<[number[], string]>(list(number, 'and'), literal(' %')), ([weights]) => ({ kind: 'fixed', weights })),
  )
  const variants = either<Pick<Message, 'variants' | 'split'>>(
    map(literal(' in one variant; '), () => ({ variants: blanks(1), split: { kind: 'fixed', weights: [] } })),
    map(
      chain<[number, Message['split'], string]>(after(' in ', count), after(' variants, split ', split), literal('; ')),
      ([many, own]) => (many >= 2 && many <= 5 ? { variants: blanks(many), split: own } : null),
    ),
  )
  const alone = either<number>(
    map(literal('nobody is left alone'), () => 0),
    map(chain<[number, string]>(number, literal(' % are left alone')), ([percent]) => percent),
  )
  const what = map(
    chain<[string, string, Pick<Message, 'variants' | 'split'>, number]>(channel, destination, variants, alone),
    ([, to, own, holdOut]) => ({ destination: to, ...own, holdOut }),
  )
  const whatFor = map(
    chain<[EventPick, TimeLimit, number | null]>(
      after('for ', picked),
      after(' within ', limit),
      maybe(
        map(
          chain<[number, string]>(
            after('; one costs ', number),
            pattern(/ [A-Z]{3}/uy, ([text]) => text),
          ),
          ([n]) => n,
        ),
      ),
    ),
    ([goal, within, cost]) => ({ goal, within, ...(cost === null ? {} : { cost }) }),
  )
  return map(
    chain<[Who, string | null, { start: Start | null; parts: Partial<Message> }, Partial<Message>, Partial<Message>]>(
      who,
      maybe(after(', not among ', segment)),
      after('; ', when),
      after('; ', what),
      after('; ', whatFor),
    ),
    ([first, notAmong, { start: at, parts }, said, goal]): Partial<Message> | null => {
      // A time of its own belongs to those who are in a segment at that time, and to them alone.
      const trigger = 'asked' in first ? at : at === null ? first.trigger : null
      if (trigger === null) return null
      return { segment: first.segment, ...(notAmong === null ? {} : { notAmong }), trigger, ...parts, ...said, ...goal }
    },
  )
}

const blanks = (many: number): Message['variants'] =>
  Array.from({ length: many }, (_, place) => ({
    ...{ name: String.fromCharCode(65 + place), title: '', text: '', link: '' as const, picture: '' as const },
  }))
