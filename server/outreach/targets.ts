import { mkdirSync, renameSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { stringify } from 'csv-stringify/sync'
import { isChannel, type DestinationSetup, type Outcome } from '../../core/outreach/destination.js'
import { USUAL_REACTIONS } from '../../core/outreach/simulated.js'
import { own } from '../../core/names.js'
import { safeCell } from '../../core/words/safeCell.js'
import { startWorker } from '../pool/startWorker.js'
import { Supervised, type ThreadLog } from '../pool/supervised.js'
import type { Destination } from '../store/destinations.js'
import type { Call } from './sending.js'
import type { Crowd, Reacted } from './standIns/book.js'
import type { StandInRequest, StandInState } from './standIns/standIn.worker.js'
import { post } from './webhook.js'

/** One interface for all that people are sent to. */
export interface Target {
  /** @returns what becomes of each delivery @throws Error where nobody knows whether the call was taken */
  send(call: Call): Promise<Outcome[]>
  state(): Promise<StandInState | null>
  /** what the simulated people behind it have done by a moment of the workspace's clock; left out: there are none */
  reactions?(untilMs: number, most: number): Promise<Reacted[]>
  /** that has been written down */
  told?(keys: string[]): Promise<void>
  close(): Promise<void>
}

interface Place {
  dataDir: string
  log: ThreadLog
  /** hosts that webhooks may be sent to, beside the receiver that ships with it */
  hosts: () => readonly string[]
}

/** Who reacts to messages behind a channel. */
function crowdOf(setup: DestinationSetup): Crowd {
  if (!isChannel(setup.kind)) return null
  return { channel: setup.kind, model: ('people' in setup ? setup.people : undefined) ?? USUAL_REACTIONS }
}

/** An answer that takes longer counts as none. */
const ANSWER_MS = 10_000

/** What a destination is sent by: a stand-in's thread, HTTP, or files. */
export function openTarget(
  { id, setup }: Destination,
  secret: string | null,
  { dataDir, log, hosts }: Place,
  setupNow: () => DestinationSetup,
): Target {
  if (setup.kind === 'folder') return folderTarget(path.join(dataDir, 'outreach', id), setupNow)
  const standIns = path.join(dataDir, 'standins')
  mkdirSync(standIns, { recursive: true })
  const thread = new Supervised<StandInRequest>({
    ...{ name: `stand-in ${id}`, log, lazy: true },
    start: () => startWorker('standIn', { file: path.join(standIns, `${id}.db`), kind: setup.kind }),
  })
  const state = () => inTime(thread.ask<StandInState>({ kind: 'state' }))
  const close = () => thread.close({ kind: 'close' })
  if (setup.kind !== 'webhook')
    return {
      send({ deliveries }) {
        const now = setupNow()
        const crowd = crowdOf(now)
        return inTime(thread.ask<Outcome[]>({ kind: 'deliver', deliveries, behaviour: now.behaviour, crowd }))
      },
      reactions: (untilMs, most) => inTime(thread.ask<Reacted[]>({ kind: 'reactions', untilMs, most })),
      async told(keys) {
        await inTime(thread.ask({ kind: 'told', keys }))
      },
      state,
      close,
    }
  return {
    async send(call) {
      const now = setupNow()
      const address = now.kind === 'webhook' ? now.address : undefined
      if (address !== undefined) return post(address, call, secret ?? '', { hosts: hosts(), answerMs: ANSWER_MS })
      const port = await thread.ask<number>({ kind: 'listen', behaviour: now.behaviour, secret: secret ?? '' })
      const own = { hosts: ['127.0.0.1'], answerMs: ANSWER_MS }
      return post(`http://127.0.0.1:${port}/people`, call, secret ?? '', own)
    },
    state,
    close,
  }
}

function inTime<T>(answer: Promise<T>): Promise<T> {
  return Promise.race([
    answer,
    new Promise<never>((_resolve, reject) => {
      setTimeout(() => reject(new Error(`it did not answer for ${ANSWER_MS / 1000} s`)), ANSWER_MS).unref()
    }),
  ])
}

/** A file for each call, written beside and put in place at once: a call that is made again replaces its own. */
function folderTarget(dir: string, setupNow: () => DestinationSetup): Target {
  return {
    send({ key, deliveries }) {
      const setup = setupNow()
      mkdirSync(dir, { recursive: true })
      const format = setup.kind === 'folder' ? setup.format : 'csv'
      const file = path.join(dir, `${key.replaceAll(/[^\w.~-]/g, '_')}.${format}`)
      writeFileSync(`${file}.part`, format === 'csv' ? csvOf(deliveries) : linesOf(deliveries))
      renameSync(`${file}.part`, file)
      return Promise.resolve(deliveries.map(({ key: own }) => ({ key: own, taken: true as const })))
    },
    state: () => Promise.resolve(null),
    close: () => Promise.resolve(),
  }
}

function csvOf(deliveries: Call['deliveries']): string {
  const names = [...new Set(deliveries.flatMap(({ properties }) => Object.keys(properties)))].sort()
  return stringify([
    ['person', 'change', ...names.map(safeCell)],
    ...deliveries.map(({ person, change, properties }) => [
      safeCell(person),
      change,
      ...names.map((name) => cellOf(own(properties, name))),
    ]),
  ])
}

const cellOf = (value: unknown): string =>
  value === undefined || value === null ? '' : typeof value === 'string' ? safeCell(value) : JSON.stringify(value)

const linesOf = (deliveries: Call['deliveries']): string =>
  deliveries.map(({ person, change, properties }) => `${JSON.stringify({ person, change, properties })}\n`).join('')
