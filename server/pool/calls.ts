import { inspect } from 'node:util'
import type { Worker } from 'node:worker_threads'

/** What failed, as the API answers it. */
export interface Failure {
  status: number
  /** seconds after which it is worth another try */
  retryAfterS?: number
  /** the thread died over it, or beside it */
  died?: boolean
}

/** A call to a thread failed; `status` is what the API answers. */
export class CallError extends Error {
  readonly status: number
  readonly retryAfterS: number | undefined
  readonly died: boolean

  constructor(message: string, failure: number | Failure) {
    super(message)
    const { status, retryAfterS, died = false } = typeof failure === 'number' ? { status: failure } : failure
    this.status = status
    this.retryAfterS = retryAfterS
    this.died = died
  }
}

type Message =
  | { kind: 'answer'; call: number; value: unknown }
  | ({ kind: 'failed'; call: number; message: string } & Partial<Failure>)
  | { kind: string; call?: undefined }

/** Calls to one worker thread with their answers. When the thread dies, whoever waits is told. */
export class Calls<Request> {
  private next = 1
  private readonly waiting = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()
  private dead: CallError | null = null
  /** when it was last heard of, by `performance.now` */
  heardMs = performance.now()
  /** whether it has answered anything yet */
  answered = false

  /** @param onDeath told once, with the reason */
  constructor(
    readonly worker: Worker,
    private readonly onNotice: (notice: { kind: string }) => void = () => {},
    private readonly onDeath: (reason: Error) => void = () => {},
  ) {
    worker.on('message', (message: Message) => this.take(message))
    worker.on('messageerror', (error) => this.fail(error))
    worker.on('error', (error) => this.fail(asError(error)))
    worker.on('exit', (code) => this.fail(new Error(`it ended with code ${code}`)))
  }

  ask<T>(request: Request, transfer: readonly ArrayBuffer[] = []): Promise<T> {
    return this.askWithId<T>(request, transfer).answer
  }

  askWithId<T>(request: Request, transfer: readonly ArrayBuffer[] = []): { call: number; answer: Promise<T> } {
    const call = this.next++
    const answer = new Promise<T>((resolve, reject) => {
      if (this.dead) return reject(this.dead)
      this.waiting.set(call, { resolve: resolve as (value: never) => void, reject })
      try {
        this.worker.postMessage({ call, request }, transfer)
      } catch (error) {
        // What cannot be sent is the asker's fault, not the thread's.
        this.waiting.delete(call)
        reject(error as Error)
      }
    })
    return { call, answer }
  }

  /** How many calls have no answer yet. */
  get pending(): number {
    return this.waiting.size
  }

  private take(message: Message): void {
    this.heardMs = performance.now()
    if (message.call === undefined) return this.onNotice(message)
    this.answered = true
    const { call } = message
    const waiter = this.waiting.get(call)
    this.waiting.delete(call)
    if (message.kind === 'answer') waiter?.resolve((message as { value: unknown }).value as never)
    else {
      const { message: words, status = 500, ...failure } = message as Extract<Message, { kind: 'failed' }>
      waiter?.reject(new CallError(words, { status, ...failure }))
    }
  }

  private fail(error: Error): void {
    if (this.dead) return
    this.dead = new CallError(STOPPED, { status: 503, retryAfterS: 2, died: true })
    for (const { reject } of this.waiting.values()) reject(this.dead)
    this.waiting.clear()
    this.onDeath(error)
  }
}

/** What a thread threw: an error of a library that is no plain one comes over with its own fields, and no words. */
function asError(thrown: unknown): Error {
  if (thrown instanceof Error && thrown.message !== '') return thrown
  const { code, message } = (thrown ?? {}) as { code?: unknown; message?: unknown }
  const said = typeof message === 'string' && message !== '' ? message : null
  const words = said ?? (typeof code === 'string' ? `it failed with ${code}` : `it threw ${inspect(thrown)}`)
  return Object.assign(new Error(words), typeof code === 'string' ? { code } : {})
}

const STOPPED =
  'The part of the server that works this out stopped, and is being started again. What was accepted and saved is safe. Try again in a moment.'
