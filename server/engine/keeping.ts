import type { MessagePort } from 'node:worker_threads'
import type { Db } from '../store/database.js'
import { knowDays } from '../../core/time/range.js'
import type { ThreadLog } from '../pool/supervised.js'
import { handOver } from './handOver.js'
import type { LogKeeper } from './keeper.js'
import { foldInThread } from './scanPool.js'
import { inTurns, Lane } from './turns.js'

interface Around {
  note: (what: string) => void
  log: ThreadLog
  tell: (notice: { kind: string; version?: number; rows?: number; of?: number }) => void
  /** keeps what the next one of its kind may go on from */
  keep: (port: MessagePort) => void
}

// Other processes may write as well, an import from the command line for one: SQLite tells that the file has changed.
// What this process writes is told of sooner, by a request.
const POLL_MS = 1500
const FIRST_WAIT_MS = 1000
const MOST_WAIT_MS = 60_000
/** What came since is read from the file: some seconds' worth is soon read. */
const HANDED_EVERY_MS = 15_000

/**
 * Keeps the column store current beside the questions: reads what was written, puts it in order, has it folded, all in
 * turns. One thing after the other; what is asked for while the like waits to begin is done with it.
 */
export class Keeping {
  private readonly lane = new Lane()
  private next: Promise<boolean> | null = null
  private fold: (() => void) | null = null
  private foldNotBefore = 0
  private foldFailures = 0
  private fileVersion = 0
  private handedMs = -Infinity
  private handedEvents = -1
  private readonly poll: NodeJS.Timeout
  /** done once all events that there were at the start have been read */
  readonly loading: Promise<boolean>
  ready = false
  loaded = 0
  toLoad = 0

  constructor(
    private readonly db: Db,
    private readonly keeper: LogKeeper,
    private readonly around: Around,
  ) {
    this.toLoad = db.prepare<[], { n: number }>('SELECT IFNULL(MAX(seq), 0) AS n FROM events').get()!.n
    this.loading = this.refresh()
    this.loading.then(
      () => {
        this.ready = true
        around.tell({ kind: 'ready' })
        void this.knowCalendar()
      },
      () => {},
    )
    this.poll = setInterval(() => this.lookAtFile(), POLL_MS)
  }

  /** So that the first questions do not each wait for the calendar of years. */
  private async knowCalendar(): Promise<void> {
    const { oldestMs, newestMs } = this.keeper.current
    if (oldestMs === null || newestMs === null) return
    await inTurns(knowDays(oldestMs, Math.max(newestMs, Date.now()), this.keeper.zone), () =>
      this.around.note('calendar'),
    )
  }

  private lookAtFile(): void {
    const now = this.db.pragma('data_version', { simple: true }) as number
    if (now === this.fileVersion) return
    this.fileVersion = now
    void this.refresh()
  }

  /** Reads what was written before the call. @returns whether anything had changed */
  refresh(): Promise<boolean> {
    this.next ??= this.lane.run(() => {
      this.next = null
      return this.readNew()
    })
    return this.next
  }

  private async readNew(): Promise<boolean> {
    const { keeper, around } = this
    try {
      const changed = await inTurns(
        keeper.refresh((rows) => {
          this.loaded = rows
          if (!this.ready) around.tell({ kind: 'loading', rows, of: this.toLoad })
        }),
        () => around.note('refresh'),
      )
      if (changed) this.changed()
      this.startFold()
      await this.handOver()
      return changed
    } catch (error) {
      // Half of what was read may be lost to it: only reading all anew is sure. The thread ends, and is started again.
      setImmediate(() => {
        throw error
      })
      throw error
    }
  }

  /** Now and then, and whenever the main block is another one, writes down what it would take long to read again. */
  private async handOver(): Promise<void> {
    const { keeper, around } = this
    const { events } = keeper.current
    if (keeper.folding || performance.now() - this.handedMs < HANDED_EVERY_MS || events === this.handedEvents) return
    this.handedMs = performance.now()
    this.handedEvents = events
    around.keep(await inTurns(handOver(keeper.kept(), keeper.current.schema), () => around.note('handing over')))
  }

  private changed(): void {
    this.around.tell({ kind: 'changed', version: this.keeper.current.version })
  }

  private startFold(): void {
    const { keeper, around } = this
    if (performance.now() < this.foldNotBefore) return
    const request = keeper.startFold()
    if (!request) return
    const { block, kill } = foldInThread(request)
    this.fold = kill
    block.then(
      (folded) =>
        this.lane.run(async () => {
          this.fold = null
          this.foldFailures = 0
          around.note('taking in a fold')
          keeper.folded(folded)
          this.changed()
          this.handedMs = -Infinity
          await this.handOver()
        }),
      (error: Error) =>
        this.lane.run(async () => {
          this.fold = null
          const delayMs = Math.min(MOST_WAIT_MS, FIRST_WAIT_MS * 2 ** this.foldFailures++)
          this.foldNotBefore = performance.now() + delayMs
          keeper.foldFailed()
          around.log({ thread: 'fold', what: 'stopped', reason: error.message, delayMs })
        }),
    )
  }

  get folding(): boolean {
    return this.fold !== null
  }

  killFold(): void {
    this.fold?.()
  }

  stop(): void {
    clearInterval(this.poll)
  }
}
