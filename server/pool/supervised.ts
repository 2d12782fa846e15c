import type { Worker } from 'node:worker_threads'
import { Calls, CallError } from './calls.js'

/** One line of what happens to threads. */
export type ThreadLog = (line: { thread: string; what: string; reason?: string; delayMs?: number }) => void

export interface Care {
  /** as the log and the pages that watch call it */
  name: string
  start: () => Worker
  log: ThreadLog
  onNotice?: (notice: { kind: string }) => void
  /** started when it is first asked something, not at once */
  lazy?: boolean
  /** told whenever it has been started, the first time as well */
  onStart?: () => void
  /** told when it is dead, before it is started again */
  onDeath?: (reason: Error) => void
}

/** How a thread is, for whoever watches. */
export interface ThreadState {
  thread: string
  up: boolean
  restarts: number
  /** why it last stopped */
  reason: string | null
}

const FIRST_DELAY_MS = 50
const MOST_DELAY_MS = 30_000
/** One that has answered and lived so long is well again: its next death is a first one. */
const WELL_AFTER_MS = 1500
/** So long a request waits for a thread that is being started before it is told. */
const PATIENCE_MS = 5000

/**
 * A thread that is started again when it dies: at once the first time, later and later while it does not get far. What
 * was being worked on is answered 503; what is asked meanwhile waits for a while, and then is told as well.
 */
export class Supervised<Request> {
  private calls: Calls<Request> | null = null
  private deaths = 0
  private startedMs = 0
  private restarts = 0
  private reason: string | null = null
  private idle: boolean
  private closed = false
  private timer: NodeJS.Timeout | null = null
  private readonly waiting = new Set<() => void>()

  constructor(private readonly care: Care) {
    this.idle = care.lazy ?? false
    if (!this.idle) this.start()
  }

  private start(): void {
    const { care } = this
    this.idle = false
    this.startedMs = performance.now()
    const calls: Calls<Request> = new Calls<Request>(
      care.start(),
      (notice) => care.onNotice?.(notice),
      (reason) => this.died(calls, reason),
    )
    this.calls = calls
    care.onStart?.()
    for (const wake of [...this.waiting]) wake()
  }

  private died(calls: Calls<Request>, error: Error): void {
    if (this.closed || this.calls !== calls) return
    this.calls = null
    const lived = performance.now() - this.startedMs
    this.deaths = calls.answered && lived > WELL_AFTER_MS ? 1 : this.deaths + 1
    this.reason = error.message
    const delayMs = Math.min(MOST_DELAY_MS, FIRST_DELAY_MS * 2 ** (this.deaths - 1))
    this.care.log({ thread: this.care.name, what: 'stopped', reason: error.stack ?? error.message, delayMs })
    this.care.onDeath?.(error)
    void calls.worker.terminate()
    this.timer = setTimeout(() => {
      this.restarts++
      this.care.log({ thread: this.care.name, what: 'started again' })
      this.start()
    }, delayMs)
  }

  async ask<T>(request: Request, transfer: readonly ArrayBuffer[] = []): Promise<T> {
    return (await this.up()).ask<T>(request, transfer)
  }

  /** Asks, and gives what is needed to withdraw the question again: which thread took it, under which number. */
  async begin<T>(
    request: Request,
  ): Promise<{ answer: Promise<T>; withdraw: (cancel: (call: number) => Request) => void }> {
    const calls = await this.up()
    const { call, answer } = calls.askWithId<T>(request)
    return { answer, withdraw: (cancel) => void calls.ask(cancel(call)).catch(() => {}) }
  }

  /** The thread that runs; waits for one that is being started. @throws CallError 503 when that takes too long */
  private up(): Promise<Calls<Request>> {
    if (this.idle && !this.closed) this.start()
    if (this.calls) return Promise.resolve(this.calls)
    if (this.closed) return Promise.reject(new CallError(CLOSED, { status: 503, retryAfterS: 5 }))
    return new Promise((resolve, reject) => {
      const wake = () => {
        this.waiting.delete(wake)
        clearTimeout(timer)
        if (this.calls) resolve(this.calls)
        else reject(new CallError(CLOSED, { status: 503, retryAfterS: 5 }))
      }
      const timer = setTimeout(() => {
        this.waiting.delete(wake)
        reject(new CallError(NOT_YET, { status: 503, retryAfterS: 5 }))
      }, PATIENCE_MS)
      this.waiting.add(wake)
    })
  }

  /** Says something that needs no answer; nobody hears it while the thread is down. */
  tell(request: Request): void {
    void this.calls?.ask(request).catch(() => {})
  }

  /** Ends the thread as if it had died by itself. */
  kill(reason: string): void {
    const { calls } = this
    if (!calls) return
    this.died(calls, new Error(reason))
  }

  /** ms since it was last heard of, by answers and notices; null while it is down */
  get silentMs(): number | null {
    return this.calls && performance.now() - this.calls.heardMs
  }

  /** whether nobody has asked it anything yet, so that it has not been started */
  get isIdle(): boolean {
    return this.idle
  }

  get pending(): number {
    return this.calls?.pending ?? 0
  }

  get state(): ThreadState {
    return {
      thread: this.care.name,
      up: this.idle || this.calls !== null,
      restarts: this.restarts,
      reason: this.reason,
    }
  }

  /**
   * Ends it for good.
   * @param last asked of it first, where it is up: it may end by itself then, which is no death
   */
  async close(last?: Request): Promise<void> {
    this.closed = true
    if (this.timer) clearTimeout(this.timer)
    for (const wake of [...this.waiting]) wake()
    const { calls } = this
    this.calls = null
    if (last !== undefined) await calls?.ask(last).catch(() => {})
    await calls?.worker.terminate()
  }
}

const CLOSED = 'The server is being stopped. Nothing that was saved is lost.'
const NOT_YET =
  'The part of the server that works this out is being started again, and has not come back yet. Nothing that was saved is lost. Try again in a moment.'
