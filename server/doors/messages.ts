import { Temporal } from 'temporal-polyfill'
import { isChannel, type Outcome } from '../../core/outreach/destination.js'
import { DAY_MS } from '../../core/outreach/entering.js'
import { chancesOfBest, floored } from '../../core/outreach/adaptive.js'
import { fieldsIn, fillText, readText } from '../../core/outreach/fields.js'
import { fixedShares, type Message } from '../../core/outreach/message.js'
import { dueAfter, LOOK_MS } from '../../core/outreach/schedule.js'
import { messageFaults } from '../../core/outreach/faults.js'
import { isGoal, type Ahead } from '../../core/outreach/ahead.js'
import { limitMs } from '../../core/questions/limits.js'
import { faultWords, type Fault } from '../../core/questions/faults.js'
import type { DidBetween } from '../../core/log/didBetween.js'
import { dayOf, startOfDay } from '../../core/time/range.js'
import { eventWords } from '../../core/words/words.js'
import type { Rule } from '../../core/segments/rule.js'
import type { SegmentCount } from '../engine/segments.js'
import type { Entered, EntryLook } from '../outreach/messages/enter.js'
import type { Waiting } from '../outreach/messages/ownEvents.js'
import type { PeopleLook } from '../outreach/outreach.worker.js'
import { CallError } from '../pool/calls.js'
import type { TakeLook } from '../ingest/takeBack.js'
import { destinationStore } from '../store/destinations.js'
import { messageStore, type SavedMessage } from '../store/messages.js'
import { segmentStore } from '../store/segments.js'
import { OWN_FORM } from '../ingest/body.js'
import type { Inside } from './inside.js'
import type { WorkspaceClock } from './clock.js'

type Faulty = { faults: Fault[] }
/** What the events are noted to have come by. */
const OWN_KEY = 'outreach'
const SIMULATED_KEY = 'simulated people'
const ALL_TIME = { fromMs: -8.64e15, untilMs: 8.64e15 }
/** The goal's past, and how many come, are read from so many days. */
const PAST_DAYS = 28
const SHOWN_PEOPLE = 5

/** Something stands in the way of starting; the app answers 422. */
export class NotReadyError extends Error {
  readonly status = 422
}

/** Messages: set up, started, and looked after by the clock. */
export function messagesDoor({ db, ask, stores, threads, toWrite, known }: Inside, clock: WorkspaceClock) {
  const store = messageStore(db)
  const destinations = destinationStore(db)
  const segments = segmentStore(db)
  const { outreach, ingest } = threads
  const zone = () => stores.settings.get().zone
  const membersOf = (segment: string): Rule => ({ hold: 'all', of: [{ kind: 'segment', segment }] })

  async function peopleOf(rule: Rule): Promise<Uint32Array> {
    const people = await ask<Uint32Array | Faulty>({ kind: 'freeze', ref: { rule } })
    if ('faults' in people) throw new NotReadyError(people.faults.map((fault) => faultWords(fault)).join(' '))
    return people
  }

  async function hold(id: string, why: string): Promise<void> {
    await toWrite()
    // What it was about to look at is looked at once it goes on.
    store.setState(id, 'paused', why, store.get(id).dueMs)
  }

  /** What is gone that it needs; null = nothing. */
  function gone({ segment, notAmong, destination }: Message): string | null {
    for (const id of [segment, notAmong])
      if (id !== '' && !segments.saved(id))
        return 'Its segment was deleted. Bring it back, or copy the message and choose another.'
    if (!destinations.list().some(({ id }) => id === destination))
      return 'Its destination was deleted. Bring it back, or copy the message and choose another.'
    return null
  }

  /** For whom the trigger holds now. */
  async function heldFor(
    { segment, trigger }: Message,
    sinceMs: number,
    nowMs: number,
  ): Promise<Pick<EntryLook, 'people' | 'lastDid'>> {
    const members = segment === '' ? null : await peopleOf(membersOf(segment))
    if (trigger.kind !== 'event') return { people: members ?? new Uint32Array(0), lastDid: null }
    const request = { kind: 'did between', pick: trigger.event, fromMs: sinceMs, untilMs: nowMs } as const
    const did = await ask<DidBetween>(request)
    if (!members) return { people: did.people, lastDid: did.last }
    const inside = new Set(members)
    const places = [...did.people.keys()].filter((place) => inside.has(did.people[place]!))
    return {
      people: Uint32Array.from(places, (place) => did.people[place]!),
      lastDid: Float64Array.from(places, (place) => did.last[place]!),
    }
  }

  function nextDue({ trigger }: Message, nowMs: number): number | null {
    switch (trigger.kind) {
      case 'once':
        return null
      case 'daily':
        return dueAfter({ kind: 'daily', at: trigger.at }, nowMs, nowMs, zone())
      case 'comes in':
      case 'event':
        return nowMs + LOOK_MS
    }
  }

  /** When it first looks, once it has been started. */
  function firstDue({ trigger }: Message, nowMs: number): number {
    if (trigger.kind === 'daily') return nextDue({ trigger } as Message, nowMs)!
    if (trigger.kind !== 'once' || trigger.at === undefined) return nowMs
    return Temporal.PlainDateTime.from(trigger.at).toZonedDateTime(zone()).epochMilliseconds
  }

  /** The variants' shares today; under a moving split worked out once a local day. */
  async function sharesOf({ id, definition }: SavedMessage, nowMs: number): Promise<number[]> {
    const { split, variants, goal, within } = definition
    if (split.kind === 'fixed' || variants.length === 1) return fixedShares(split, variants.length)
    const day = dayOf(nowMs, zone())
    const last = store.shares(id).at(-1)
    if (last?.day === day.toString()) return last.shares
    const withinMs = limitMs(within)
    const rows = store.firstEntries(id, startOfDay(day, zone()) - withinMs)
    const moments = {
      people: Uint32Array.from(rows, ({ person }) => person),
      atMs: Float64Array.from(rows, ({ atMs }) => atMs),
    }
    const did =
      rows.length === 0
        ? new Uint8Array(0)
        : await ask<Uint8Array>({ kind: 'did within', pick: goal, moments, withinMs })
    const tried = variants.map(() => ({ did: 0, over: 0 }))
    rows.forEach(({ variant }, i) => {
      const own = tried[variant]
      if (!own) return
      own.over++
      own.did += did[i]!
    })
    const shares = floored(chancesOfBest(tried))
    await toWrite()
    store.putShares(id, { day: day.toString(), shares, tried })
    return shares
  }

  /** Looks who comes in. */
  async function look(message: SavedMessage, nowMs: number): Promise<void> {
    const { id, definition, startedMs } = message
    const { setup } = destinations.get(definition.destination)
    const shares = await sharesOf(message, nowMs)
    const held = await heldFor(definition, (startedMs ?? nowMs) - 1, nowMs)
    const notAmong = definition.notAmong === '' ? new Uint32Array(0) : await peopleOf(membersOf(definition.notAmong))
    const dueMs = nextDue(definition, nowMs)
    const about = { id, definition, shares, notAmong, dueMs, zone: zone(), channel: setup.kind, ...held }
    await outreach.ask<Entered>({ kind: 'enter', look: about, nowMs })
  }

  /** Those whose time has come are sent it. */
  async function release({ id, definition }: SavedMessage, nowMs: number): Promise<void> {
    const fromMs = store.firstDueMs(id, nowMs)
    if (fromMs === null) return
    const { unless } = definition
    const did = unless && (await ask<DidBetween>({ kind: 'did between', pick: unless, fromMs, untilMs: nowMs }))
    const what = unless ? eventWords(unless.event, { labels: stores.catalog.labels(stores.mending.get()) }) : ''
    await outreach.ask<number>({ kind: 'release', id, did: did ?? null, what, nowMs })
  }

  /** What messages gave rise to comes in like anybody's events. */
  async function takeIn(nowMs: number): Promise<void> {
    for (;;) {
      const { upTo, runs } = await outreach.ask<Waiting>({ kind: 'collect', nowMs })
      if (runs.length === 0) return
      for (const { kind, simulated, receivedMs, body } of runs) {
        const form = { body: new TextEncoder().encode(body), form: OWN_FORM, receivedMs: Math.max(receivedMs, nowMs) }
        await ingest.ask({ kind, ...form, key: simulated ? SIMULATED_KEY : OWN_KEY })
      }
      await outreach.ask({ kind: 'taken', upTo })
      threads.accepted()
    }
  }

  async function one(message: SavedMessage, nowMs: number): Promise<void> {
    const { id, definition, dueMs } = message
    const missing = gone(definition)
    if (missing !== null) return hold(id, missing)
    try {
      if (dueMs !== null && dueMs <= nowMs) await look(message, nowMs)
      await release(message, nowMs)
    } catch (error) {
      if (!(error instanceof NotReadyError)) throw error
      return hold(id, error.message)
    }
    // Who comes in at one time only, and has been sent it, leaves nothing to be done.
    const now = store.get(id)
    if (now.state === 'running' && now.dueMs === null && store.waiting(id) === 0) {
      await toWrite()
      store.end(id, nowMs)
    }
  }

  let lastAhead: { key: string; value: Ahead } | null = null

  async function lookedAhead(definition: Message, fields: string[]): Promise<Ahead> {
    const nowMs = await clock.now()
    const { segment, trigger, notAmong, goal, within } = definition
    const isEvent = trigger.kind === 'event'
    const past = nowMs - PAST_DAYS * DAY_MS
    const { people } = await heldFor(definition, past, nowMs)
    const left = notAmong === '' ? new Set<number>() : new Set(await peopleOf(membersOf(notAmong)))
    const among = people.filter((person) => !left.has(person))
    const request = { kind: 'look at people', people: among, fields, most: SHOWN_PEOPLE } as const
    const looked = await outreach.ask<PeopleLook>(request)
    const fromMs = nowMs - limitMs(within)
    const did = isGoal(definition)
      ? await ask<DidBetween>({ kind: 'did between', pick: goal, fromMs, untilMs: nowMs })
      : null
    const inside = new Set(among)
    const count =
      trigger.kind === 'comes in' && segment !== ''
        ? await ask<SegmentCount | Faulty>({ kind: 'segment count', rule: membersOf(segment) })
        : null
    return {
      now: isEvent ? 0 : people.length,
      perDay: isEvent ? people.length / PAST_DAYS : count && !('faults' in count) ? count.week.in / 7 : 0,
      notAmong: people.length - among.length,
      optedOut: looked.optedOut,
      goalShare:
        did && among.length > 0 ? did.people.filter((person) => inside.has(person)).length / among.length : null,
      fields: fields.map((field, i) => ({ field, ...looked.fields[i]! })),
      some: looked.some,
      of: among.length,
    }
  }

  /** Whether anything was ever started: where nothing was, the clock has nothing to look after. */
  const isUsed = () => store.list().some(({ startedMs }) => startedMs !== null)

  return {
    /** What is due is done; one that was missed while the server stood still is done once. */
    async tickMessages(nowMs: number): Promise<void> {
      if (!isUsed()) return
      for (const message of store.list())
        if (message.state === 'running')
          await one(message, nowMs).catch((error: Error) => {
            // What is being started again is asked at the next tick.
            if (!(error instanceof CallError && error.status === 503)) throw error
          })
      await takeIn(nowMs)
    },
    messages: {
      ...store,
      /** What stands in the way of starting it, in words. */
      faults: (definition: Message): string[] => {
        const found = destinations.list().find(({ id }) => id === definition.destination)
        const channel = found && isChannel(found.setup.kind) ? found.setup.kind : null
        const missing = definition.destination === '' ? null : gone(definition)
        return [...messageFaults(definition, channel), ...(missing && channel ? [missing] : [])]
      },
      /** @throws NotReadyError @throws NotFoundError */
      async start(id: string): Promise<void> {
        const { definition, state, dueMs } = store.get(id)
        const [fault] = this.faults(definition)
        if (fault !== undefined) throw new NotReadyError(fault)
        const nowMs = await clock.now()
        await toWrite()
        // One that was paused goes on where it was: who comes in once has been looked for once.
        store.begin(id, nowMs, state === 'paused' ? dueMs : firstDue(definition, nowMs))
        await known()
        await outreach.ask({ kind: 'wake' })
      },
      async pause(id: string): Promise<void> {
        await toWrite()
        const { dueMs } = store.get(id)
        store.setState(id, 'paused', null, dueMs)
      },
      async stop(id: string): Promise<void> {
        const nowMs = await clock.now()
        await toWrite()
        store.end(id, nowMs)
      },
      /** How many it would reach, who not, and what could be seen of them. Who goes on writing is told the same for a minute. */
      async ahead(definition: Message): Promise<Ahead> {
        const { segment, trigger, notAmong, goal, within, variants } = definition
        const fields = fieldsIn(variants.flatMap(({ title, text }) => [title, text]))
        const rules = [segment, notAmong].map((id) => (segments.saved(id) ? segments.get(id).savedMs : null))
        const minute = Math.floor(Date.now() / 60_000)
        const { optOut } = stores.settings.get()
        const of = { segment, trigger, notAmong, goal, within, fields, rules, minute, optOut, version: threads.version }
        const key = JSON.stringify(of)
        if (lastAhead?.key === key) return lastAhead.value
        const value = await lookedAhead(definition, fields)
        lastAhead = { key, value }
        return value
      },
      /** A copy of one variant to somebody of one's own choice: it leaves at once, and is counted nowhere. */
      async testCopy(definition: Message, place: number, person: string): Promise<Outcome> {
        const variant = definition.variants[place]!
        const found = stores.events.findId('known', person) ?? stores.events.findId('anonymous', person)
        const fields = fieldsIn([variant.title, variant.text])
        const people = Uint32Array.from(found ? [found.person] : [])
        const request = { kind: 'look at people', people, fields, most: 1 } as const
        const { optedOut, some } = await outreach.ask<PeopleLook>(request)
        if (optedOut > 0) throw new NotReadyError(`${person} wants no messages, and is not sent a test copy either.`)
        const [own] = some
        const valueOf = (field: string) => own?.values[fields.indexOf(field)] ?? null
        const fill = (text: string) => fillText(readText(text).parts, valueOf, '…').text
        const said = {
          title: fill(variant.title),
          text: fill(variant.text),
          link: variant.link,
          picture: variant.picture,
        }
        return outreach.ask<Outcome>({
          kind: 'test copy',
          destination: definition.destination,
          delivery: {
            ...{ key: `test.${Date.now()}.${person}`, change: 'message', person },
            properties: Object.fromEntries(Object.entries(said).filter(([, value]) => value !== '')),
          },
        })
      },
    },
    /** Everything that simulated people did is taken out again, for good. */
    async wipeSimulated(): Promise<number> {
      const choice = { of: 'key', id: SIMULATED_KEY, ...ALL_TIME } as const
      const request = {
        kind: 'take back',
        id: SIMULATED_KEY,
        choice,
        seqs: null,
        nowMs: Date.now(),
        forGood: true,
      } as const
      const { events } = await ingest.ask<TakeLook>(request)
      await known()
      return events
    },
  }
}
