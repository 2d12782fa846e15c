import { spawn, type ChildProcess } from 'node:child_process'
import { createInterface } from 'node:readline'
import type { IngestReply } from '../ingest/ingest.worker.js'
import type { TakeLook } from '../ingest/takeBack.js'
import { ownProgram } from '../root.js'
import { demoNote } from '../store/demoNote.js'
import { furnishingStore, type Furnishing } from '../store/furnishing.js'
import { OWN_FORM } from '../ingest/body.js'
import type { Inside } from './inside.js'

/** Where the demo is: nowhere, on its way in, in this workspace, or on its way out. */
export type DemoState = { problem: string | null } & (
  { at: 'nowhere' | 'here' | 'going' } | { at: 'coming'; events: number; of: number | null }
)

/** What the demo's events are noted to have come from. */
const ORIGIN = 'demo'
const ALL_TIME = { fromMs: -8.64e15, untilMs: 8.64e15 }

/**
 * The demo in a workspace of one's own, to look at before anything of one's own is sent: it comes through the same thread
 * as everything else, is known by where it came from, and goes again whole. What a stop interrupts goes on at the next
 * start.
 */
export function demoDoor({ db, logger, stores, threads, known, toWrite }: Inside, people: number) {
  const note = demoNote(db)
  const furnishing = furnishingStore(db)
  let child: ChildProcess | null = null
  /** what is under way */
  let task: Promise<void> | null = null
  let closing = false
  let events = 0
  let of: number | null = null
  let problem: string | null = null

  /** Takes one line of what the demo's program writes. */
  async function take(line: string): Promise<void> {
    const gap = line.indexOf(' ')
    const word = line.slice(0, gap)
    const content = line.slice(gap + 1)
    switch (word) {
      case 'received':
        return note.write({ ...note.read(), receivedMs: Number(content) })
      case 'total':
        of = Number(content)
        return
      case 'events':
      case 'people': {
        const body = new TextEncoder().encode(content)
        const { receivedMs } = note.read()
        const request = { kind: word, body, form: OWN_FORM, receivedMs, key: ORIGIN } as const
        const { accepted, duplicates } = await threads.ingest.ask<IngestReply>(request)
        if (word === 'events') events += accepted + duplicates
        return threads.accepted()
      }
      case 'furnishing': {
        await toWrite()
        const put = note.read().put ?? furnishing.put(JSON.parse(content) as Furnishing, Date.now())
        return note.write({ ...note.read(), put })
      }
    }
  }

  async function pour(): Promise<void> {
    events = 0
    of = null
    problem = null
    child = spawn(process.execPath, [...ownProgram('demo/pour.cli.ts', 'pour.js'), '--people', String(people)], {
      stdio: ['ignore', 'pipe', 'inherit'],
      env: process.env,
    })
    for await (const line of createInterface({ input: child.stdout! })) await take(line)
    if (note.read().put === null) throw new Error('the program that makes it ended early')
    await known()
    note.write({ ...note.read(), at: 'here' })
  }

  async function empty(): Promise<void> {
    const choice = { of: 'key', id: ORIGIN, ...ALL_TIME } as const
    const request = { kind: 'take back', id: ORIGIN, choice, seqs: null, nowMs: Date.now(), forGood: true } as const
    await threads.ingest.ask<TakeLook>(request)
    await toWrite()
    const { put, receivedMs } = note.read()
    stores.aside.removeReceived(receivedMs)
    if (put) furnishing.remove(put)
    await known()
    note.drop()
  }

  /** One thing at a time; what fails leaves the way out open. */
  function run(work: () => Promise<void>, what: string): void {
    task ??= work()
      .catch((error: Error) => {
        if (closing) return
        logger.error({ error: error.message }, `the demo could not be ${what}`)
        problem = `The demo could not be ${what}: ${error.message}`
      })
      .finally(() => {
        task = null
        child?.kill()
        child = null
      })
  }

  return {
    demo: {
      state(): DemoState {
        const { at } = note.read()
        // What failed half-way can be taken out, and begun anew.
        if (at !== 'nowhere' && !task) return { at: 'here', problem }
        return at === 'coming' ? { at, events, of, problem } : { at, problem }
      },
      /** Begins to bring it in; does nothing where it is there, or on its way. */
      async bring(): Promise<void> {
        await task
        if (note.read().at !== 'nowhere') return
        await toWrite()
        note.write({ at: 'coming', receivedMs: 0, put: null })
        run(pour, 'brought in')
      },
      /** Begins to take it out, once it is in. */
      async takeOut(): Promise<void> {
        if (note.read().at === 'going' && task) return
        await task
        if (note.read().at === 'nowhere') return
        await toWrite()
        note.write({ ...note.read(), at: 'going' })
        run(empty, 'taken out')
      },
    },
    /** The thread that writes has been started: what a stop had interrupted goes on. */
    goOnWithDemo(): void {
      const { at } = note.read()
      if (at === 'coming') run(pour, 'brought in')
      if (at === 'going') run(empty, 'taken out')
    },
    stopDemo(): void {
      closing = true
      child?.kill()
    },
  }
}
