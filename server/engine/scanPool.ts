import type { AnyMark } from '../../core/questions/study.js'
import { scannerOf, type ScanKind } from '../../core/scanners.js'
import type { FoldRequest } from '../../core/log/fold.js'
import { sharedUint32, type EventBlock } from '../../core/log/log.js'
import type { MadeColumn } from '../../core/made/columns.js'
import { Calls } from '../pool/calls.js'
import { startWorker } from '../pool/startWorker.js'
import { Supervised, type ThreadLog, type ThreadState } from '../pool/supervised.js'
import type { Snapshot } from './keeper.js'
import { CONTROL, type ScanChunk, type ScanRequest } from './scanProtocol.js'
import { yieldTurn } from './turns.js'

/** The query was superseded by a newer one, or whoever asked has gone. */
export class CancelledError extends Error {
  readonly status = 499
  constructor() {
    super('The question was withdrawn before its answer was ready.')
  }
}

/** What a scan goes over, of which state. */
export type ScanWork = Pick<Snapshot, 'version'> & { chunks: ScanChunk[] }

/** One query's shared memory with the threads: where they are, and whether to stop. */
export class QueryControl {
  readonly control = new Int32Array(new SharedArrayBuffer(12))
  people = 0

  cancel(): void {
    Atomics.store(this.control, CONTROL.cancelled, 1)
  }

  get cancelled(): boolean {
    return Atomics.load(this.control, CONTROL.cancelled) === 1
  }

  /** People scanned so far, over all passes. */
  get done(): number {
    return Atomics.load(this.control, CONTROL.peopleDone)
  }
}

// Somebody waits for a question; nobody for a fold.
const SCAN_NICE = 4
const FOLD_NICE = 10

/**
 * The threads that scan. States of the store are installed in each of them when first needed, and dropped when unused. A
 * thread that dies is started again, with the states that are in use; the question it worked on fails.
 */
export class ScanPool {
  private readonly installed = new Map<number, { snapshot: Snapshot; uses: number }>()
  private newest = -1
  private readonly threads: Supervised<ScanRequest>[] = []

  constructor(size: number, log: ThreadLog) {
    for (let i = 0; i < size; i++)
      this.threads.push(
        new Supervised<ScanRequest>({
          ...{ name: `scan ${i + 1}`, start: () => startWorker('scan', { nice: SCAN_NICE }), log },
          // At the first start there is nothing yet.
          onStart: () => {
            for (const { snapshot } of this.installed.values()) this.threads[i]?.tell(installing(snapshot))
          },
        }),
      )
  }

  /** Says that a query begins to use a state; `release` says that it is done. */
  retain(snapshot: Snapshot): void {
    const { version } = snapshot
    const found = this.installed.get(version)
    if (found) found.uses++
    else {
      this.installed.set(version, { snapshot, uses: 1 })
      this.tellAll(installing(snapshot))
    }
    this.newest = Math.max(this.newest, version)
    this.dropUnused()
  }

  /** Gives the threads columns that were made for a state they have. */
  extend({ version }: Snapshot, columns: readonly MadeColumn[]): void {
    if (columns.length > 0) this.tellAll({ kind: 'extend', version, columns })
  }

  release({ version }: Snapshot): void {
    this.installed.get(version)!.uses--
    this.dropUnused()
  }

  private dropUnused(): void {
    for (const [version, { uses }] of this.installed) {
      if (uses > 0 || version === this.newest) continue
      this.installed.delete(version)
      this.tellAll({ kind: 'drop', version })
    }
  }

  private tellAll(request: ScanRequest): void {
    for (const thread of this.threads) thread.tell(request)
  }

  /** Scans everybody with a plan and joins the parts in order of people. */
  async scan(work: ScanWork, analysis: ScanKind, plan: unknown, query: QueryControl): Promise<unknown> {
    const { merge } = scannerOf(analysis)
    const [first, ...rest] = await this.run(work, analysis, plan, null, query)
    let joined = first
    let turn = performance.now()
    for (const part of rest) {
      joined = merge(joined, part)
      if (performance.now() - turn < 10) continue
      await yieldTurn()
      turn = performance.now()
    }
    return joined
  }

  /** Reads the people counted in any of the marks, ascending. */
  async select(
    snapshot: Snapshot,
    analysis: ScanKind,
    plan: unknown,
    marks: readonly AnyMark[],
    query: QueryControl,
  ): Promise<Uint32Array> {
    const parts = (await this.run(snapshot, analysis, plan, marks, query)) as Uint32Array[]
    const people = sharedUint32(parts.reduce((n, part) => n + part.length, 0))
    let at = 0
    for (const part of parts) {
      people.set(part, at)
      at += part.length
    }
    return people.sort()
  }

  private async run(
    { version, chunks }: ScanWork,
    analysis: ScanKind,
    plan: unknown,
    marks: readonly AnyMark[] | null,
    query: QueryControl,
  ): Promise<unknown[]> {
    if (query.cancelled) throw new CancelledError()
    const { control } = query
    Atomics.store(control, CONTROL.nextChunk, 0)
    // One that is just being started is not waited for where others can do its share.
    const up = this.threads.filter((thread) => thread.state.up)
    const request: ScanRequest = { kind: 'scan', version, analysis, plan, marks, chunks, control }
    try {
      const answers = await Promise.all(
        (up.length > 0 ? up : this.threads).map((thread) => thread.ask<[number, unknown][]>(request)),
      )
      if (query.cancelled) throw new CancelledError()
      return answers
        .flat()
        .sort(([a], [b]) => a - b)
        .map(([, part]) => part)
    } catch (error) {
      // What the others find is of no use any more.
      query.cancel()
      throw error
    }
  }

  get states(): ThreadState[] {
    return this.threads.map((thread) => thread.state)
  }

  /** Asks every thread whether it is there. @returns those that did not answer in time */
  async silent(limitMs: number): Promise<string[]> {
    const asked = this.threads.map(async (thread) => {
      const late = new Promise<string[]>((resolve) => setTimeout(resolve, limitMs, [thread.state.thread]).unref())
      const answer = thread.ask({ kind: 'ping' }).then(
        () => [],
        () => [thread.state.thread],
      )
      return Promise.race([answer, late])
    })
    return (await Promise.all(asked)).flat()
  }

  kill(thread: string): void {
    this.threads.find(({ state }) => state.thread === thread)?.kill('it was ended from outside')
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map((thread) => thread.close()))
  }
}

function installing({ version, logs }: Snapshot): ScanRequest {
  return { kind: 'install', version, logs }
}

/** Folds in a thread of its own, so that queries do not wait for it. */
export function foldInThread(request: FoldRequest): { block: Promise<EventBlock>; kill: () => void } {
  const thread = new Calls<ScanRequest>(startWorker('scan', { nice: FOLD_NICE }))
  const end = () => void thread.worker.terminate()
  return { block: thread.ask<EventBlock>({ kind: 'fold', request }).finally(end), kill: end }
}
