import { scannerOf, type ScanKind } from '../../core/scanners.js'
import type { FoldRequest } from '../../core/log/fold.js'
import type { EventBlock } from '../../core/log/log.js'
import type { MadeColumn } from '../../core/made/columns.js'
import type { Mark } from '../../core/questions/parts.js'
import { Calls } from '../pool/calls.js'
import { startWorker } from '../pool/startWorker.js'
import type { Snapshot } from './keeper.js'
import { CONTROL, type ScanRequest } from './scanProtocol.js'

/** The query was superseded by a newer one, or whoever asked has gone. */
export class CancelledError extends Error {
  constructor() {
    super('The question was withdrawn before its answer was ready.')
  }
}

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

/** The threads that scan. States of the store are installed in each of them when first needed, and dropped when unused. */
export class ScanPool {
  private readonly threads: Calls<ScanRequest>[]
  private readonly uses = new Map<number, number>()
  private newest = -1

  constructor(size: number) {
    this.threads = Array.from({ length: size }, () => new Calls<ScanRequest>(startWorker('scan', {})))
  }

  /** Says that a query begins to use a state; `release` says that it is done. */
  retain({ version, logs }: Snapshot): void {
    if (!this.uses.has(version)) {
      for (const thread of this.threads) void thread.ask({ kind: 'install', version, logs }).catch(() => {})
      this.uses.set(version, 0)
    }
    this.newest = Math.max(this.newest, version)
    this.uses.set(version, this.uses.get(version)! + 1)
    this.dropUnused()
  }

  /** Gives the threads columns that were made for a state they have. */
  extend({ version }: Snapshot, columns: readonly MadeColumn[]): void {
    if (columns.length === 0) return
    for (const thread of this.threads) void thread.ask({ kind: 'extend', version, columns }).catch(() => {})
  }

  release({ version }: Snapshot): void {
    this.uses.set(version, this.uses.get(version)! - 1)
    this.dropUnused()
  }

  private dropUnused(): void {
    for (const [version, uses] of this.uses) {
      if (uses > 0 || version === this.newest) continue
      this.uses.delete(version)
      for (const thread of this.threads) void thread.ask({ kind: 'drop', version }).catch(() => {})
    }
  }

  /** Scans everybody with a plan and joins the parts in order of people. */
  async scan(snapshot: Snapshot, analysis: ScanKind, plan: unknown, query: QueryControl): Promise<unknown> {
    const { merge } = scannerOf(analysis)
    const parts = await this.run(snapshot, analysis, plan, null, query)
    return parts.reduce((a, b) => merge(a, b))
  }

  /** Reads the people counted in any of the marks, ascending. */
  async select(
    snapshot: Snapshot,
    analysis: ScanKind,
    plan: unknown,
    marks: readonly Mark[],
    query: QueryControl,
  ): Promise<Uint32Array> {
    const parts = (await this.run(snapshot, analysis, plan, marks, query)) as Uint32Array[]
    const people = new Uint32Array(parts.reduce((n, part) => n + part.length, 0))
    let at = 0
    for (const part of parts) {
      people.set(part, at)
      at += part.length
    }
    return people.sort()
  }

  private async run(
    { version, chunks }: Snapshot,
    analysis: ScanKind,
    plan: unknown,
    marks: readonly Mark[] | null,
    query: QueryControl,
  ): Promise<unknown[]> {
    const { control } = query
    Atomics.store(control, CONTROL.nextChunk, 0)
    const answers = await Promise.all(
      this.threads.map((thread) =>
        thread.ask<[number, unknown][]>({ kind: 'scan', version, analysis, plan, marks, chunks, control }),
      ),
    )
    if (query.cancelled) throw new CancelledError()
    return answers
      .flat()
      .sort(([a], [b]) => a - b)
      .map(([, part]) => part)
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map((thread) => thread.worker.terminate()))
  }
}

/** Folds in a thread of its own, so that queries do not wait for it. */
export async function foldInThread(request: FoldRequest): Promise<EventBlock> {
  const thread = new Calls<ScanRequest>(startWorker('scan', {}))
  try {
    return await thread.ask<EventBlock>({ kind: 'fold', request })
  } finally {
    await thread.worker.terminate()
  }
}
