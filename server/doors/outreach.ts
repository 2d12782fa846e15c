import { randomBytes } from 'node:crypto'
import path from 'node:path'
import type { Fault } from '../../core/questions/faults.js'
import { faultWords } from '../../core/questions/faults.js'
import type { DestinationSetup } from '../../core/outreach/destination.js'
import { expectedSize, type ExpectedSize } from '../../core/outreach/expected.js'
import type { Sync } from '../../core/outreach/sync.js'
import { dueAfter } from '../../core/outreach/schedule.js'
import type { Rule } from '../../core/segments/rule.js'
import { startOfDay } from '../../core/time/range.js'
import { Temporal } from 'temporal-polyfill'
import type { SegmentSize } from '../engine/segments.js'
import type { Tried } from '../outreach/outreach.worker.js'
import type { Decided, Look } from '../outreach/decide.js'
import { sealer } from '../outreach/secrets.js'
import type { StandInState } from '../outreach/standIns/standIn.worker.js'
import { CallError } from '../pool/calls.js'
import { destinationStore } from '../store/destinations.js'
import { segmentStore } from '../store/segments.js'
import { syncStore, type SavedSync } from '../store/syncs.js'
import { cityLife } from './cityLife.js'
import { workspaceClock } from './clock.js'
import type { Inside } from './inside.js'
import { messagesDoor } from './messages.js'

type Faulty = { faults: Fault[] }

/** How many go, and how many of them want none of it. */
export interface Expected extends ExpectedSize {
  keptOut: number
}

/** What is due is looked for so often. */
const TICK_MS = 1000

/** Segments that are kept in step with destinations: set up, started, and looked after by the clock. */
export function outreachDoor(inside: Inside) {
  const { db, ask, stores, settings, threads, logger, toWrite } = inside
  const destinations = destinationStore(db)
  const syncs = syncStore(db)
  const segments = segmentStore(db)
  const seals = sealer(settings.secretKey, settings.dataDir)
  const { outreach } = threads
  const clock = workspaceClock(inside)
  const { tickMessages, wipeSimulated, messages } = messagesDoor(inside, clock)
  const world = cityLife(inside)
  const zone = () => stores.settings.get().zone

  const membersOf = (segment: string): Rule => ({ hold: 'all', of: [{ kind: 'segment', segment }] })

  /** Stands still until somebody says what is to be done. */
  async function hold(id: string, why: string): Promise<void> {
    await toWrite()
    syncs.setState(id, 'paused', why)
  }

  /** Looks who is in the segment now, and writes down what is to be sent. */
  async function run({ id, definition, startedMs, ruleMs }: SavedSync, nowMs: number): Promise<void> {
    const segment = segments.saved(definition.segment)
    if (!segment) return hold(id, 'Its segment was deleted. Choose another one, or bring it back.')
    const { savedMs } = segments.get(definition.segment)
    await toWrite()
    if (ruleMs !== null && savedMs !== ruleMs) return syncs.setState(id, 'asking')
    const first = syncs.runs(id, 1).length === 0
    const dueMs = dueAfter(definition.schedule, nowMs, startedMs ?? nowMs, zone())
    const people = await ask<Uint32Array | Faulty>({ kind: 'freeze', ref: { rule: membersOf(definition.segment) } })
    if ('faults' in people) return hold(id, people.faults.map((fault) => faultWords(fault)).join(' '))
    const quiet = definition.schedule.kind === 'each change' && !first
    const look: Look = { first, quiet, dueMs, ruleMs: savedMs }
    await outreach.ask<Decided | null>({ kind: 'decide', sync: id, people, look, nowMs })
  }

  let ticking = false
  /** What is due is done, one after another: one that was missed while the server stood still is done once. */
  async function tick(): Promise<void> {
    if (ticking || !threads.loaded) return
    ticking = true
    try {
      const stepped = await clock.step()
      if (stepped) await world.live(stepped)
      if (!stepped && !isAtWork()) return
      const nowMs = await clock.now()
      for (const sync of syncs.due(nowMs)) {
        const { until } = sync.definition
        if (until && nowMs >= endOf(until)) {
          await toWrite()
          syncs.setState(sync.id, 'ended')
          continue
        }
        await run(sync, nowMs).catch((error: Error) => {
          // What is being started again is asked at the next tick.
          if (!(error instanceof CallError && error.status === 503)) throw error
        })
      }
      await tickMessages(nowMs)
    } catch (error) {
      logger.error({ error: (error as Error).message }, 'outreach could not be looked after')
    } finally {
      ticking = false
    }
  }
  /** Whether there is anything that the clock looks after. */
  const isAtWork = () =>
    syncs.list().some(({ state }) => state === 'running') || messages.list().some(({ startedMs }) => startedMs !== null)
  const endOf = (day: string) => startOfDay(Temporal.PlainDate.from(day).add({ days: 1 }), zone())

  const timer = setInterval(() => void tick(), TICK_MS)
  timer.unref()

  let lastExpected: { key: string; value: Expected } | null = null

  /** Who would be sent, before anybody is. A page that looks again and again is told the same for a minute. */
  async function expected(segment: string): Promise<Expected | Faulty> {
    const savedMs = segments.saved(segment) ? segments.get(segment).savedMs : null
    const minute = Math.floor(Date.now() / 60_000)
    const key = JSON.stringify([segment, savedMs, threads.version, minute, stores.settings.get().optOut])
    if (lastExpected?.key === key) return lastExpected.value
    const value = await lookedAt(segment)
    if (!('faults' in value)) lastExpected = { key, value }
    return value
  }

  async function lookedAt(segment: string): Promise<Expected | Faulty> {
    const rule = membersOf(segment)
    const size = await ask<SegmentSize | Faulty>({ kind: 'segment size', rule, every: 'day', split: null })
    if ('faults' in size) return size
    const whole = size.points.filter(({ open }) => !open).map(({ members }) => members)
    const now = size.points.at(-1)?.members ?? 0
    const people = await ask<Uint32Array | Faulty>({ kind: 'freeze', ref: { rule } })
    const keptOut = 'faults' in people ? 0 : await outreach.ask<number>({ kind: 'count opted out', people })
    return { ...expectedSize(now, whole), keptOut }
  }

  return {
    destinations: {
      get: destinations.get,
      list: destinations.list,
      log: destinations.log,
      /** What waits for its next try is tried at once: what was in its way may be mended. */
      save(id: string, name: string, setup: DestinationSetup): void {
        destinations.save(id, name, setup)
        destinations.tryAgain(id, Date.now())
        void outreach.ask({ kind: 'wake' }).catch(() => {})
      },
      deleted: destinations.deleted,
      remove: destinations.remove,
      bringBack: destinations.bringBack,
      /** @returns its id, and the secret that its calls are signed with: the only time it is seen */
      create(name: string, setup: DestinationSetup, nowMs: number, id?: string): { id: string; secret: string | null } {
        const secret = setup.kind === 'webhook' ? newSecret() : null
        const made = destinations.create(name, setup, secret === null ? null : seals.seal(secret), nowMs, id)
        return { id: made, secret }
      },
      /** Calls are signed with another secret from now on. */
      async newSecret(id: string): Promise<string> {
        const secret = newSecret()
        destinations.setSecret(id, seals.seal(secret))
        await outreach.ask({ kind: 'forget', destination: id })
        return secret
      },
      /** Where the files of a folder are put. */
      folderOf: (id: string): string => path.join(settings.dataDir, 'outreach', id),
      /** What the stand-in says; null where there is none. */
      state: (id: string) => outreach.ask<StandInState | null>({ kind: 'stand-in', destination: id }),
      tryOut: (id: string) => outreach.ask<Tried>({ kind: 'try', destination: id }),
    },
    syncs: {
      ...syncs,
      expected,
      /** Saves what it is; of one that runs, when it looks next goes by what it says now. */
      async save(id: string, definition: Sync): Promise<void> {
        const nowMs = await clock.now()
        const before = syncs.get(id)
        syncs.save(id, definition, nowMs)
        const isSame = JSON.stringify(before.definition.schedule) === JSON.stringify(definition.schedule)
        if (before.state !== 'running' || isSame) return
        syncs.setDue(id, dueAfter(definition.schedule, nowMs, before.startedMs ?? nowMs, zone()) ?? nowMs)
      },
      /** From now on it is kept in step; the first look is at once, or at its time of day. */
      async start(id: string): Promise<void> {
        const { definition, startedMs } = syncs.get(id)
        const nowMs = await clock.now()
        const at = definition.schedule.kind === 'daily' ? dueAfter(definition.schedule, nowMs, nowMs, zone()) : nowMs
        await toWrite()
        syncs.begin(id, startedMs ?? nowMs, at ?? nowMs)
        await outreach.ask({ kind: 'wake' })
        void tick()
      },
      /** Looks at once, whatever its time. */
      async runNow(id: string): Promise<void> {
        const nowMs = await clock.now()
        await toWrite()
        syncs.setDue(id, nowMs)
        void tick()
      },
      /** The rule has changed: those already there go by it from now on, or stay. */
      async settle(id: string, how: 'follow' | 'keep'): Promise<void> {
        const nowMs = await clock.now()
        await toWrite()
        if (how === 'keep') syncs.keepAll(id)
        syncs.setRule(id, null)
        syncs.setState(id, 'running')
        syncs.setDue(id, nowMs)
        void tick()
      },
    },
    messages,
    wipeSimulated,
    clock,
    /** What a stop had cut short goes on. */
    goOnWithOutreach(): void {
      if (syncs.list().some(({ state }) => state === 'running')) void outreach.ask({ kind: 'wake' }).catch(() => {})
    },
    stopOutreach: () => clearInterval(timer),
  }
}

const newSecret = () => `whsec_${randomBytes(24).toString('base64')}`
export type { SavedSync } from '../store/syncs.js'
